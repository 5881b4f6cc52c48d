import type { Decision } from '../story/types'
import type { Programs } from './interpreter/programs'
import type { Search } from './explicit/search'
import type { Marks, Witness } from './interpreter/events'
import type { Way } from './result'
import type { Routes } from './explicit/routes'

/** What a search has seen to happen, whether it looks at states one by one or at sets of them. */
export interface Seen {
  readonly marks: Marks
  readonly programs: Programs
  /** The fewest decisions after which it was seen, and a route of that many. */
  decisionsOf(witness: Witness): number
  routeOf(witness: Witness): Decision[]
}

export function seenBy(search: Search, routes: Routes): Seen {
  const { marks, programs } = search
  return {
    marks,
    programs,
    decisionsOf: (witness) => search.decisionsOf(witness),
    routeOf: (witness) => routes.of(witness),
  }
}

export function wayOf(seen: Seen, witness: Witness): Way {
  return { length: seen.decisionsOf(witness), take: () => seen.routeOf(witness) }
}
