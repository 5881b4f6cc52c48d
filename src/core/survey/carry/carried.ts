import type { Level } from '../findings/finding'
import type { RouteItem } from '../../story/types'

/** What becomes of saves in another version of the story. `keyedBy` names the columns of the key. */
export const CARRIED_KINDS = {
  'carried-dead-end': {
    level: 'error',
    name: 'stuck at once',
    meaning: 'Loaded, the story is at a dead end.',
    keyedBy: ['beat'],
  },
  'carried-no-way-out': {
    level: 'error',
    name: 'no way out any more',
    meaning: 'Loaded, no ending can be reached, and one could before.',
    keyedBy: ['beat'],
  },
  'carried-endless': {
    level: 'error',
    name: 'runs for ever',
    meaning: 'Loaded, the story goes round by itself and never stops.',
    keyedBy: ['beat'],
  },
  'carried-stranded': {
    level: 'warning',
    name: 'quest stranded',
    meaning: 'Loaded, a quest can no longer come to an outcome, and could before.',
    keyedBy: ['quest', 'stage'],
  },
  'carried-stage-lost': {
    level: 'warning',
    name: 'stage lost',
    meaning: 'A quest is at a stage that is not there any more.',
    keyedBy: ['quest', 'stage'],
  },
  'carried-moved': {
    level: 'note',
    name: 'moved elsewhere',
    meaning: 'The beat is gone: the player finds themselves at the place, or at the start.',
    keyedBy: ['beat'],
  },
} as const satisfies Readonly<
  Record<string, { level: Level; name: string; meaning: string; keyedBy: readonly string[] }>
>

export type CarriedKind = keyof typeof CARRIED_KINDS

/** What becomes of a save that the route leads to, in the old version. */
export interface CarriedFinding {
  readonly kind: CarriedKind
  readonly level: Level
  readonly key: readonly string[]
  readonly message: string
  readonly route: readonly RouteItem[]
}

export interface Carried {
  /** Whether every save was looked at, and all that can come of each. */
  readonly complete: boolean
  readonly findings: readonly CarriedFinding[]
  readonly figures: { readonly saves: number; readonly states: number }
}

/** What becomes of the saves of one released version, worked out elsewhere. */
export interface FarCarried {
  readonly version: string
  readonly revision: number
  readonly carried: Carried
}
