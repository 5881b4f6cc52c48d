import type { StoreCalls } from './calls'

/** A request to the store's thread, and what it answers; every request is answered. */
export interface Call {
  readonly id: number
  readonly name: keyof StoreCalls
  readonly args: readonly unknown[]
}

export type Answer =
  | { readonly kind: 'answer'; readonly id: number; readonly value: unknown }
  | { readonly kind: 'failure'; readonly id: number; readonly failure: Failure }
  /** A change of a story, for whoever listens to it. */
  | { readonly kind: 'told'; readonly story: string; readonly told: string }
  | { readonly kind: 'ready' }
  /** The store can't be opened: nothing will be answered. */
  | { readonly kind: 'closed'; readonly message: string; readonly isDamaged: boolean }

/** Why something could not be done. `full`: there is no room to write; `away`: asking again may help. */
export interface Failure {
  readonly kind: 'full' | 'away' | 'fault'
  readonly message: string
}

export class StoreFailure extends Error {
  constructor(readonly failure: Failure) {
    super(failure.message)
  }
}

export interface ThreadData {
  readonly data: string
  readonly migrations: string
  readonly samples: string
  /** The bundle of the thread that reads files. */
  readonly reader: string
  /** Below this nothing is written, in bytes. */
  readonly reserve: number
}
