import type { RouteItem } from '../../story/types'
import type { Leg } from '../explicit/transition-player'
import { tellRoute } from '../explicit/routes'
import type { LazyRoute } from '../findings/finding'
import { MOVE } from './actions'
import type { Assignment } from './path-finder'
import type { GuardedCommand } from './commands'
import { EMPTY } from './node-table'
import { StateSets, type Level } from './state-sets'

/** The levels from which a level is come to, and whether that is a decision. */
export function levelsBefore(
  levels: readonly Level[],
  at: number,
): { readonly from: number[]; readonly isMove: boolean } {
  const { distance } = levels[at]!
  if (at > 0 && levels[at - 1]!.distance === distance) return { from: [at - 1], isMove: true }
  const from: number[] = []
  for (let one = at - 1; one >= 0 && levels[one]!.distance === distance - 1; one -= 1) from.push(one)
  return { from, isMove: false }
}

/** States in which the story can first rest, and what the game gives for that. */
export interface Beginnings {
  readonly location: number
  readonly set: number
  readonly given: readonly Assignment[]
}

/** Routes into sets of states, read off the levels in which they were come to. */
export abstract class SetRoutes extends StateSets {
  /** Ways to begin, with the states that each leads to. */
  readonly beginnings: Beginnings[] = []

  /** How the story begins with what the game gives. */
  tellBegun(given: readonly Assignment[]): RouteItem[] {
    return this.told(given, [])
  }

  /** A way as it is told: what the game gives at the start, and what is decided and given from there. */
  told(begun: readonly Assignment[], legs: readonly Leg[]): RouteItem[] {
    const { search } = this
    return tellRoute(
      begun,
      legs,
      (given) => search.givenItem(given).given,
      (slot) => search.slots.all[slot]!.initial,
    )
  }

  /** A command as it is told in a route. */
  legOf(command: GuardedCommand): Leg {
    const { given, decision } = command.action
    return { item: decision === MOVE ? undefined : this.decision(command), given }
  }

  /** The states in which the story can first rest: what is held and was not asked for on the way may be anything that the game gives. */
  protected opening(location: number, values: readonly number[], given: readonly Assignment[]): number {
    const { slots, givens } = this.search
    let set = this.single(location, values)
    for (const slot of [...givens.plan.begin, ...givens.plan.held]) {
      if (!this.isHeldAt(location, slot) || given.some(([own]) => own === slot)) continue
      const one = slots.all[slot]!
      const options = one.kind === 'entry' ? one.given!.options : []
      set = options.reduce(
        (all, value) => this.diagrams.union(all, this.withValues(location, set, [[slot, value]])),
        set,
      )
    }
    return set
  }

  /** What the game gave for the story to begin in a state. */
  givenFor(location: number, state: number): readonly Assignment[] {
    const found = this.beginnings.find(
      (one) => one.location === location && this.diagrams.both(one.set, state) !== EMPTY,
    )
    return found === undefined ? [] : this.givenToBegin(found, this.diagrams.both(found.set, state))
  }

  /** What the game gave for the story to begin in one of some states in one way: what it gave on that way, and what was not asked for there. */
  givenToBegin({ location, given }: Beginnings, set: number): readonly Assignment[] {
    const { begin, held } = this.search.givens.plan
    const values = this.valuesAt(location, set)
    const others = [...begin, ...held].flatMap((slot): Assignment[] => {
      const own = values.get(slot)
      return own === undefined || given.some(([other]) => other === slot) ? [] : [[slot, own[0]!]]
    })
    return [...given, ...others]
  }

  /** A way to one of some states at a location, which are come to at a depth. */
  lazyRouteInto(
    levels: readonly Level[],
    depth: number,
    location: number,
    set: number,
    last?: GuardedCommand,
  ): LazyRoute {
    const isDecided = last !== undefined && last.action.decision !== MOVE
    return {
      length: levels[depth]!.distance + (isDecided ? 1 : 0),
      take: () => this.routeInto(levels, depth, location, set, last === undefined ? [] : [this.legOf(last)]),
    }
  }

  /** A command from a state into one of some layers, and what of it comes there. */
  private stepOn(
    location: number,
    state: number,
    layers: readonly Level[],
    into: readonly number[],
    isMove: boolean,
  ): { readonly command: GuardedCommand; readonly nearer: number; readonly layer: number } | undefined {
    for (const command of this.commandsOf(location)) {
      if ((command.action.decision === MOVE) !== isMove) continue
      for (const layer of into) {
        const goal = layers[layer]!.sets.get(command.action.to) ?? EMPTY
        const nearer = this.diagrams.both(this.after(command, state), goal)
        if (nearer !== EMPTY) return { command, nearer, layer }
      }
    }
    return undefined
  }

  /** A way from a state of a layer on to the first of all. */
  legsOn(location: number, state: number, layers: readonly Level[], layer: number): Leg[] {
    const legs: Leg[] = []
    let [at, one] = [location, state]
    for (let left = layer; left > 0;) {
      const { from, isMove } = levelsBefore(layers, left)
      const step = this.stepOn(at, one, layers, from, isMove)
      if (step === undefined) break
      legs.push(this.legOf(step.command))
      at = step.command.action.to
      one = this.one(at, step.nearer)
      left = step.layer
    }
    return legs
  }

  /** A way from the start to one of some states of a level, and on by some legs. */
  routeInto(
    levels: readonly Level[],
    depth: number,
    location: number,
    set: number,
    last: readonly Leg[] = [],
  ): RouteItem[] {
    return this.diagrams.withRoom(() => {
      const { given, legs } = this.pathInto(levels, depth, location, set)
      return this.told(given, [...legs, ...last])
    })
  }

  /** The same as legs, with what the story begins with. */
  pathInto(
    levels: readonly Level[],
    depth: number,
    location: number,
    set: number,
  ): { readonly given: readonly Assignment[]; readonly legs: Leg[] } {
    const legs: Leg[] = []
    let at = location
    let goal = this.one(at, set)
    for (let level = depth; levels[level]!.distance > 0 || levelsBefore(levels, level).isMove;) {
      const step = this.stepInto(levels, level, at, goal)
      legs.push(this.legOf(step.command))
      at = step.command.from
      goal = this.one(at, step.before)
      level = step.level
    }
    return { given: this.givenFor(at, goal), legs: legs.reverse() }
  }

  decision({ from, action }: GuardedCommand): RouteItem {
    if (action.decision === MOVE) return this.search.givenItem(action.given)
    const beat = this.search.story.beats[from]!
    const program = this.programs.of(from)
    return program.asks
      ? { at: beat.address, word: this.search.wordOf(program, action.decision) }
      : { choice: beat.choices[action.decision]!.address }
  }

  private stepInto(
    levels: readonly Level[],
    at: number,
    location: number,
    goal: number,
  ): { readonly command: GuardedCommand; readonly before: number; readonly level: number } {
    const { from, isMove } = levelsBefore(levels, at)
    for (const group of this.into[location]!) {
      if (group.isMove !== isMove) continue
      for (const level of from) {
        const set = levels[level]!.sets.get(group.from)
        if (set === undefined) continue
        const some = this.comeFromAny(group, goal, set)
        if (some === EMPTY) continue
        const one = this.one(group.from, some)
        for (const command of group.commands) {
          const before = this.comeFrom(command, goal, one)
          if (before !== EMPTY) return { command, before, level }
        }
      }
    }
    throw new Error('internal: a state without a predecessor')
  }
}
