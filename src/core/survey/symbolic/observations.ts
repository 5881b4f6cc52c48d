import type { LinkedStory } from '../../story/linked'
import type { EventLog } from '../interpreter/events'
import { MOVE, type Action } from './actions'
import type { Assignment } from './path-finder'
import { isEnding, type CommandGroup, type GuardedCommand } from './commands'
import { EMPTY } from './node-table'
import type { Level, Sets } from './state-sets'

/** States of one level from which something was seen. */
export interface Observation {
  /** The level. */
  readonly depth: number
  readonly location: number
  readonly set: number
  /** What is decided there, or undefined for what is seen in the state itself. */
  readonly command: GuardedCommand | undefined
}

/** What observations are made of. */
export interface Observable {
  readonly story: LinkedStory
  readonly events: EventLog
  readonly levels: readonly Level[]
  readonly reached: Sets
  commandsOf(location: number): readonly GuardedCommand[]
  groupsOf(location: number): readonly CommandGroup[]
  /** Where any of some commands leads from some states. */
  afterAny(group: CommandGroup, set: number): number
  /** Those of some states from which a command goes. */
  before(command: GuardedCommand, set: number): number
  /** Those of some states at a location from which the story can't go on. */
  stuckIn(location: number, set: number): number
}

/** What was seen where first: an event's witness is the number of an observation. */
export class Observations {
  private readonly list: Observation[] = []
  private readonly asked: Uint8Array

  constructor(private readonly search: Observable) {
    this.asked = new Uint8Array(search.events.asked.length)
  }

  at(number: number): Observation {
    return this.list[number]!
  }

  /** Notes what can be seen at each location and of each command, where that is first so. */
  *make(): Generator<void, void> {
    const { levels, reached } = this.search
    const waiting = new Map<number, Set<GuardedCommand>>()
    const possible = new Set<GuardedCommand>()
    for (const location of reached.keys()) waiting.set(location, new Set(this.search.commandsOf(location)))
    for (let first = 0; first < levels.length;) {
      let end = first
      while (end < levels.length && levels[end]!.distance === levels[first]!.distance) end += 1
      for (const isMove of [true, false])
        for (let depth = first; depth < end; depth += 1)
          for (const [location, set] of levels[depth]!.sets)
            yield* this.observeAt({ depth, location, set }, isMove, waiting.get(location)!, possible)
      first = end
    }
    yield* this.observeDeadEnds()
    this.search.events.asked.set(this.asked)
  }

  private *observeAt(
    { depth, location, set }: Pick<Observation, 'depth' | 'location' | 'set'>,
    isMove: boolean,
    waiting: Set<GuardedCommand>,
    possible: Set<GuardedCommand>,
  ): Generator<void, void> {
    const { search } = this
    // of commands that are applied all at once none goes from there where they lead nowhere from there
    const idle = new Set<GuardedCommand>()
    for (const group of search.groupsOf(location)) {
      if (group.isMove !== isMove || !group.commands.some((one) => waiting.has(one) && this.isNews(one.action)))
        continue
      yield
      if (search.afterAny(group, set) === EMPTY) for (const one of group.commands) idle.add(one)
    }
    for (const command of waiting) {
      const { action } = command
      if ((action.decision === MOVE) !== isMove) continue
      if (this.isNews(action)) {
        if (idle.has(command)) continue
        yield
        if (search.before(command, set) === EMPTY) {
          // what goes from none of all states is not looked at again
          if (possible.has(command)) continue
          if (search.before(command, search.reached.get(location)!) === EMPTY) waiting.delete(command)
          else possible.add(command)
          continue
        }
        const observation = this.list.push({ depth, location, set, command }) - 1
        this.note(action.here, action.asked, observation, -1)
        this.note(action.onTheWay, [], observation, 0)
      }
      waiting.delete(command)
    }
  }

  /** Whether something that happens with it has not been noted yet. */
  private isNews({ here, onTheWay, asked }: Action): boolean {
    const { occurred } = this.search.events
    const isNew = (event: number) => occurred[event] === 0
    return here.some(isNew) || onTheWay.some(isNew) || asked.some(([one, how]) => (this.asked[one]! & how) !== how)
  }

  private *observeDeadEnds(): Generator<void, void> {
    const { search } = this
    const { events, levels, story } = search
    const stuck = new Set<number>()
    for (const [location, set] of search.reached) {
      yield
      if (!isEnding(story, location) && search.stuckIn(location, set) !== EMPTY) stuck.add(location)
    }
    if (stuck.size === 0) return
    for (const [depth, { sets }] of levels.entries())
      for (const [location, all] of sets) {
        if (!stuck.has(location)) continue
        const event = events.number('dead-end', story.beats[location % story.beats.length]!.address)
        if (events.occurred[event] === 1) continue
        yield
        const set = search.stuckIn(location, all)
        if (set === EMPTY) continue
        events.state = this.list.push({ depth, location, set, command: undefined }) - 1
        events.pick = -1
        events.record(event)
      }
  }

  /** Events and outcomes of conditions that go with an observation, or with a beginning (a negative number). */
  note(occurring: readonly number[], asked: readonly Assignment[], observation: number, pick: number): void {
    const { events } = this.search
    events.state = observation
    events.pick = pick
    for (const event of occurring) events.record(event)
    for (const [condition, outcome] of asked) this.asked[condition]! |= outcome
  }
}
