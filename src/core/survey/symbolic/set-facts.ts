import type { Slices } from '../../base/slices'
import type { RouteItem } from '../../story/types'
import type { Share } from '../findings/exploration'
import { CLOSED, MOVE } from './paths/actions'
import type { GuardedCommand } from './commands'
import { EMPTY, TooMuch } from './diagrams/node-table'
import type { SymbolicSearch } from './symbolic-search'

/** A decision in some of the states in which it can be taken. */
export interface Occasion {
  readonly command: GuardedCommand
  readonly set: number
}

/** What a decision does to the endings that could still be come to. */
export interface ClosedInSets {
  /** By their numbers: those that it closes in some state, and those that it leaves open in some. */
  readonly closes: Set<number>
  readonly spares: Set<number>
  readonly occasions: Occasion[]
}

/** By choice, or by beat at which a word is typed: the endings that a decision there closes. Throws TooMuch. */
export function* endingsClosed(search: SymbolicSearch): Slices<Map<string, ClosedInSets>> {
  const { diagrams } = search
  const { beats, endings } = search.story
  const found = new Map<string, ClosedInSets>()
  for (const ending of endings.keys()) {
    const can = yield* search.comingTo(search.ended(ending))
    for (const [location, open] of can) {
      for (const command of search.joinedAt(location)) {
        const { decision, to } = command.action
        if (decision === MOVE) continue
        yield
        const before = search.before(command, open)
        if (before === EMPTY) continue
        const decided = search.decision(command)
        const address = 'choice' in decided ? decided.choice : beats[location]!.address
        const point = found.get(address) ?? { closes: new Set(), spares: new Set(), occasions: [] }
        found.set(address, point)
        const spared = search.comeFrom(command, can.get(to) ?? EMPTY, before)
        if (spared !== EMPTY) point.spares.add(ending)
        const closing = diagrams.minus(before, spared)
        if (closing === EMPTY) continue
        point.closes.add(ending)
        point.occasions.push({ command, set: closing })
      }
    }
  }
  return found
}

/** A shortest route to the first of some occasions, with the decision. */
export function routeToFirst(search: SymbolicSearch, occasions: readonly Occasion[]): RouteItem[] {
  const { distances } = search
  const [first] = occasions
    .flatMap(({ command, set }) => {
      const near = distances.nearest(command.from, set)
      return near === undefined ? [] : [{ command, near }]
    })
    .sort((a, b) => a.near.step - b.near.step)
  if (first === undefined) throw new Error('internal: an occasion that is never come to')
  return search.lazyRouteInto(distances, first.near, first.command.from, first.command).take()
}

/** The nearest of some states of a location: how near they are, and a shortest route. */
export function nearestOf(
  search: SymbolicSearch,
  location: number,
  set: number,
): { readonly nearness: number; readonly route: () => RouteItem[] } {
  const { distances } = search
  const near = distances.nearest(location, set)
  if (near === undefined) throw new Error('internal: states that are never come to')
  return { nearness: near.step, route: search.lazyRouteInto(distances, near, location).take }
}

/** What sets a stage of a quest, by the part of the story that does: the quest's number, and the stage's. */
export type StagesSet = ReadonlyMap<string, readonly { readonly quest: number; readonly stage: number }[]>

/** A move of a quest from stage to stage, made by a part of the story; `route` is a shortest one to it. */
export interface MoveInSets {
  readonly quest: number
  readonly from: number
  readonly to: number
  readonly owner: string
  readonly route: () => RouteItem[]
}

/** The moves that quests really make, nothing twice. Throws TooMuch. */
export function* movesInSets(search: SymbolicSearch, setBy: StagesSet): Slices<MoveInSets[]> {
  const { events, reached } = search
  const { slots } = search.search
  const found = new Map<string, { readonly move: Omit<MoveInSets, 'route'>; readonly occasions: Occasion[] }>()
  const atStart: MoveInSets[] = []
  const ownersIn = (shown: readonly number[]) => shown.map((event) => events.at(event).key[0]!)
  /** Of one quest, what is set after what on the way, beginning at a stage. */
  const follow = (owners: readonly string[], quest: number, stage: number, hear: MoveHearer) => {
    let from = stage
    for (const owner of owners)
      for (const one of setBy.get(owner) ?? []) {
        if (one.quest !== quest) continue
        if (one.stage !== from) hear({ quest, from, to: one.stage, owner })
        from = one.stage
      }
  }
  const questsOf = (owners: readonly string[]) => [
    ...new Set(owners.flatMap((owner) => (setBy.get(owner) ?? []).map(({ quest }) => quest))),
  ]
  const starts = yield* search.actions.begin()
  if (starts === undefined) throw new TooMuch()
  for (const { onTheWay, given } of starts) {
    const owners = ownersIn(onTheWay)
    for (const quest of questsOf(owners))
      follow(owners, quest, 0, (move) => {
        if (!atStart.some((one) => nameOf(one) === nameOf(move)))
          atStart.push({ ...move, route: () => search.tellBegun(given) })
      })
  }
  for (const [location, set] of reached) {
    for (const command of search.commandsOf(location)) {
      const { action } = command
      if (action.to === CLOSED) continue
      const decision = search.decision(command)
      const owners = [...('choice' in decision ? [decision.choice] : []), ...ownersIn(action.onTheWay)]
      const quests = questsOf(owners)
      if (quests.length === 0) continue
      yield
      const before = search.before(command, set)
      if (before === EMPTY) continue
      const read = search.valueReader(location, before)
      for (const quest of quests) {
        const slot = slots.ofQuest[quest]!
        for (const stage of read(slot))
          follow(owners, quest, stage, (move) => {
            const { occasions } = found.get(nameOf(move)) ?? { occasions: [] as Occasion[] }
            found.set(nameOf(move), { move, occasions })
            occasions.push({ command, set: search.having(location, before, slot, stage) })
          })
      }
    }
  }
  const known = new Set(atStart.map(nameOf))
  return [
    ...atStart,
    ...[...found.values()]
      .filter(({ move }) => !known.has(nameOf(move)))
      .map(({ move, occasions }) => ({ ...move, route: () => routeToFirst(search, occasions) })),
  ]
}

type MoveHearer = (move: Omit<MoveInSets, 'route'>) => void

function nameOf({ quest, from, to, owner }: Omit<MoveInSets, 'route'>): string {
  return `${quest} ${from} ${to} ${owner}`
}

/** By stage of a quest at which the story rests, where it has not ended: whether an outcome can still be come to. Throws TooMuch. */
export function* finishInSets(search: SymbolicSearch, quest: number): Slices<Map<number, Share>> {
  const { diagrams, reached } = search
  const { story, slots } = search.search
  const { outcomes, stages } = story.quests[quest]!
  const slot = slots.ofQuest[quest]!
  const ended = outcomes.flatMap((outcome, stage) => (outcome === undefined ? [] : [stage]))
  const can = yield* search.comingTo(search.havingAny(slot, ended))
  const shares = new Map<number, Share>()
  for (const stage of stages.keys()) {
    let some = false
    let all = true
    let rests = false
    for (const [location, set] of reached) {
      if (search.isEnding(location)) continue
      const here = search.having(location, set, slot, stage)
      if (here === EMPTY) continue
      rests = true
      const those = diagrams.both(here, can.get(location) ?? EMPTY)
      some ||= those !== EMPTY
      all &&= those === here
    }
    yield
    if (rests) shares.set(stage, all ? 'all' : some ? 'some' : 'none')
  }
  return shares
}
