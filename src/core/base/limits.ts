/** The largest file that is read as a story, in bytes. */
export const STORY_FILE_BYTES = 32 * 1024 * 1024
/** A visit count stops here. */
export const VISITS_MAX = 99
/** How deep an expression may be nested before it is refused. */
export const EXPRESSION_DEPTH = 200
/** The longest expression that is read, in characters. */
export const EXPRESSION_LENGTH = 20_000
