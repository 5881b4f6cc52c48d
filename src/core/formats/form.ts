import type { Result } from '../base/result'
import type { IncomingFile, TextsOf } from '../texts/files'
import type { LinkedStory } from '../story/linked'
import type { TextRow } from '../texts/rows'
import type { ReadingCopy } from '../reading/copy'
import type { VoiceRow, VoicesOf } from '../voices/takes'
import type { ReadManuscript } from './manuscript'
import type { Payload } from './payload'

/** Texts in a language out to whoever works on them, and back. */
export interface TextsPort {
  write(of: TextsOf, rows: readonly TextRow[]): Payload | Promise<Payload>
  readonly read: Reader<IncomingFile>
}

/** A story as a state chart, and what of it that can't express, in words. */
export interface StateChart {
  readonly text: string
  readonly left: readonly string[]
}

type Reader<Read> = (bytes: Uint8Array) => Result<Read> | Promise<Result<Read>>

/** One use of a form: for whom it is, and what does it, loaded when it is asked for. */
export interface Way<Port> {
  readonly says: string
  load(): Promise<Port>
}

/** A form in which something leaves or comes; what it can be used for has a way. */
export interface Form {
  readonly id: string
  readonly name: string
  /** Of files: the first is that of those written here. */
  readonly endings: readonly [string, ...string[]]
  /** Media type. */
  readonly type: string
  /** Texts in a language, out and in. */
  readonly texts?: Way<TextsPort>
  /** A copy to be read, out. */
  readonly copy?: Way<(copy: ReadingCopy) => Payload | Promise<Payload>>
  /** A script for those who record voices, out. */
  readonly voices?: Way<(of: VoicesOf, rows: readonly VoiceRow[]) => Payload | Promise<Payload>>
  /** A state chart, out. */
  readonly chart?: Way<(story: LinkedStory) => StateChart>
  /** A copy that was edited, in, by key. */
  readonly proofs?: Way<Reader<IncomingFile>>
  /** A text that becomes part of the manuscript, in. */
  readonly manuscript?: Way<Reader<ReadManuscript>>
}

/** What a form can be used for. */
export type Use = 'texts' | 'copy' | 'voices' | 'chart' | 'proofs' | 'manuscript'
