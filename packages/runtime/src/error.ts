/** What was wrong, where, and what was expected there. */
export class RuntimeError extends Error {
  constructor(
    /** `bundle`, `save`, `choice`, `word`, `given`, `language` or `story`. */
    readonly of: string,
    message: string,
    readonly where?: string,
    readonly expected?: string,
  ) {
    super(message)
    this.name = 'RuntimeError'
  }
}
