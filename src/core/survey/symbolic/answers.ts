import type { LinkedPromise } from '../../story/linked'
import type { RouteItem } from '../../story/types'
import { has } from '../analysis/bits'
import { keyOfLoss, type LostEnding, type PromiseVerdict, type QuestEnd } from '../findings/exploration'
import type { LazyRoute } from '../findings/finding'
import { EMPTY } from './diagrams/node-table'
import type { GuardedCommand } from './commands'
import type { Distances, Near } from './distances'
import type { Sets } from './state-sets'
import { SureEnds } from './sure-ends'
import type { SymbolicSearch } from './symbolic-search'

/** What sets of states say about what can still come. */
export interface Answers {
  readonly lostEndings: readonly LostEnding[] | 'nowhere'
  readonly questEnds: readonly QuestEnd[]
  readonly promises: Readonly<Record<string, PromiseVerdict>>
}

/** States at one location that are as near as one another. */
interface Spot {
  readonly near: Near
  readonly location: number
}

/** Answers what the search over single states answers with backward sweeps; stops to let others work. */
export function* answers(search: SymbolicSearch): Generator<void, Answers> {
  const goals = search.ended()
  const canEnd = yield* search.comingTo(goals)
  const lost = yield* lostEndings(search, canEnd)
  const questEnds = yield* endsOfQuests(search, goals, canEnd)
  const promises: Record<string, PromiseVerdict> = {}
  for (const promise of search.search.story.promises) promises[promise.id] = yield* judge(search, promise)
  return { lostEndings: lost, questEnds, promises }
}

function* lostEndings(search: SymbolicSearch, canEnd: Sets): Generator<void, LostEnding[] | 'nowhere'> {
  const { diagrams, beginnings, distances } = search
  const canEndFrom = ({ location, set }: (typeof beginnings)[number]) =>
    diagrams.both(set, canEnd.get(location) ?? EMPTY)
  if (!beginnings.some((one) => canEndFrom(one) !== EMPTY)) return 'nowhere'
  const found = new Map<string, LostEnding>()
  for (const one of beginnings) {
    const lost = diagrams.minus(one.set, canEnd.get(one.location) ?? EMPTY)
    if (lost === EMPTY || found.has('start')) continue
    const take = () => search.tellBegun(search.givenFor(one.location, search.one(one.location, lost)))
    found.set('start', { key: 'start', by: undefined, route: { length: 0, take: () => diagrams.withRoom(take) } })
  }
  if ([...search.reached].every(([location, set]) => canEnd.get(location) === set)) return [...found.values()]
  const losing: (Spot & { readonly command: GuardedCommand })[] = []
  for (const [location, set] of search.reached) {
    const before = diagrams.both(set, canEnd.get(location) ?? EMPTY)
    for (const command of search.joinedAt(location)) {
      yield
      const lost = diagrams.minus(search.after(command, before), canEnd.get(command.action.to) ?? EMPTY)
      const near = distances.nearest(location, search.comeFrom(command, lost, before))
      if (near !== undefined) losing.push({ near, location, command })
    }
  }
  for (const { near, location, command } of losing.sort((a, b) => a.near.step - b.near.step)) {
    const decision = search.decision(command)
    const key = keyOfLoss(decision, search.story.beats[location % search.story.beats.length]!.address)
    if (!found.has(key))
      found.set(key, { key, by: decision, route: search.lazyRouteInto(distances, near, location, command) })
  }
  return [...found.values()]
}

function* endsOfQuests(search: SymbolicSearch, goals: Sets, canEnd: Sets): Generator<void, QuestEnd[]> {
  const { diagrams, distances, reached } = search
  const { story, slots, layout, horizon } = search.search
  const found: QuestEnd[] = []
  // how far the end is, where that is asked
  let toEnds: Distances | undefined
  const sureEnds = new SureEnds(search)
  for (const quest of story.quests) {
    if (!quest.outcomes.some((outcome) => outcome !== undefined)) continue
    const slot = slots.ofQuest[quest.index]!
    const holds = memo(
      (location) =>
        has(horizon.observed.row(location % story.beats.length), quest.index) &&
        layout.fieldsOf(location).some((field) => field.slot === slot),
    )
    const outcomes = quest.outcomes.flatMap((outcome, stage) => (outcome === undefined ? [] : [stage]))
    const sure = sureEnds.of(slot, outcomes, holds)
    // what is not sure takes sets
    let canClose: Sets | undefined
    for (let stage = 1; stage < quest.stages.length; stage += 1) {
      if (quest.outcomes[stage] !== undefined) continue
      let stranded: Spot | undefined
      let open: { readonly location: number; readonly distance: number; readonly set: number } | undefined
      const mayEndAt = (location: number) =>
        search.isEnding(location) || !has(horizon.ahead.row(location % story.beats.length), quest.index)
      for (const [location, set] of reached) {
        if (!holds(location)) continue
        const isEnding = search.isEnding(location)
        const mayStrand = !isEnding && !sure.get(location)!.has(stage)
        if (!mayStrand && !mayEndAt(location)) continue
        yield
        const under = search.having(location, set, slot, stage)
        if (under === EMPTY) continue
        if (mayStrand) {
          canClose ??= yield* search.comingTo(search.havingAny(slot, outcomes, holds), holds)
          const caught = diagrams.minus(under, canClose.get(location) ?? EMPTY)
          stranded = nearer(stranded, location, distances.nearest(location, caught))
        }
        const ending = mayEndAt(location) ? diagrams.both(under, canEnd.get(location) ?? EMPTY) : EMPTY
        if (ending === EMPTY) continue
        if (!isEnding) toEnds ??= yield* search.distancesTo(goals)
        const through = isEnding ? distances.nearest(location, ending) : distances.through(toEnds!, location, ending)
        if (through !== undefined && (open === undefined || through.distance < open.distance))
          open = { location, ...through }
      }
      const name = { quest: quest.id, stage: quest.stages[stage]! }
      if (stranded !== undefined) {
        const { near, location } = stranded
        found.push({ kind: 'stranded-stage', ...name, route: search.lazyRouteInto(distances, near, location) })
      }
      if (open !== undefined)
        found.push({ kind: 'left-open', ...name, route: through(search, open.location, open, toEnds) })
    }
  }
  return found
}

/** The nearer of what was found before and the nearest states of another location. */
function nearer(spot: Spot | undefined, location: number, near: Near | undefined): Spot | undefined {
  return near !== undefined && (spot === undefined || near.step < spot.near.step) ? { near, location } : spot
}

/** A way through one of some states on to an end, which takes so many decisions in all. */
function through(
  search: SymbolicSearch,
  location: number,
  { distance, set }: Pick<Near, 'distance' | 'set'>,
  toEnds: Distances | undefined,
): LazyRoute {
  const { diagrams, distances } = search
  const along = (): RouteItem[] => {
    const one = search.one(location, set)
    const on = search.isEnding(location) ? [] : search.legsOn(toEnds!, location, one)
    return search.routeInto(distances, distances.nearest(location, one)!, location, on)
  }
  return { length: distance, take: () => diagrams.withRoom(along) }
}

function* judge(search: SymbolicSearch, linked: LinkedPromise): Generator<void, PromiseVerdict> {
  const { diagrams, distances } = search
  const { kind } = linked.promise
  const brokenAt = ({ near, location }: Spot, by = distances): PromiseVerdict => ({
    verdict: 'broken',
    route: search.routeInto(by, near, location),
  })
  switch (kind) {
    case 'never':
    case 'always':
    case 'possible': {
      const metIn = (location: number, set: number) => {
        const having = search.conditions.where(location, set, linked.holds!)
        return kind === 'always' ? diagrams.minus(set, having) : having
      }
      const spot = yield* nearest(search, metIn)
      if (spot === undefined) return { verdict: kind === 'possible' ? 'broken' : 'kept' }
      const { route } = brokenAt(spot)
      return { verdict: kind === 'possible' ? 'kept' : 'broken', route: route! }
    }
    case 'stillPossible': {
      const goals: Sets = new Map()
      for (const [location, set] of search.reached) {
        yield
        const met = search.conditions.where(location, set, linked.holds!)
        if (met !== EMPTY) goals.set(location, met)
      }
      const can = yield* search.comingTo(goals)
      const lostIn = (location: number, set: number) => {
        const lost = diagrams.minus(set, can.get(location) ?? EMPTY)
        return linked.while === undefined ? lost : search.conditions.where(location, lost, linked.while)
      }
      const spot = yield* nearest(search, lostIn)
      return spot === undefined ? { verdict: 'kept' } : brokenAt(spot)
    }
    case 'inOrder': {
      // ways on which the first has not held yet
      const before: Sets = new Map()
      for (const [location, set] of search.reached) {
        yield
        const left = diagrams.minus(set, search.conditions.where(location, set, linked.first!))
        if (left !== EMPTY) before.set(location, left)
      }
      const ways = yield* search.distancesWithin(before)
      const spot = yield* nearest(
        search,
        (location, set) => search.conditions.where(location, set, linked.then!),
        ways,
        before,
      )
      return spot === undefined ? { verdict: 'kept' } : brokenAt(spot, ways)
    }
  }
}

/** The nearest of the states that are picked out of those of a location. */
function* nearest(
  { distances, reached }: SymbolicSearch,
  pick: (location: number, set: number) => number,
  by = distances,
  among = reached,
): Generator<void, Spot | undefined> {
  let spot: Spot | undefined
  for (const [location, set] of among) {
    yield
    spot = nearer(spot, location, by.nearest(location, pick(location, set)))
  }
  return spot
}

function memo(test: (location: number) => boolean): (location: number) => boolean {
  const known: (boolean | undefined)[] = []
  return (location) => (known[location] ??= test(location))
}
