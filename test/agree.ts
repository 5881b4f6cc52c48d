import { replay } from '../src/core/play/replay'
import type { LinkedStory } from '../src/core/story/linked'
import { decisionsIn, type RouteItem } from '../src/core/story/types'
import { Survey } from '../src/core/survey/survey'
import type { SurveyOptions } from '../src/core/survey/searches'
import { itemsOf, type PlainResult } from './plain/checker'

/** With the reductions and without, each beat interpreted, or run as code that is written for it: while nothing was seen to happen yet, or when most was. */
const WAYS: readonly SurveyOptions[] = [
  { liveness: true, hot: Infinity },
  { liveness: true, hot: 0 },
  { liveness: false, hot: 3 },
]
/** Stories with more concrete states than this are left to others: the plain checker is slow, and changes of what is given are many. */
export function statesFor(story: LinkedStory): number {
  return story.entries.some(({ given }) => given === 'rest') ? 120 : 400
}

/** States looked at in sets alone. */
export const IN_SETS: SurveyOptions = { explicit: 0 }

/**
 * The same, with distances as edge-valued diagrams, as layers, and as layers where those come to be too much; giving way to others hardly
 * ever, or all the time; and counters looked at for more than one value at once, or for each.
 */
export function inSetsBy(number: number): SurveyOptions {
  return {
    ...IN_SETS,
    limits: {
      edges: [undefined, 0, 300][number % 3],
      turn: [undefined, 1, 10][Math.floor(number / 3) % 3],
      many: number % 4 === 0 ? undefined : 2,
    },
  }
}

/** Holds the fast survey in all ways against the plain one; gives how many beats had code. */
export function agree(
  seed: number,
  story: LinkedStory,
  plain: PlainResult,
  kinds: Set<string>,
  ways: readonly SurveyOptions[] = WAYS,
): number {
  let coded = 0
  const replayed = new Set<string>()
  const replays = (route: readonly RouteItem[]) => {
    const name = JSON.stringify(route)
    if (replayed.has(name)) return undefined
    replayed.add(name)
    return replay(story, route).refused
  }
  for (const how of ways) {
    const survey = new Survey(story, { routes: 'all', ...how })
    while (!survey.advance());
    const result = survey.result()
    if (how.hot === 0) coded += survey.search.codedBeats
    const items = itemsOf(result)
    const difference = {
      seed,
      how,
      missing: [...plain.items].filter((item) => !items.has(item)),
      extra: [...items].filter((item) => !plain.items.has(item)),
    }
    expect(difference).toEqual({ seed, how, missing: [], extra: [] })
    for (const found of result.findings) kinds.add(found.kind)
    // each is looked at, and told only where something is wrong: expecting costs more than looking
    const wrong = Object.values(result.reached)
      .flatMap((part) => Object.values(part))
      .map(({ route, decisions }) => ({ refused: replays(route!), length: decisionsIn(route!), decisions }))
      .filter(({ refused, length, decisions }) => refused !== undefined || length !== decisions)
    const refused = result.findings.flatMap(({ kind, route }) => {
      const why = route === undefined || kind === 'route-broken' ? undefined : replays(route)
      return why === undefined ? [] : [{ kind, why }]
    })
    expect({ seed, wrong, refused }).toEqual({ seed, wrong: [], refused: [] })
  }
  return coded
}
