import type { LinkedStory } from '../../story/linked'
import type { RouteItem } from '../../story/types'
import type { EventLog, Witness } from '../interpreter/events'
import type { Programs } from '../interpreter/programs'
import type { LazyRoute } from './finding'

/** What a search saw to happen, each with a witness. */
export interface Evidence {
  readonly events: EventLog
  readonly programs: Programs
  /** The fewest decisions after which it was seen, and a route of that many. */
  decisionsOf(witness: Witness): number
  routeOf(witness: Witness): RouteItem[]
}

export function routeTo(evidence: Evidence, witness: Witness): LazyRoute {
  return { length: evidence.decisionsOf(witness), take: () => evidence.routeOf(witness) }
}

export interface PromiseVerdict {
  readonly verdict: 'kept' | 'broken' | 'undecided'
  readonly route?: readonly RouteItem[]
}

/** Whether something is so in every case, in some, or in none. */
export type Share = 'all' | 'some' | 'none'

/** A decision from where some ending can be reached to where none can, with the route that it ends. */
export interface LostEnding {
  /** The choice; the beat where a word was typed or what is given was changed; `start`. */
  readonly key: string
  /** Undefined where the story begins so. */
  readonly by: RouteItem | undefined
  readonly route: LazyRoute
}

/** What a lost ending is keyed by: of a word the beat, of a change the beat where the story rested. */
export function keyOfLoss(item: RouteItem, restedAt: string): string {
  return 'choice' in item ? item.choice : restedAt
}

/** A quest under way at a stage where it stays: its outcome is out of reach, or the story can end with it. */
export interface QuestEnd {
  readonly kind: 'stranded-stage' | 'left-open'
  readonly quest: string
  readonly stage: string
  readonly route: LazyRoute
}

/** What is known once a story's states were explored, one by one or in sets. Findings are read from it alone. */
export interface Exploration {
  readonly evidence: Evidence
  /** Verdicts of promises by id. */
  promises(): Readonly<Record<string, PromiseVerdict>>
  /** `nowhere`: no ending can be reached from the start; undefined where that is not known. */
  lostEndings(): readonly LostEnding[] | 'nowhere'
  questEnds(): readonly QuestEnd[]
}

/** An exploration with what else findings are read from. */
export interface Explored extends Omit<Exploration, 'promises'> {
  readonly story: LinkedStory
  /** Whether every state was explored: only then it is known what is on no route. */
  readonly complete: boolean
  /** Explorations that follow one entry each, for its overruns alone. */
  readonly aside: readonly Evidence[]
  /** Addresses of groups in turn that are still being followed by others. */
  readonly pendingTurns: readonly string[]
  readonly promises: Readonly<Record<string, PromiseVerdict>>
}
