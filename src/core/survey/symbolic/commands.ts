import type { Expr } from '../../expression/ast'
import type { Slices } from '../../base/slices'
import type { LinkedStory } from '../../story/linked'
import type { Search } from '../explicit/search'
import { CLOSED, MOVE, type Action, type Actions } from './paths/actions'
import { joinedActions, joinedInTurns } from './paths/joined-actions'
import { partsOf, type Decided } from './paths/demand'
import type { Range } from './paths/ranges'
import { TooMuch } from './diagrams/node-table'
import type { Relation } from './diagrams/relation'
import type { Command, Relations } from './relations'

/** An action with what it does to sets. */
export interface GuardedCommand {
  readonly from: number
  readonly action: Action
  readonly filter: Filter
  /** Leaves the states with the values for which the action is meant. */
  readonly guard: Relation
  /** Leads to where they go; undefined where they go nowhere. */
  readonly relation: Relation | undefined
}

/** A command for all actions that lead to the same, whichever way some conditions turn out. */
export interface JoinedCommand extends GuardedCommand {
  readonly parts: readonly GuardedCommand[]
}

/** Conditions on states of a location that are asked together. */
export interface Filter {
  readonly location: number
  readonly conditions: readonly Decided[]
  /** All states in which they turn out so, come to or not; null where that is too large a set, undefined before it was tried. */
  domain: number | null | undefined
}

/** Commands from one location to another with the same conditions, which are applied all at once. */
export interface CommandGroup {
  readonly from: number
  readonly to: number
  /** Whether they are changes of what is given, and no decisions. */
  readonly isMove: boolean
  readonly commands: readonly JoinedCommand[]
  /** What they ask for and set, where what is asked of the values of one slot is no condition. */
  readonly applied: readonly Command[]
  readonly filter: Filter
  readonly relation: Relation
  /** All states to which they lead, where conditions of theirs say no more than that it is one of these. */
  readonly within: number | undefined
}

/** Commands by which the story comes back to where it rests, all at once. */
export interface Loops {
  readonly relation: Relation
  /** All states to which they lead and from which they go: those in which some choice is open, where that is told. */
  readonly within: number | undefined
  /** Those of the groups of which everything is among them. */
  readonly whole: ReadonlySet<CommandGroup>
}

/** A location that has been come to. */
export interface LocationCommands {
  readonly slots: readonly number[]
  readonly sizes: readonly number[]
  /** One for each action. */
  readonly commands: readonly GuardedCommand[]
  /** The same, of those that lead somewhere, as few as can be. */
  readonly joined: readonly JoinedCommand[]
  readonly groups: readonly CommandGroup[]
  /** What leads back to it without conditions on where it goes from. */
  readonly loops: Loops
  /** Leaves the states from which the story can go on by commands without conditions. */
  readonly goesOn: Relation
}

/** Commands that are made between two looks whether there is time and room left, less one. */
const COMMANDS_LOOK = 0xff
/** Ways in which values of slots are chosen for one command, at most. */
const RUNS_MOST = 4
/** Values of one slot beyond which it is given up. */
const VALUES_MAX = 1024

/** The values that a slot may have, from one to another each. */
export interface SlotValues {
  readonly slot: number
  readonly runs: readonly Pick<Range, 'from' | 'to'>[]
}

/** What is known of conditions by those who ask them of sets. */
export interface ConditionFacts {
  /** All states of a location in which some choice is open, where that is no large set. */
  offeredInTurns(location: number): Slices<number | undefined>
  /** The values of slots with which a condition turns out as it is meant; undefined where those of one hang together with those of another. */
  valuesFor(location: number, condition: Decided): readonly SlotValues[] | undefined
}

/** Makes commands of the actions of locations. */
export class CommandMaker {
  /** Set by whoever makes both: conditions are asked with the help of commands. */
  facts!: ConditionFacts
  /** By location and conditions. */
  private readonly filters = new Map<string, Filter>()
  private readonly numberOf = new Map<Expr, number>()

  constructor(
    private readonly search: Search,
    private readonly actions: Actions,
    private readonly relations: Relations,
    /** Says that time or memory are used up. */
    private readonly isOver: () => boolean = () => false,
  ) {}

  /** Undefined where something there is too much for it. */
  *at(location: number): Slices<LocationCommands | undefined> {
    const slots = this.relations.slotsAt(location)
    const sizes = this.sizesAt(location)
    if (sizes.some((size) => size > VALUES_MAX)) return undefined
    const { story, hasMoves } = this.search
    const ends = (location >= story.beats.length && !hasMoves) || isEnding(story, location)
    const actions = ends ? [] : yield* this.actions.ways(location)
    if (actions === undefined) return undefined
    const commands = actions.map((action, at) => {
      if ((at & COMMANDS_LOOK) === 0 && this.isOver()) throw new TooMuch()
      return this.command(location, action)
    })
    yield
    const joined = yield* this.joined(location, commands)
    yield
    const groups = yield* this.grouped(location, joined)
    yield
    const goOn = joined.filter(({ action }) => action.goesOn && action.conditions.length === 0)
    const loops = yield* this.loopsOf(location, groups)
    const goesOn = yield* this.relations.inTurns(
      location,
      location,
      goOn.map(({ action }) => unset(action)),
    )
    return { slots, sizes, commands, joined, groups, goesOn, loops }
  }

  /** Commands of actions, as few as can be; those that lead nowhere too. */
  from(location: number, actions: readonly Action[]): GuardedCommand[] {
    return joinedActions(actions, ([expr]) => this.numbered(expr)).map(({ action }) => this.command(location, action))
  }

  private *joined(location: number, commands: readonly GuardedCommand[]): Slices<JoinedCommand[]> {
    const made = new Map(commands.map((command) => [command.action, command]))
    const leading = commands.flatMap(({ action }) => (action.to === CLOSED ? [] : [action]))
    const found = yield* joinedInTurns(leading, ([expr]) => this.numbered(expr))
    yield
    return found.map(({ action, parts }) =>
      Object.assign(this.command(location, action), { parts: parts.map((part) => made.get(part)!) }),
    )
  }

  private *loopsOf(location: number, groups: readonly CommandGroup[]): Slices<Loops> {
    const those = groups.filter(({ to, filter }) => to === location && filter.conditions.length === 0)
    const applied = those.flatMap((group) => group.applied)
    // a state in which no choice is open is left by none of them
    const within = those.find((group) => group.within !== undefined)?.within
    const whole = new Set(those.filter((group) => group.within === within))
    return { relation: yield* this.relations.inTurns(location, location, applied), within, whole }
  }

  /** How many values each slot has that states of a location hold, in order. */
  sizesAt(location: number): number[] {
    const { all } = this.search.slots
    return this.relations
      .slotsAt(location)
      .map((slot) => all[slot]!)
      .map(({ min, max }) => max - min + 1)
  }

  /** The commands of a location that lead somewhere, those with the same conditions together where they lead to the same. */
  private *grouped(from: number, commands: readonly JoinedCommand[]): Slices<CommandGroup[]> {
    type Group = Pick<CommandGroup, 'filter' | 'within'> & {
      readonly commands: JoinedCommand[]
      readonly applied: Command[]
    }
    const together = new Map<Filter, Map<string, Group>>()
    for (const command of commands) {
      const { action } = command
      if (action.to < 0) continue
      const { filter, within, applied } = yield* this.asked(command)
      const those = together.get(filter) ?? new Map<string, Group>()
      together.set(filter, those)
      const key = `${action.to} ${action.decision === MOVE} ${within === undefined}`
      const known = those.get(key)
      if (known === undefined) those.set(key, { filter, within, commands: [command], applied: [...applied] })
      else {
        known.commands.push(command)
        known.applied.push(...applied)
      }
    }
    const made: CommandGroup[] = []
    for (const groups of together.values())
      for (const group of groups.values()) {
        yield
        const [first] = group.commands
        const { to, decision } = first!.action
        const isOne = group.applied.length === 1 && group.applied[0] === first!.action
        const relation = isOne ? first!.relation! : yield* this.relations.inTurns(from, to, group.applied)
        made.push({ from, to, isMove: decision === MOVE, relation, ...group })
      }
    return made
  }

  /**
   * What a command asks of states. That some choice is open where it leads to, as the story rests there, is asked of the states there:
   * said of those that it goes from it would be another condition with everything that is known on the way. What it asks of the
   * values of one slot is no condition: that none of some choices is open, as all were made, would be another one for each way.
   */
  private *asked({
    from,
    action,
  }: GuardedCommand): Slices<Pick<CommandGroup, 'filter' | 'within'> & { readonly applied: readonly Command[] }> {
    const { conditions, to } = action
    const isOffer = ([, outcome, offers = false]: Decided) => outcome && offers
    const within = conditions.some(isOffer) ? yield* this.facts.offeredInTurns(to) : undefined
    const asked = new Map<number, SlotValues>()
    const left: Decided[] = []
    for (const one of conditions) {
      if (within !== undefined && isOffer(one)) continue
      const parts = partsOf(one)
      const others = parts.filter((part) => {
        const values = this.facts.valuesFor(from, part)
        if (values === undefined || !values.every((some) => fits(some, action, asked))) return true
        for (const some of values) asked.set(some.slot, some)
        return false
      })
      // as a whole it may be known already
      left.push(...(others.length === parts.length ? [one] : others))
    }
    for (const [slot] of action.guards) asked.delete(slot)
    return { filter: this.filterOf(from, left), within, applied: asking(action, [...asked.values()]) }
  }

  command(from: number, action: Action): GuardedCommand {
    const { to, guards, ranges, writes, conditions } = action
    const { relations } = this
    // most are applied with others alone, so their own are made when they are wanted
    let guard: Relation | undefined
    let relation: Relation | undefined
    return {
      from,
      action,
      filter: this.filterOf(from, conditions),
      get guard() {
        return (guard ??= relations.of(from, from, [unset(action)]))
      },
      get relation() {
        return to < 0 ? undefined : (relation ??= relations.of(from, to, [{ guards, ranges, writes }]))
      },
    }
  }

  private filterOf(location: number, conditions: readonly Decided[]): Filter {
    const key = `${location} ${conditions.map(([expr, outcome]) => `${this.numbered(expr)}${outcome ? '' : '!'}`).join(' ')}`
    const known = this.filters.get(key) ?? { location, conditions, domain: undefined }
    this.filters.set(key, known)
    return known
  }

  private numbered(expr: Expr): number {
    const known = this.numberOf.get(expr) ?? this.numberOf.size
    this.numberOf.set(expr, known)
    return known
  }
}

/** Whether values of a slot go with what an action and others ask of it, and are few. */
function fits(
  { slot, runs }: SlotValues,
  { guards, ranges }: Action,
  others: ReadonlyMap<number, SlotValues>,
): boolean {
  const guard = guards.find(([own]) => own === slot)?.[1]
  if (guard !== undefined) return runs.some(({ from, to }) => from <= guard && guard <= to)
  if (others.has(slot) || ranges.some((range) => range.slot === slot)) return false
  return [...others.values()].reduce((all, { runs: those }) => all * those.length, runs.length) <= RUNS_MOST
}

/** An action where slots have some values: once for each way in which those can be chosen. */
function asking(action: Action, values: readonly SlotValues[]): readonly Command[] {
  let made: Command[] = [action]
  for (const { slot, runs } of values)
    made = made.flatMap(({ guards, ranges = [], writes }) =>
      runs.map((run) => ({ guards, ranges: [...ranges, { slot, ...run, by: 0 }], writes })),
    )
  return made
}

/** What an action asks of slots, and sets none. */
function unset({ guards, ranges }: Action): Command {
  return { guards, ranges: ranges.map((range) => ({ ...range, by: 0 })), writes: [] }
}

/** Whether a story that rests at a location has ended. */
export function isEnding({ beats }: LinkedStory, location: number): boolean {
  return location < beats.length && beats[location]!.ending !== -1
}
