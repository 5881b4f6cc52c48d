declare module 'xliff' {
  export function xliff2js(text: string): Promise<{ resources: Record<string, object> }>
}
