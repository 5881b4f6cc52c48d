import type { Slices } from '../../base/slices'
import type { LinkedStory } from '../../story/linked'
import type { EventLog } from '../interpreter/events'
import { MOVE, type Action } from './paths/actions'
import { isEnding, type CommandGroup, type GuardedCommand } from './commands'
import type { Distances, Near } from './distances'
import type { Sets } from './state-sets'

/** The nearest states in which something was seen. */
export interface Observation {
  readonly near: Near
  readonly location: number
  /** What is decided there, or undefined for what is seen in the state itself. */
  readonly command: GuardedCommand | undefined
}

/** What observations are made of. */
export interface Observable {
  readonly story: LinkedStory
  readonly events: EventLog
  readonly distances: Distances
  readonly reached: Sets
  commandsOf(location: number): readonly GuardedCommand[]
  groupsOf(location: number): readonly CommandGroup[]
  /** Whether any of some commands leads somewhere from some states. */
  leadsAny(group: CommandGroup, set: number): boolean
  /** The nearest of all states at a location from which a command goes. */
  nearestBefore(command: GuardedCommand, set: number, below: number): Near | undefined
  /** Those of some states at a location from which the story can't go on. */
  stuckIn(location: number, set: number): number
}

/** The nearest states from which a command goes. */
interface Seen extends Observation {
  readonly command: GuardedCommand
  /** Of what is as near, what is noted first. */
  readonly order: number
}

/** How a condition turned out, among what is asked. */
const FALSE = 1
const TRUE = 2

/** So few commands are each looked at. */
const MANY_AT_ONCE = 4

const NOTHING = { asked: [], shut: [] }

/** What was seen where first: an event's witness is the number of an observation. */
export class Observations {
  private readonly list: Observation[] = []
  private readonly asked: Uint8Array
  /** By what was seen: after how many decisions at least. */
  private readonly nearest = new Map<number, number>()

  constructor(private readonly search: Observable) {
    this.asked = new Uint8Array(search.events.asked.length)
  }

  at(number: number): Observation {
    return this.list[number]!
  }

  /** Notes what can be seen at each location and of each command, where that is first so. */
  *make(): Slices<void> {
    const { reached } = this.search
    const seen: Seen[] = []
    for (const [location, set] of reached) yield* this.observeAt(location, set, seen)
    const { events } = this.search
    seen.sort((a, b) => a.near.distance - b.near.distance || a.order - b.order || a.near.step - b.near.step)
    for (const { near, location, command } of seen) {
      const { action } = command
      if (!this.isNews(action)) continue
      const observation = this.list.push({ near, location, command }) - 1
      this.note(action.here, action, observation, -1)
      this.note(action.onTheWay, NOTHING, observation, 0)
    }
    yield* this.observeDeadEnds()
    events.asked.set(this.asked)
  }

  /** From which states at a location commands go, by which something can be seen. */
  private *observeAt(location: number, set: number, seen: Seen[]): Slices<void> {
    const { search } = this
    // of commands that are applied all at once none goes from there where they lead nowhere from there
    const idle = new Set<GuardedCommand>()
    for (const group of search.groupsOf(location)) {
      const commands = group.commands.flatMap(({ parts }) => parts)
      if (commands.length < MANY_AT_ONCE) continue
      if (!commands.some(({ action }) => this.isNews(action))) continue
      yield
      if (!search.leadsAny(group, set)) for (const one of commands) idle.add(one)
    }
    for (const command of search.commandsOf(location)) {
      const { action } = command
      if (idle.has(command) || !this.isNews(action)) continue
      // what is seen by others that are as near is not looked for
      const below = this.farthest(action)
      if (below <= 0) continue
      yield
      const near = search.nearestBefore(command, set, below)
      if (near === undefined) continue
      seen.push({ near, location, command, order: action.decision === MOVE ? 0 : 1 })
      this.eachIn(action, (name, later) => {
        const distance = near.distance + later
        if (distance < (this.nearest.get(name) ?? Infinity)) this.nearest.set(name, distance)
      })
    }
  }

  /** From which distance on nothing is seen by an action that was not seen as near by others. */
  private farthest(action: Action): number {
    let farthest = 0
    this.eachIn(action, (name, later) => {
      farthest = Math.max(farthest, (this.nearest.get(name) ?? Infinity) - later)
    })
    return farthest
  }

  /** All that can be seen by an action, each under a number, and after how many decisions more. */
  private eachIn({ here, onTheWay, asked, shut, decision }: Action, hear: (name: number, later: number) => void): void {
    for (const event of here) hear(event, 0)
    for (const event of onTheWay) hear(event, decision === MOVE ? 0 : 1)
    for (const [condition, outcome] of asked)
      for (const one of [FALSE, TRUE]) if ((outcome & one) !== 0) hear(-1 - (2 * condition + one - 1), 0)
    for (const condition of shut) hear(-1 - 2 * condition, 0)
  }

  /** Whether something that happens with it has not been noted yet. */
  private isNews({ here, onTheWay, asked, shut }: Action): boolean {
    const { occurred } = this.search.events
    const isNew = (event: number) => occurred[event] === 0
    const isNewOutcome = (one: number, how: number) => (this.asked[one]! & how) !== how
    return (
      here.some(isNew) ||
      onTheWay.some(isNew) ||
      asked.some(([one, how]) => isNewOutcome(one, how)) ||
      shut.some((one) => isNewOutcome(one, FALSE))
    )
  }

  private *observeDeadEnds(): Slices<void> {
    const { distances, events, reached, story } = this.search
    const found: Observation[] = []
    for (const [location, set] of reached) {
      yield
      if (isEnding(story, location)) continue
      const near = distances.nearest(location, this.search.stuckIn(location, set))
      if (near !== undefined) found.push({ near, location, command: undefined })
    }
    for (const one of found.sort((a, b) => a.near.step - b.near.step)) {
      const event = events.number('dead-end', story.beats[one.location % story.beats.length]!.address)
      if (events.occurred[event] === 1) continue
      events.state = this.list.push(one) - 1
      events.pick = -1
      events.record(event)
    }
  }

  /** Events and outcomes of conditions that go with an observation, or with a beginning (a negative number). */
  note(
    occurring: readonly number[],
    { asked, shut }: Pick<Action, 'asked' | 'shut'>,
    observation: number,
    pick: number,
  ): void {
    const { events } = this.search
    events.state = observation
    events.pick = pick
    for (const event of occurring) events.record(event)
    for (const [condition, outcome] of asked) this.asked[condition]! |= outcome
    for (const condition of shut) this.asked[condition]! |= FALSE
  }
}
