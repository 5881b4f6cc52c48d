import type { RouteItem } from '../../story/types'
import type { Leg } from '../explicit/transition-player'
import { tellRoute } from '../explicit/routes'
import type { LazyRoute } from '../findings/finding'
import { MOVE } from './paths/actions'
import type { Assignment } from './paths/demand'
import type { GuardedCommand } from './commands'
import { EMPTY } from './diagrams/node-table'
import type { Distances, Near } from './distances'
import { StateSets, type Sets } from './state-sets'

/** States in which the story can first rest, and what the game gives for that. */
export interface Beginnings {
  readonly location: number
  readonly set: number
  readonly given: readonly Assignment[]
}

/** Routes into sets of states, read off how near states are. */
export abstract class SetRoutes extends StateSets {
  /** All states that were come to. */
  abstract readonly reached: Sets
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
    const variables = this.variablesFrom(location, (slot) => values[slot]!)
    let set = this.diagrams.single(variables, this.locations[location]!.sizes)
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

  /** A way to one of some states at a location that are as near as one another. */
  lazyRouteInto(distances: Distances, near: Near, location: number, last?: GuardedCommand): LazyRoute {
    const isDecided = last !== undefined && last.action.decision !== MOVE
    return {
      length: near.distance + (isDecided ? 1 : 0),
      take: () => this.routeInto(distances, near, location, last === undefined ? [] : [this.legOf(last)]),
    }
  }

  /** A way from a state on to the nearest of those from which distances are. */
  legsOn(distances: Distances, location: number, state: number): Leg[] {
    const legs: Leg[] = []
    let [at, one] = [location, state]
    for (let near = distances.nearest(at, one); near !== undefined && near.step > 0;) {
      const step = this.stepOn(distances, near, at, one)
      if (step === undefined) break
      legs.push(this.legOf(step.command))
      at = step.command.action.to
      one = this.one(at, step.near.set)
      near = step.near
    }
    return legs
  }

  /** A command from a state to nearer ones. */
  private stepOn(
    distances: Distances,
    from: Near,
    location: number,
    state: number,
  ): { readonly command: GuardedCommand; readonly near: Near } | undefined {
    for (const command of this.joinedAt(location)) {
      const near = distances.nearest(command.action.to, this.after(command, state))
      if (near !== undefined && isBefore(near, from, command.action.decision === MOVE)) return { command, near }
    }
    return undefined
  }

  /** A way from the start to one of some states that are as near as one another, and on by some legs. */
  routeInto(distances: Distances, near: Near, location: number, last: readonly Leg[] = []): RouteItem[] {
    return this.diagrams.withRoom(() => {
      const { given, legs } = this.pathInto(distances, near, location)
      return this.told(given, [...legs, ...last])
    })
  }

  /** The same as legs, with what the story begins with. */
  pathInto(
    distances: Distances,
    { set, ...near }: Near,
    location: number,
  ): { readonly given: readonly Assignment[]; readonly legs: Leg[] } {
    const legs: Leg[] = []
    let [at, goal] = [location, this.one(location, set)]
    for (let left: Omit<Near, 'set'> = near; left.step > 0;) {
      const step = this.stepInto(distances, left, at, goal)
      legs.push(this.legOf(step.command))
      at = step.command.from
      goal = step.before
      left = step.near
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

  /** A command from one nearer state to a state. */
  private stepInto(
    distances: Distances,
    to: Omit<Near, 'set'>,
    location: number,
    goal: number,
  ): { readonly command: GuardedCommand; readonly before: number; readonly near: Near } {
    for (const group of this.into[location]!) {
      const all = this.reached.get(group.from)
      if (all === undefined) continue
      const near = distances.nearest(group.from, this.comeFromAny(group, goal, all))
      if (near === undefined || !isBefore(near, to, group.isMove)) continue
      const one = this.one(group.from, near.set)
      for (const command of group.commands) {
        const before = this.comeFrom(command, goal, one)
        if (before !== EMPTY) return { command, before, near }
      }
    }
    throw new Error('internal: a state without a predecessor')
  }
}

/** Whether what is one decision, or one change of what is given, nearer is so by that alone. */
function isBefore(near: Near, than: Omit<Near, 'set'>, isMove: boolean): boolean {
  return near.step < than.step && near.distance === than.distance - (isMove ? 0 : 1)
}
