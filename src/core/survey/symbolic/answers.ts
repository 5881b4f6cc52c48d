import type { LinkedPromise } from '../../story/linked'
import type { RouteItem } from '../../story/types'
import { has } from '../analysis/bits'
import { keyOfLoss, type LostEnding, type PromiseVerdict, type QuestEnd } from '../findings/exploration'
import type { LazyRoute } from '../findings/finding'
import { EMPTY } from './node-table'
import type { GuardedCommand } from './commands'
import type { Level, Sets } from './state-sets'
import type { SymbolicSearch } from './symbolic-search'

/** What sets of states say about what can still come. */
export interface Answers {
  readonly lostEndings: readonly LostEnding[] | 'nowhere'
  readonly questEnds: readonly QuestEnd[]
  readonly promises: Readonly<Record<string, PromiseVerdict>>
}

/** States of one level at one location. */
interface Spot {
  readonly depth: number
  readonly location: number
  readonly set: number
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
  const { diagrams, levels } = search
  const { beginnings } = search
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
  // which decisions lose an ending at all; where first is looked for only of these
  const losing = new Map<number, GuardedCommand[]>()
  for (const [location, set] of search.reached) {
    const before = diagrams.both(set, canEnd.get(location) ?? EMPTY)
    const those: GuardedCommand[] = []
    for (const command of search.commandsOf(location)) {
      yield
      const lost = diagrams.minus(search.after(command, before), canEnd.get(command.action.to) ?? EMPTY)
      if (lost !== EMPTY) those.push(command)
    }
    if (those.length > 0) losing.set(location, those)
  }
  for (const { depth, location, set } of spots(levels, losing)) {
    const before = diagrams.both(set, canEnd.get(location) ?? EMPTY)
    if (before === EMPTY) continue
    for (const command of losing.get(location)!) {
      yield
      const lost = diagrams.minus(search.after(command, before), canEnd.get(command.action.to) ?? EMPTY)
      if (lost === EMPTY) continue
      const decision = search.decision(command)
      const key = keyOfLoss(decision, search.search.story.beats[location % search.search.story.beats.length]!.address)
      if (!found.has(key))
        found.set(key, {
          key,
          by: decision,
          route: search.lazyRouteInto(levels, depth, location, search.comeFrom(command, lost, before), command),
        })
    }
  }
  return [...found.values()]
}

function* endsOfQuests(search: SymbolicSearch, goals: Sets, canEnd: Sets): Generator<void, QuestEnd[]> {
  const { diagrams, levels, reached } = search
  const { story, slots, layout, horizon } = search.search
  const found: QuestEnd[] = []
  // how far the end is, where that is asked
  let toEnds: readonly Level[] = [{ sets: goals, distance: 0 }]
  let isFar = false
  const far = (depth: number, left: number) => levels[depth]!.distance + toEnds[left]!.distance
  for (const quest of story.quests) {
    if (!quest.outcomes.some((outcome) => outcome !== undefined)) continue
    const slot = slots.ofQuest[quest.index]!
    const holds = memo(
      (location) =>
        has(horizon.observed.row(location % story.beats.length), quest.index) &&
        layout.fieldsOf(location).some((field) => field.slot === slot),
    )
    const done: Sets = new Map()
    for (const [location, set] of reached) {
      if (!holds(location)) continue
      quest.outcomes.forEach((outcome, stage) => {
        if (outcome !== undefined) search.add(done, location, search.having(location, set, slot, stage))
      })
    }
    for (const [location, set] of done) if (set === EMPTY) done.delete(location)
    const canClose = yield* search.comingTo(done, holds)
    for (let stage = 1; stage < quest.stages.length; stage += 1) {
      if (quest.outcomes[stage] !== undefined) continue
      let stranded: LazyRoute | undefined
      let open: { readonly spot: Spot; readonly left: number } | undefined
      const strandedIn = (location: number, under: number) =>
        search.isEnding(location) ? EMPTY : diagrams.minus(under, canClose.get(location) ?? EMPTY)
      const mayEndAt = (location: number) =>
        search.isEnding(location) || !has(horizon.ahead.row(location % story.beats.length), quest.index)
      // where it is so at all; only there it is looked for where first
      const some = new Set<number>()
      for (const [location, set] of reached) {
        if (!holds(location)) continue
        yield
        const under = search.having(location, set, slot, stage)
        const isOpen = mayEndAt(location) && diagrams.both(under, canEnd.get(location) ?? EMPTY) !== EMPTY
        if (isOpen && !search.isEnding(location) && !isFar) {
          toEnds = yield* search.layersTo(goals)
          isFar = true
        }
        if (isOpen || strandedIn(location, under) !== EMPTY) some.add(location)
      }
      for (const { depth, location, set } of spots(levels, some)) {
        yield
        const under = search.having(location, set, slot, stage)
        if (under === EMPTY) continue
        const caught = stranded === undefined ? strandedIn(location, under) : EMPTY
        if (caught !== EMPTY) stranded = search.lazyRouteInto(levels, depth, location, caught)
        if (!mayEndAt(location)) continue
        for (
          let left = 0;
          left < toEnds.length && far(depth, left) < (open === undefined ? Infinity : far(open.spot.depth, open.left));
          left += 1
        ) {
          const near = diagrams.both(under, toEnds[left]!.sets.get(location) ?? EMPTY)
          if (near !== EMPTY) open = { spot: { depth, location, set: near }, left }
        }
      }
      const name = { quest: quest.id, stage: quest.stages[stage]! }
      if (stranded !== undefined) found.push({ kind: 'stranded-stage', ...name, route: stranded })
      if (open !== undefined)
        found.push({ kind: 'left-open', ...name, route: through(search, open.spot, toEnds, open.left) })
    }
  }
  return found
}

/** A way through one of some states on to an end that is so many decisions away. */
function through(
  search: SymbolicSearch,
  { depth, location, set }: Spot,
  toEnds: readonly Level[],
  left: number,
): LazyRoute {
  const { diagrams, levels } = search
  const take = (): RouteItem[] => diagrams.withRoom(along)
  const along = (): RouteItem[] => {
    const one = search.one(location, set)
    return search.routeInto(levels, depth, location, one, search.legsOn(location, one, toEnds, left))
  }
  return { length: levels[depth]!.distance + toEnds[left]!.distance, take }
}

function* judge(search: SymbolicSearch, linked: LinkedPromise): Generator<void, PromiseVerdict> {
  const { diagrams, levels } = search
  const { kind } = linked.promise
  const brokenAt = ({ depth, location, set }: Spot, by = levels): PromiseVerdict => ({
    verdict: 'broken',
    route: search.routeInto(by, depth, location, set),
  })
  switch (kind) {
    case 'never':
    case 'always':
    case 'possible': {
      const metIn = (location: number, set: number) => {
        const having = search.where(location, set, linked.holds!)
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
        const met = search.where(location, set, linked.holds!)
        if (met !== EMPTY) goals.set(location, met)
      }
      const can = yield* search.comingTo(goals)
      const lostIn = (location: number, set: number) => {
        const lost = diagrams.minus(set, can.get(location) ?? EMPTY)
        return linked.while === undefined ? lost : search.where(location, lost, linked.while)
      }
      const spot = yield* nearest(search, lostIn)
      return spot === undefined ? { verdict: 'kept' } : brokenAt(spot)
    }
    case 'inOrder': {
      const seen: Sets = new Map()
      const ways: Level[] = []
      let next: Sets = new Map()
      for (const { location, set } of search.beginnings) search.add(next, location, set)
      for (let distance = 0; next.size > 0; distance += 1) {
        const start = ways.length
        for (let sets = next; sets.size > 0;) {
          const depth = ways.push({ sets, distance }) - 1
          for (const [location, set] of sets) {
            yield
            search.add(seen, location, set)
            const left = diagrams.minus(set, search.where(location, set, linked.first!))
            const met = search.where(location, left, linked.then!)
            if (met !== EMPTY) return brokenAt({ depth, location, set: met }, ways)
            sets.set(location, left)
          }
          const moved: Sets = new Map()
          yield* search.follow(ways[depth]!.sets, true, moved)
          sets = search.without(moved, seen)
        }
        const decided: Sets = new Map()
        for (const { sets } of ways.slice(start)) yield* search.follow(sets, false, decided)
        next = search.without(decided, seen)
      }
      return { verdict: 'kept' }
    }
  }
}

/** The nearest of the states that are picked out of those of a location; first it is asked where there are some at all. */
function* nearest(
  { levels, reached }: SymbolicSearch,
  pick: (location: number, set: number) => number,
): Generator<void, Spot | undefined> {
  const some = new Set<number>()
  for (const [location, set] of reached) {
    yield
    if (pick(location, set) !== EMPTY) some.add(location)
  }
  for (const spot of spots(levels, some)) {
    yield
    const set = pick(spot.location, spot.set)
    if (set !== EMPTY) return { ...spot, set }
  }
  return undefined
}

/** All at some locations, nearest first. */
function* spots(levels: readonly Level[], at: Pick<ReadonlySet<number>, 'size' | 'has'>): Generator<Spot, void> {
  if (at.size === 0) return
  for (const [depth, level] of levels.entries())
    for (const [location, set] of level.sets) if (at.has(location)) yield { depth, location, set }
}

function memo(test: (location: number) => boolean): (location: number) => boolean {
  const known: (boolean | undefined)[] = []
  return (location) => (known[location] ??= test(location))
}
