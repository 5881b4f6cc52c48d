import type { ScriptPart } from '../story/reshape/script-paste'

/** A text that becomes part of a manuscript, as it is understood. */
export interface ReadManuscript {
  /** What the text calls itself. */
  readonly title?: string
  readonly parts: readonly ScriptPart[]
}
