import { decisionsIn, type RouteItem } from '../../story/types'

export type Level = 'error' | 'warning' | 'note'

/**
 * What a column of a finding's key names. `of` is an address of a beat or of a part of one (of what the story declares
 * too, where `id` follows it in the name); `part` is the JSON key inside of that.
 */
export type KeyColumn = 'address' | 'part' | 'item' | 'promise' | 'route' | 'quest' | 'stage' | 'from' | 'to' | 'entry'

interface KindTold {
  readonly level: Level
  /** What it is called on the page. */
  readonly name: string
  /** One sentence for who never saw one. */
  readonly meaning: string
  /** What the columns of its key name, in their order. */
  readonly keyedBy: readonly KeyColumn[]
}

/**
 * Every kind of finding. Order, names on the page, rules in exports, the place in a file and what a finding is sorted
 * by are read from here.
 */
export const FINDING_KINDS = {
  problem: {
    level: 'error',
    name: 'not understood',
    meaning: 'A part of the story can not be understood.',
    keyedBy: ['item', 'part'],
  },
  unreached: { level: 'warning', name: 'never reached', meaning: 'No route comes here.', keyedBy: ['item'] },
  'dead-end': { level: 'error', name: 'dead end', meaning: 'The player can get stuck.', keyedBy: ['address'] },
  'no-way-out': {
    level: 'error',
    name: 'no way out',
    meaning: 'A decision after which no ending can be reached.',
    keyedBy: ['address'],
  },
  'endless-run': {
    level: 'error',
    name: 'endless run',
    meaning: 'The story goes round by itself and never stops.',
    keyedBy: ['address'],
  },
  'promise-broken': {
    level: 'error',
    name: 'promise broken',
    meaning: 'A promise does not hold.',
    keyedBy: ['promise'],
  },
  'route-broken': {
    level: 'error',
    name: 'route broken',
    meaning: 'A kept route no longer plays as expected.',
    keyedBy: ['route'],
  },
  'undeclared-move': {
    level: 'warning',
    name: 'undeclared move',
    meaning: 'A quest makes a move that it does not declare.',
    keyedBy: ['quest', 'from', 'to'],
  },
  'stranded-stage': {
    level: 'warning',
    name: 'stranded stage',
    meaning: 'A quest can no longer come to an outcome.',
    keyedBy: ['quest', 'stage'],
  },
  'left-open': {
    level: 'note',
    name: 'left open',
    meaning: 'The story can end with a quest under way.',
    keyedBy: ['quest', 'stage'],
  },
  overrun: {
    level: 'warning',
    name: 'overrun',
    meaning: 'An effect would leave the range of its entry.',
    keyedBy: ['entry', 'address'],
  },
  'unset-text': {
    level: 'warning',
    name: 'shown unset',
    meaning: 'A text entry is shown while it is empty.',
    keyedBy: ['entry', 'address'],
  },
  'always-open': {
    level: 'note',
    name: 'always open',
    meaning: 'A condition is never false.',
    keyedBy: ['address', 'part'],
  },
  unread: { level: 'note', name: 'never read', meaning: 'Nothing reads an entry.', keyedBy: ['entry'] },
  unwritten: { level: 'note', name: 'never changed', meaning: 'Nothing changes an entry.', keyedBy: ['entry'] },
} as const satisfies Readonly<Record<string, KindTold>>

export type FindingKind = keyof typeof FINDING_KINDS

/** One thing that the survey found; the route shows it, where it happens on one. */
export interface Finding {
  readonly kind: FindingKind
  readonly level: Level
  readonly key: readonly string[]
  readonly message: string
  /** Left out where routes are told when they are asked for: then `decisions` says how long it is. */
  readonly route?: readonly RouteItem[]
  readonly decisions?: number
}

/** A route that is worked out only when somebody wants it; how many decisions it has is known before. */
export interface LazyRoute {
  readonly length: number
  readonly take: () => RouteItem[]
}

export function lazyRoute(route: readonly RouteItem[]): LazyRoute {
  return { length: decisionsIn(route), take: () => [...route] }
}

/** A finding whose route is not worked out yet. */
export interface Found extends Omit<Finding, 'route' | 'decisions'> {
  readonly lazy?: LazyRoute
}

export function finding(
  kind: FindingKind,
  key: readonly string[],
  message: string,
  lazy?: LazyRoute,
  level: Level = FINDING_KINDS[kind].level,
): Found {
  const found = { kind, level, key, message }
  return lazy === undefined ? found : { ...found, lazy }
}

/** A finding with its route, worked out when it is read; or only how long that is. */
export function withRoute(found: Found, routes: boolean): Finding {
  const { kind, level, key, message, lazy } = found
  if (lazy === undefined) return found
  if (!routes) return { kind, level, key, message, decisions: lazy.length }
  return {
    kind,
    level,
    key,
    message,
    get route() {
      return lazy.take()
    },
  }
}

/** The column of a key that names something of a kind; -1 where none does. */
export function columnOf(kind: FindingKind, ...columns: readonly KeyColumn[]): number {
  const { keyedBy } = FINDING_KINDS[kind] as KindTold
  return keyedBy.findIndex((column) => columns.includes(column))
}

/** Whether two findings whose routes are told when they are asked for say the same. */
export function sameFinding(a: Finding, b: Finding): boolean {
  if (a === b) return true
  return (
    a.kind === b.kind &&
    a.decisions === b.decisions &&
    a.key.length === b.key.length &&
    a.key.every((part, at) => part === b.key[at]) &&
    a.message === b.message &&
    a.level === b.level
  )
}

/** By what a finding is told from all others. */
export function nameOfFinding({ kind, key }: { readonly kind: string; readonly key: readonly string[] }): string {
  return JSON.stringify([kind, ...key])
}
