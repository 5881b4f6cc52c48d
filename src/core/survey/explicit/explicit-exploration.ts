import type { Evidence, Exploration } from '../findings/exploration'
import { lostEndings } from './lost-endings'
import { judgePromises } from './promises'
import { endingProspects, type EndingProspects } from './prospects'
import { questEnds } from './quest-ends'
import type { Routes } from './routes'
import type { Search } from './search'

export function evidenceOf(search: Search, routes: Routes): Evidence {
  const { events, programs } = search
  return {
    events,
    programs,
    decisionsOf: (witness) => search.decisionsOf(witness),
    routeOf: (witness) => routes.of(witness),
  }
}

/** What is known of the states that were looked at one by one so far; of no use once the search has gone on. */
export function explicitExploration(search: Search, routes: Routes): Exploration {
  let known: EndingProspects | undefined
  const endings = () => (known ??= endingProspects(search))
  return {
    evidence: evidenceOf(search, routes),
    promises: () => judgePromises(search, routes),
    lostEndings: () => lostEndings(search, routes, endings()),
    questEnds: () => questEnds(search, routes, endings()),
  }
}
