import type { Demands } from '../summaries/demands'
import type { FollowedTurns } from '../summaries/turn-plan'
import type { ChunkByBeat } from './slot-chunks'

/** What is looked at besides the conditions of the story itself. */
export interface Observed {
  /** Indices of the entries whose range effects may leave. */
  readonly overruns: ReadonlySet<number>
  readonly turns: FollowedTurns
  readonly unsetTexts: boolean
  readonly quests: boolean
  readonly promises: boolean
  /** Slots kept everywhere, for a question about them. */
  readonly keep: readonly number[]
  /** By chunk: slots kept where the story rests at a beat, for the same. */
  readonly keepAt?: readonly ChunkByBeat[]
  /** What is told apart besides, for the same. */
  readonly demands?: Demands
  /** A playthrough may begin anywhere, with anything. */
  readonly anywhere?: true
}
