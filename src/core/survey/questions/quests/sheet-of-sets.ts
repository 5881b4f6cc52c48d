import type { Slices } from '../../../base/slices'
import type { LinkedChoice, LinkedStory } from '../../../story/linked'
import type { RouteItem } from '../../../story/types'
import { CLOSED, MOVE } from '../../symbolic/paths/actions'
import type { GuardedCommand } from '../../symbolic/commands'
import { EMPTY, TooMuch } from '../../symbolic/diagrams/node-table'
import type { Assignment } from '../../symbolic/paths/demand'
import { nearestOf, routeToFirst, type Occasion } from '../../symbolic/set-facts'
import type { Sets } from '../../symbolic/state-sets'
import type { SymbolicSearch } from '../../symbolic/symbolic-search'
import { encounterGateSlots, Sheet, TALK_DEPTH, type Axis, type CallSheet } from './sheet'

/** So many combinations of what the game gives are looked at one by one. */
const GIVEN_MAX = 256

/** A call sheet from sets of states, all of which were found. Throws TooMuch. */
export class SheetOfSets extends Sheet<Occasion> {
  private readonly talks = new Map<string, readonly string[]>()
  private readonly free: ReadonlySet<number>

  constructor(
    story: LinkedStory,
    axis: Axis,
    quests: readonly number[],
    private readonly search: SymbolicSearch,
  ) {
    super(story, axis, quests, search.search.slots, search.events)
    this.free = new Set(search.search.givens.plan.free)
  }

  /** Every combination of what the game may give at a rest, of what decides who can be approached. Throws TooMuch. */
  private everyWay(): Assignment[][] {
    const asked = new Set(encounterGateSlots(this.story, this.slots, 1))
    return [...this.free]
      .filter((slot) => asked.has(slot))
      .reduce<Assignment[][]>(
        (ways, slot) => {
          const options = this.search.actions.optionsOf(slot)
          if (ways.length * options.length > GIVEN_MAX) throw new TooMuch()
          return ways.flatMap((way) => options.map((value): Assignment[] => [...way, [slot, value]]))
        },
        [[]],
      )
  }

  *gather(stop: () => boolean): Slices<CallSheet | undefined> {
    const { search, story } = this
    const ways = this.everyWay()
    for (const [location, set] of search.reached) {
      const beat = story.beats[location % story.beats.length]!
      for (const [column, own] of this.byColumn(location, set)) {
        if (stop()) return undefined
        yield
        this.reached[column] = true
        if (beat.place) for (const given of ways) yield* this.seeWhere(location, own, column, given)
        for (const command of search.commandsOf(location)) {
          const choice = this.choiceOf(command)
          if (choice?.who === undefined) continue
          const before = search.before(command, own)
          if (before !== EMPTY) this.approach(command, choice, column, before)
          yield
        }
      }
    }
    return this.tell()
  }

  protected routeTo(occasions: readonly Occasion[]): RouteItem[] {
    return routeToFirst(this.search, occasions)
  }

  protected keep(occasions: Occasion[], one: Occasion): void {
    occasions.push(one)
  }

  /** The choice that is taken; undefined for what is closed, or no choice. */
  private choiceOf(command: GuardedCommand): LinkedChoice | undefined {
    const { decision, to } = command.action
    if (decision === MOVE || to === CLOSED) return undefined
    const decided = this.search.decision(command)
    return 'choice' in decided ? this.story.choices[this.story.choiceOf.get(decided.choice)!] : undefined
  }

  /** The states of a location by the stages of the axis's quests, as columns are numbered. */
  private byColumn(location: number, set: number): Map<number, number> {
    const { search, story, quests, slots } = this
    return quests.reduce(
      (columns, quest) => {
        const slot = slots.ofQuest[quest]!
        const finer = new Map<number, number>()
        for (const [column, some] of columns)
          for (const stage of search.valueReader(location, some)(slot))
            finer.set(column * story.quests[quest]!.stages.length + stage, search.having(location, some, slot, stage))
        return finer
      },
      new Map([[0, set]]),
    )
  }

  private approach(command: GuardedCommand, choice: LinkedChoice, column: number, before: number): void {
    const { search, story } = this
    const { to, onTheWay } = command.action
    const read = search.valueReader(command.from, before)
    this.note({
      choice,
      column,
      shown: onTheWay,
      states: search.diagrams.members(before, new Map()),
      values: this.candidatesOf(choice).map(({ index }) => {
        const given = command.action.given.find(([slot]) => slot === index)
        if (given !== undefined) return [given[1]]
        // what was not asked for may be anything
        return this.free.has(index) ? search.actions.optionsOf(index) : read(index)
      }),
      talk: () => {
        if (command.relation === undefined || to % story.beats.length === choice.beat) return []
        return this.talkFrom(to, search.after(command, before), choice.beat)
      },
      occasion: { command, set: before },
    })
  }

  private talkFrom(first: number, set: number, place: number): readonly string[] {
    const name = `${first} ${set} ${place}`
    const known = this.talks.get(name)
    if (known !== undefined) return known
    const { search, story } = this
    const { diagrams } = search
    const starts = new Set<string>()
    const seen: Sets = new Map([[first, set]])
    let edge: Sets = new Map([[first, set]])
    for (let depth = 0; depth < TALK_DEPTH && edge.size > 0; depth += 1) {
      const further: Sets = new Map()
      for (const [location, some] of edge) {
        const beat = location % story.beats.length
        if (story.beats[beat]!.place || beat === place) continue
        for (const command of search.commandsOf(location)) {
          if (command.action.to === CLOSED) continue
          const before = search.before(command, some)
          if (before === EMPTY) continue
          const choice = this.choiceOf(command)
          if (choice !== undefined && this.setsStage(choice.address)) starts.add(choice.address)
          const { to } = command.action
          const fresh = diagrams.minus(search.after(command, before), seen.get(to) ?? EMPTY)
          if (fresh === EMPTY) continue
          search.add(seen, to, fresh)
          search.add(further, to, fresh)
        }
      }
      edge = further
    }
    const talk = [...starts]
    this.talks.set(name, talk)
    return talk
  }

  /** Who can be approached here, who at another place in the same state, and whom a quest needs that can be nowhere. */
  private *seeWhere(location: number, set: number, column: number, given: readonly Assignment[]): Slices<void> {
    const { search, story, whereabouts } = this
    const { diagrams } = search
    const here = location % story.beats.length
    /** By person: states in which they can be approached somewhere, and in each of which the first such place is. */
    const open = new Map<string, { all: number; readonly first: { readonly place: string; readonly set: number }[] }>()
    for (const choice of whereabouts.encounters) {
      const at = story.beats[choice.beat]!
      if (!at.place) continue
      yield
      const some =
        choice.beat === here ? this.openHere(location, set, choice, given) : this.openFrom(location, set, choice, given)
      if (choice.beat === here) {
        if (some !== EMPTY) whereabouts.note(choice.address, column, true)
        if (some !== set) whereabouts.note(choice.address, column, false)
      }
      if (some === EMPTY) continue
      const person = open.get(choice.who!) ?? { all: EMPTY, first: [] }
      open.set(choice.who!, person)
      for (const { place, set: firstThere } of person.first) {
        const both = diagrams.both(firstThere, some)
        if (both !== EMPTY) whereabouts.noteTwo(choice.who!, [place, at.address], nearestOf(search, location, both))
      }
      person.first.push({ place: at.address, set: diagrams.minus(some, person.all) })
      person.all = diagrams.union(person.all, some)
    }
    for (const person of whereabouts.neededAt(column)) {
      const without = diagrams.minus(set, open.get(person)?.all ?? EMPTY)
      if (without !== EMPTY) whereabouts.noteNowhere(person, column, nearestOf(search, location, without))
    }
  }

  /** Of some states, those in which a choice of their beat can be taken. */
  private openHere(location: number, set: number, { address }: LinkedChoice, given: readonly Assignment[]): number {
    const { search } = this
    let some = EMPTY
    for (const command of search.commandsOf(location)) {
      const isOther = ([slot, value]: Assignment) => given.some(([own, now]) => own === slot && now !== value)
      if (this.choiceOf(command)?.address === address && !command.action.given.some(isOther))
        some = search.diagrams.union(some, search.before(command, set))
    }
    return some
  }

  /** Of some states, those in which the gate of a choice elsewhere holds. */
  private openFrom(location: number, set: number, { when }: LinkedChoice, given: readonly Assignment[]): number {
    if (when === undefined) return set
    return when.expr === undefined ? EMPTY : this.search.conditions.where(location, set, when.expr, given)
  }
}
