import { inOneGo, type Slices } from '../../../base/slices'
import { ENDLESS, type Machine } from '../../interpreter/machine'
import type { Assignment, Demand } from './demand'
import { nothingTried, PathFinder, type Path } from './path-finder'
import { standing, type Standing } from './standing'

export { ENDLESS }

/** What happens at a resting place where something holds. */
export interface Action extends Demand {
  readonly writes: readonly Assignment[]
  /** The choice, by its place in the beat, or the value of the word; MOVE where something given changes. */
  readonly decision: number
  /** What the game gives for it. */
  readonly given: readonly Assignment[]
  /** Whether the story can go on from there: a choice is open, or it goes somewhere. */
  readonly goesOn: boolean
  /** Where it leads: a location, or one of the two below. */
  readonly to: number
  /** Marks of the state itself, and of the run from there. */
  readonly here: readonly number[]
  readonly onTheWay: readonly number[]
  /** Conditions that are asked, by the numbers of their parts, with how they turn out. */
  readonly asked: readonly Assignment[]
  /** Conditions that are asked and false, beside those. */
  readonly shut: readonly number[]
  /** Each time the point that was asked about was come to: what is known of slots by what was asked and set until then. */
  readonly passed: readonly (readonly Assignment[])[]
}

/** Stands for a decision where something given changes. */
export const MOVE = -1

/** The choice is closed. */
export const CLOSED = -2

/** What is asked on a way, apart from where it leads. */
const SEEN_ALONE = { writes: [], goesOn: false, to: CLOSED, here: [], onTheWay: [], asked: [], passed: [] }

/** A moment of the play: when the lines of a beat have been shown, or when a condition is asked. */
export interface Point {
  readonly beat?: number
  /** By the number of its part. */
  readonly condition?: number
}

/** A way to begin: where the story rests first, with what the game gave and set on the way. */
export interface Beginning {
  readonly location: number
  readonly values: readonly number[]
  readonly given: readonly Assignment[]
  readonly onTheWay: readonly number[]
  readonly asked: readonly Assignment[]
  readonly shut: readonly number[]
  /** Each time the point that was asked about was come to: what the slots that were asked about hold then. */
  readonly passed: readonly (readonly Assignment[])[]
}

/** A decision that is played, and what is heard of on the way. */
interface Played {
  readonly point: Point | undefined
  readonly slots: readonly number[]
  readonly decision: number
  readonly isOpen: () => boolean
  readonly go: () => number
}

/** Ways through what is played that are found before others get their turn. */
const PATHS_A_TURN = 100

/** Finds out what can be decided where the story rests and what it does, by playing it on every path. */
export class Actions extends PathFinder {
  /** Every way to begin a playthrough; `hear` is told what some slots hold each time a point is come to. Undefined where there are too many. */
  *begin(
    point?: Point,
    slots: readonly number[] = [],
    hear: (values: Int32Array) => void = () => undefined,
  ): Slices<Beginning[] | undefined> {
    const { machine, events } = this.engine
    const { begin, held, free } = this.search.givens.plan
    const initial = Int32Array.from(this.search.slots.all, (slot) => slot.initial)
    const before = standing(-1, initial, new Set(), new Set([...begin, ...held, ...free]))
    const paths = yield* this.pathsInTurns(before, (shows) => {
      let location = -1
      const passed: Assignment[][] = []
      const onTheWay = this.listening(
        point,
        () => {
          this.touch(slots, before)
          passed.push(slots.map((slot) => [slot, this.values.bare[slot]!]))
          hear(this.values.bare)
        },
        () => [...shows(() => (location = machine.resume(this.story.start, -1)))],
      )
      return {
        location,
        values: [...this.values.bare],
        onTheWay: this.withEndless(onTheWay, location),
        asked: events.askedSince(),
        passed,
      }
    })
    return paths?.map(({ given, shut, outcome }) => ({ ...outcome, given, shut }))
  }

  /**
   * What can be decided at a location, and what happens then; undefined where there are too many ways.
   * With `point`, also what some slots are each time it is come to.
   */
  at(location: number, point?: Point, slots: readonly number[] = []): Action[] | undefined {
    return inOneGo(this.ways(location, point, slots))
  }

  /** The same; others get their turn after each decision, and where there are many ways through one. */
  *ways(location: number, point?: Point, slots: readonly number[] = []): Slices<Action[] | undefined> {
    const { machine, events, programs } = this.engine
    const { length } = this.story.beats
    const stuck = location >= length
    const program = programs.of(location % length)
    const found: Action[] = []
    const play = (decision: number, isOpen: () => boolean, go: () => number) =>
      this.playing(location, { point, slots, decision, isOpen, go }, found)
    if (!(yield* this.moves(location, program.asks && !stuck, play))) return undefined
    if (stuck) return found
    yield
    if (program.asks) {
      for (const word of program.typable) {
        const isOpen = () => {
          program.prompt?.()
          return true
        }
        if (!(yield* play(word, isOpen, () => machine.say(location, word)))) return undefined
        yield
      }
      return found
    }
    for (const [number, choice] of program.choices.entries()) {
      const isOpen = () => {
        const open = machine.isOpen(choice)
        if (open) events.record(choice.event)
        if (open || choice.shownClosed) choice.shown?.()
        return open
      }
      if (!(yield* play(number, isOpen, () => machine.take(location, choice)))) return undefined
      yield
    }
    return found
  }

  /** Adds every way through a decision at a location to those that were found; false where there are too many. */
  private *playing(location: number, { point, slots, decision, isOpen, go }: Played, found: Action[]): Slices<boolean> {
    const { machine, events } = this.engine
    const standing = this.standingAt(location)
    const paths = yield* this.pathsInTurns(standing, (shows) => {
      let to = CLOSED
      const passed: Assignment[][] = []
      const [here, onTheWay] = this.listening(
        point,
        () => {
          this.touch(slots, standing)
          passed.push(this.values.known(slots))
        },
        () => [[...shows(() => isOpen() && (to = 0))], to === CLOSED ? [] : [...shows(() => (to = go()))]],
      )
      const goesOn = decision === MOVE ? to !== location || machine.isOffered : to !== CLOSED
      return { to, here, onTheWay: this.withEndless(onTheWay, to), asked: events.askedSince(), passed, goesOn }
    })
    if (paths === undefined) return false
    for (const { guards, ranges, conditions, writes, given, outcome, closed, shut } of paths) {
      found.push({ guards, ranges, conditions, writes, given, shut, ...outcome, decision })
      for (const [event, more] of closed)
        found.push({
          ...SEEN_ALONE,
          guards,
          ranges,
          conditions: more,
          given,
          shut: [event],
          decision,
        })
    }
    return true
  }

  /** What comes of something that is played where states stand, and is no decision; undefined where there are too many ways. */
  *played(location: number, go: (values: Int32Array, machine: Machine) => number): Slices<Action[] | undefined> {
    const { machine } = this.engine
    const paths = yield* this.pathsInTurns(this.standingAt(location), (shows) => {
      let to = CLOSED
      const onTheWay = [...shows(() => (to = go(this.values.watched, machine)))]
      return { to, here: [], onTheWay, asked: [], passed: [], goesOn: true }
    })
    return paths?.map(({ outcome, ...path }) => ({ ...path, ...outcome, decision: MOVE }))
  }

  /** What comes of changes of what is given; false where there are too many. */
  private *moves(
    location: number,
    isAtWord: boolean,
    play: (decision: number, isOpen: () => boolean, go: () => number) => Slices<boolean>,
  ): Slices<boolean> {
    const { givens } = this.search
    const { held } = givens.plan
    const beat = location % this.story.beats.length
    if (held.length === 0 && (isAtWord || !this.search.canMoveAt(beat))) return true
    return yield* play(
      MOVE,
      () => true,
      () => {
        for (const slot of held) this.values.watched[slot] = this.pick(slot)
        const { machine } = this.engine
        if (!isAtWord && this.search.canMoveAt(beat)) return machine.comeAgain(beat, location !== beat)
        machine.isOffered = false
        return location
      },
    )
  }

  /**
   * Every way through something that is played to see what is shown and asked, with what was known of that left as it is; undefined
   * where there are too many. Others get their turn where there are many.
   */
  private *pathsInTurns<T>(
    from: Standing,
    play: (shows: (again: () => void) => readonly number[]) => T,
  ): Slices<Path<T>[] | undefined> {
    const { events } = this.engine
    const tried = nothingTried<T>()
    while (tried.waiting.length > 0) {
      let isPossible = false
      events.askingAnew(() =>
        events.recording((shows) => {
          const once = () => {
            events.forgetAsked()
            return play(shows)
          }
          isPossible = this.tryPaths(from, once, tried, PATHS_A_TURN)
        }),
      )
      if (!isPossible) return undefined
      if (tried.waiting.length > 0) yield
    }
    return tried.found
  }

  /** Plays something and hears each time that a point is come to. */
  private listening<T>(point: Point | undefined, hear: () => void, play: () => T): T {
    const { machine, programs } = this.engine
    this.heard = point?.condition ?? -1
    return machine.watching(point?.beat ?? -1, hear, () => programs.watching(point?.condition ?? -1, hear, play))
  }

  /** Of some slots, those that the game gives, and counters that may have more than one, have one of their values each from here on. */
  private touch(slots: readonly number[], { inputs }: Standing): void {
    for (const slot of slots) if (inputs.has(slot) || this.ranges.has(slot)) void this.values.watched[slot]
  }

  private withEndless(events: number[], location: number): number[] {
    if (location === ENDLESS)
      events.push(this.engine.events.number('endless', this.story.beats[this.engine.machine.firstOfCycle]!.address))
    return events
  }
}
