import type { IncomingText } from './incoming'

/** Texts as they come back; the language, where the file says it. */
export interface IncomingFile {
  readonly language?: string
  readonly texts: readonly IncomingText[]
}

/** Whose texts go out, in which language, and when. */
export interface TextsOf {
  readonly title: string
  readonly language: string
  /** The story's own language. */
  readonly own: string
  readonly made: Date
}
