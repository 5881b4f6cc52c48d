import type { JobSettings } from '../jobs/settings'
import type { StoreCalls } from './calls'

/** From now on the changes of a story are told, or no longer. */
export interface Watch {
  readonly watch: string
  readonly isOn: boolean
}

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
  /** Something else of a story is new for its windows. */
  | { readonly kind: 'news'; readonly story: string; readonly event: string; readonly data: string }
  /** What a member may do has changed, or `*` where that may be so of all. */
  | { readonly kind: 'access'; readonly member: string }
  /** So many beats of an import are in. */
  | { readonly kind: 'progress'; readonly import: string; readonly done: number; readonly of: number }
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

/** By what it holds: a server of several bundles has the class several times. */
export function failureIn(error: unknown): Failure | undefined {
  return error instanceof Error && 'failure' in error ? (error as StoreFailure).failure : undefined
}

export interface ThreadData {
  readonly data: string
  /** The address of a server's database, which is used in place of one in the folder. */
  readonly server?: string | undefined
  readonly migrations: string
  readonly samples: string
  /** The bundle of the thread that reads files. */
  readonly reader: string
  /** How heavy work is done on the stories of a folder; it is not done here where nothing is said. */
  readonly work?: (JobSettings & { readonly heavy: string }) | undefined
  /** Below this nothing is written, in bytes. */
  readonly reserve: number
}
