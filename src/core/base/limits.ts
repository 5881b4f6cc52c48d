/** The largest file that is read as a story, in bytes. */
export const STORY_FILE_BYTES = 64 * 1024 * 1024
/** A visit count stops here. */
export const VISITS_MAX = 99
/** How deep an expression may be nested before it is refused. */
export const EXPRESSION_DEPTH = 200
/** The longest expression that is read, in characters. */
export const EXPRESSION_LENGTH = 20_000
/** The most relations, sums or products in one row. Rows of || and && have no limit but the length. */
export const EXPRESSION_ROW = 400
/** The longest text with forms or arguments in it, in characters; plain words have no limit. */
export const TEXT_LENGTH = 100_000
/** How deep the forms of a text may be nested. */
export const TEXT_DEPTH = 60
/** How deep a document may be nested; what the format itself has is a fraction of it. */
export const DOCUMENT_DEPTH = 200

/** How deep a bundle may be nested: what an expression may be, in lists of lists. */
export const BUNDLE_DEPTH = 1000

/** The version of bundles that this program writes and reads. */
export const BUNDLE_VERSION = 1
/** The version of saves that this program writes and reads. */
export const SAVE_VERSION = 1
