export function ensureServer(): Promise<string>
