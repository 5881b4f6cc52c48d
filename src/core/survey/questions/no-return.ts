import type { Slices } from '../../base/slices'
import type { LinkedStory } from '../../story/linked'
import { NO_STATE } from '../states/state-set'
import { prospectsOfEndings } from '../explicit/prospects'
import type { RouteItem } from '../../story/types'
import type { Survey } from '../survey'
import { unlessTooMuch } from '../symbolic/diagrams/node-table'
import { endingsClosed, routeToFirst } from '../symbolic/set-facts'
import type { SymbolicSearch } from '../symbolic/symbolic-search'

/** A decision after which endings that could still be come to can be come to no more. */
export interface NoReturn {
  /** The choice, or the beat at which a word is typed. */
  readonly address: string
  /** Endings that it closes wherever they were still open when it was taken. */
  readonly always: readonly string[]
  /** Endings that it closes in some cases and not in others. */
  readonly sometimes: readonly string[]
  /** A shortest route up to and with the decision where it first closes something. */
  readonly route: readonly RouteItem[]
}

/** Backward reachability answers this many endings at once. */
const GROUP = 32

/** More states than this take too long to go through while somebody waits. */
const STATES_MAX = 300_000

interface Point {
  /** By their numbers: the endings that it closes in some case, and those that it leaves open in some. */
  readonly closes: ReadonlySet<number>
  readonly spares: ReadonlySet<number>
  readonly route: () => readonly RouteItem[]
}

/** The points of no return, in the order of the story's document; `too many` states to look at. */
export function* pointsOfNoReturn(survey: Survey): Slices<NoReturn[] | 'too many'> {
  const { story, search, inSets } = survey
  if (inSets !== undefined) return (yield* unlessTooMuch(pointsInSets(story, inSets))) ?? 'too many'
  return search.states > STATES_MAX ? 'too many' : told(story, pointsInStates(survey))
}

function* pointsInSets(story: LinkedStory, inSets: SymbolicSearch): Slices<NoReturn[]> {
  const found = [...(yield* endingsClosed(inSets))].map(([address, point]): [string, Point] => [
    address,
    { ...point, route: () => routeToFirst(inSets, point.occasions) },
  ])
  return told(story, new Map(found))
}

function pointsInStates({ story, search, routes }: Survey): ReadonlyMap<string, Point> {
  const found = new Map<string, { closes: Set<number>; spares: Set<number>; state: number; pick: number }>()
  for (let from = 0; from < story.endings.length; from += GROUP) {
    const group = story.endings.slice(from, from + GROUP)
    const outlook = prospectsOfEndings(search, from, group.length)
    for (let state = 0; state < search.expanded; state += 1) {
      const start = search.firstEdge(state)
      const end = search.endEdge(state)
      let decisions: readonly RouteItem[] | undefined
      for (let edge = start; edge < end; edge += 1) {
        const next = search.successor(edge)
        for (let at = 0; at < group.length; at += 1) {
          if (!outlook.must(state, at)) continue
          decisions ??= search.decisionsIn(state)
          const decision = decisions[edge - start]!
          // what the game changes is no decision
          if ('given' in decision) continue
          const address = 'choice' in decision ? decision.choice : decision.at
          let point = found.get(address)
          if (point === undefined) {
            point = { closes: new Set(), spares: new Set(), state: -1, pick: 0 }
            found.set(address, point)
          }
          if (next !== NO_STATE && outlook.may(next, at)) point.spares.add(from + at)
          else {
            point.closes.add(from + at)
            if (point.state === -1) {
              point.state = state
              point.pick = edge - start
            }
          }
        }
      }
    }
  }
  return new Map(
    [...found].map(([address, point]): [string, Point] => [address, { ...point, route: () => routes.of(point) }]),
  )
}

function told(story: LinkedStory, found: ReadonlyMap<string, Point>): NoReturn[] {
  const id = (ending: number) => story.endings[ending]!.id
  const addresses = story.inOrder.flatMap((beat) => [
    ...beat.choices.map((choice) => choice.address as string),
    ...(beat.ask === undefined ? [] : [beat.address as string]),
  ])
  return addresses.flatMap((address): NoReturn[] => {
    const point = found.get(address)
    if (point === undefined || point.closes.size === 0) return []
    const closed = [...point.closes].sort((a, b) => a - b)
    return [
      {
        address,
        always: closed.filter((ending) => !point.spares.has(ending)).map(id),
        sometimes: closed.filter((ending) => point.spares.has(ending)).map(id),
        route: point.route(),
      },
    ]
  })
}
