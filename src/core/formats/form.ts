import type { Result } from '../base/result'
import type { IncomingFile, TextsOf } from '../texts/files'
import type { LinkedStory } from '../story/linked'
import type { TextRow } from '../texts/rows'
import type { ReadingCopy } from '../reading/copy'
import type { VoiceRow, VoicesOf } from '../voices/takes'
import type { ReadManuscript } from './manuscript'
import type { Payload } from './payload'

/** A file, or what of it its form can't hold, in a sentence. */
export type Written = Result<Payload>

/** Texts in a language out to whoever works on them, and back. */
export interface TextsPort {
  write(of: TextsOf, rows: readonly TextRow[]): Written | Promise<Written>
  readonly read: Reader<IncomingFile>
}

/** A story as a state chart, and what of it that can't express, in words. */
export interface StateChart {
  readonly text: string
  readonly left: readonly string[]
}

type Reader<Read> = (bytes: Uint8Array) => Result<Read> | Promise<Result<Read>>

/** What does each of the things that a form can be used for. */
export interface Ports {
  /** Texts in a language, out and in. */
  readonly texts: TextsPort
  /** A copy to be read, out. */
  readonly copy: (copy: ReadingCopy) => Payload | Promise<Payload>
  /** A script for those who record voices, out. */
  readonly voices: (of: VoicesOf, rows: readonly VoiceRow[]) => Written | Promise<Written>
  /** A state chart, out. */
  readonly chart: (story: LinkedStory) => StateChart
  /** A copy that was edited, in, by key. */
  readonly proofs: Reader<IncomingFile>
  /** A text that becomes part of the manuscript, in. */
  readonly manuscript: Reader<ReadManuscript>
}

/** What a form can be used for. */
export type Use = keyof Ports

/** One use of a form: for whom it is. */
export interface Way {
  readonly says: string
}

/** A form in which something leaves or comes; what it can be used for has a way. */
export interface Form extends Readonly<Partial<Record<Use, Way>>> {
  readonly id: string
  readonly name: string
  /** Of files: the first is that of those written here. */
  readonly endings: readonly [string, ...string[]]
  /** Media type. */
  readonly type: string
}
