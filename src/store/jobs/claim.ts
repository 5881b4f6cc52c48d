import type { JobAsk } from '../../core/contract/jobs'

/** What is asked for as it is kept: with the versions that are released at that moment, one for each share. */
export type KeptAsk =
  | Exclude<JobAsk, { kind: 'carry' }>
  | { readonly kind: 'carry'; readonly versions: readonly { readonly name: string; readonly revision: number }[] }

/** A share that is being worked on. */
export interface Claim {
  readonly job: string
  readonly share: number
  readonly attempt: number
  readonly ask: KeptAsk | { readonly kind: 'night' }
  readonly story: string
  readonly revision: number
  readonly total: number
}
