export function routeOf(url?: string): string
export function metricsAt(setting?: string): { readonly host: string; readonly port: number } | undefined
