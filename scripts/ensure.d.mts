export const root: string
export function stampOf(paths: readonly string[]): string
export function isStampOf(file: string, paths: readonly string[]): boolean
