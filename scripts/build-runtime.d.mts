export function ensureRuntime(): Promise<string>
