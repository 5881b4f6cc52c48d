/** Where something failed: what the error says may hold a story's words. */
export function placeOf(error: unknown): string {
  if (!(error instanceof Error)) return typeof error
  return `${error.name} ${
    error.stack
      ?.split('\n')
      .find((line) => /^\s+at /.test(line))
      ?.trim() ?? ''
  }`
}
