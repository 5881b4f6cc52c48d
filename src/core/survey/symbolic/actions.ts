import type { Expr } from '../../expression/ast'
import type { LinkedStory } from '../../story/linked'
import type { Followed } from '../interpreter/compile'
import { Engine } from '../interpreter/engine'
import { ENDLESS } from '../interpreter/machine'
import type { Search } from '../explicit/search'
import { variablesOf, variablesRead } from '../summaries/variables'
import { WatchedCompiler } from './watched-compiler'
import { WatchedValues } from './watched-values'

/** A slot with a value. */
export type Assignment = readonly [slot: number, value: number]

/** A condition with how it turns out. */
export type Decided = readonly [expr: Expr, outcome: boolean]

/** What must hold in a state. */
export interface Demand {
  readonly guards: readonly Assignment[]
  readonly conditions: readonly Decided[]
}

/** One way through something that is played: what must hold for it, and what it sets. */
export interface Path<T> extends Demand {
  readonly writes: readonly Assignment[]
  readonly outcome: T
}

/** What happens at a resting place where something holds. */
export interface Action extends Demand {
  readonly writes: readonly Assignment[]
  /** The choice, by its place in the beat, or the value of the word. */
  readonly decision: number
  /** Where it leads: a location, or one of the two below. */
  readonly to: number
  /** Marks of the state itself, and of the run from there. */
  readonly here: readonly number[]
  readonly onTheWay: readonly number[]
  /** Conditions that are asked, by the numbers of their parts, with how they turn out. */
  readonly asked: readonly Assignment[]
  /** Each time the point that was asked about was come to: what is known of slots by what was asked and set until then. */
  readonly passed: readonly (readonly Assignment[])[]
}

/** The choice is closed. */
export const CLOSED = -2
export { ENDLESS }

/** A moment of the play: when the lines of a beat have been shown, or when a condition is asked. */
export interface Point {
  readonly beat?: number
  /** By the number of its part. */
  readonly condition?: number
}

/** Ways through one decision beyond which it is given up. */
const PATHS_MAX = 20_000
/** Ways between two looks whether time is left. */
const PATHS_LOOK = 64
/** A condition on one slot of up to so many values is told apart by them, as others may ask for it too. */
const FEW = 16

interface Standing {
  readonly location: number
  readonly base: Int32Array
  readonly held: ReadonlySet<number>
}

/**
 * Finds out what decisions do by playing them in the interpreter: first with the smallest values of all
 * that is read and with conditions on several slots false, then with the other answer to what was asked
 * last, and so on, so that each way through is played once, and what it does not ask for may be anything.
 */
export class Actions {
  readonly engine: Engine
  private readonly values: WatchedValues
  private readonly compiler: WatchedCompiler
  private standing: Standing | undefined
  /** By condition: the slots that it reads. */
  private readonly slotsOf = new Map<Expr, readonly number[]>()

  constructor(
    private readonly story: LinkedStory,
    private readonly search: Search,
    followed: Followed,
    /** Says that there is no time or memory left: then there are too many ways. */
    private readonly isOver: () => boolean = () => false,
  ) {
    const { slots } = search
    this.values = new WatchedValues(slots.all.length)
    this.engine = new Engine(story, slots, followed, {
      values: this.values.watched,
      bare: this.values.bare,
      Compiler: WatchedCompiler,
    })
    this.compiler = this.engine.compiler as WatchedCompiler
  }

  /** Begins a playthrough; gives where it rests first, and what is seen on the way. `hear` is told what slots hold each time a point is come to. */
  begin(
    point?: Point,
    hear: (values: Int32Array) => void = () => undefined,
  ): {
    readonly location: number
    readonly values: readonly number[]
    readonly onTheWay: readonly number[]
    readonly asked: readonly Assignment[]
  } {
    const { machine, events } = this.engine
    let location = -1
    let onTheWay: readonly number[] = []
    let asked: readonly Assignment[] = []
    this.listening(
      point,
      () => hear(this.values.bare),
      () =>
        this.tell((shows) => {
          events.asked.fill(0)
          onTheWay = this.withEndless([...shows(() => (location = machine.begin(this.story.start)))], location)
          asked = this.askedNow()
        }),
    )
    return { location, values: [...this.values.bare], onTheWay, asked }
  }

  /**
   * What can be decided at a location, and what happens then; undefined where there are too many ways.
   * With `point`, also what some slots are each time it is come to.
   */
  at(location: number, point?: Point, slots: readonly number[] = []): Action[] | undefined {
    const { machine, events, programs } = this.engine
    const program = programs.of(location)
    const found: Action[] = []
    const play = (decision: number, isOpen: () => boolean, go: () => number): boolean => {
      let paths: Path<Pick<Action, 'to' | 'here' | 'onTheWay' | 'asked' | 'passed'>>[] | undefined
      this.tell((shows) => {
        paths = this.paths(location, () => {
          events.asked.fill(0)
          let to = CLOSED
          const passed: Assignment[][] = []
          const [here, onTheWay] = this.listening(
            point,
            () => passed.push(this.values.known(slots)),
            () => [[...shows(() => isOpen() && (to = 0))], to === CLOSED ? [] : [...shows(() => (to = go()))]],
          )
          return { to, here, onTheWay: this.withEndless(onTheWay, to), asked: this.askedNow(), passed }
        })
      })
      if (paths === undefined) return false
      for (const { guards, conditions, writes, outcome } of paths)
        found.push({ guards, conditions, writes, ...outcome, decision })
      return true
    }
    if (program.asks) {
      for (const word of program.typable) {
        const isOpen = () => {
          program.prompt?.()
          return true
        }
        if (!play(word, isOpen, () => machine.say(location, word))) return undefined
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
      if (!play(number, isOpen, () => machine.take(location, choice))) return undefined
    }
    return found
  }

  /** The values for which a condition holds in states resting at a location; undefined where there are too many. */
  valuesFor(location: number, expr: Expr): (readonly Assignment[])[] | undefined {
    return this.paths(location, this.compiler.bareTest(expr))?.flatMap(({ guards, outcome }) =>
      outcome ? [guards] : [],
    )
  }

  /** Every way through something that is played in a state resting at a location; undefined where there are too many. */
  private paths<T>(location: number, play: () => T): Path<T>[] | undefined {
    const { slots } = this.search
    const { bare } = this.values
    const { base, held } = this.standingAt(location)
    const found: Path<T>[] = []
    const waiting: Demand[] = [{ guards: [], conditions: [] }]
    for (let demand = waiting.pop(); demand !== undefined; demand = waiting.pop()) {
      if (found.length + waiting.length > PATHS_MAX) return undefined
      if (found.length % PATHS_LOOK === 0 && this.isOver()) return undefined
      bare.set(base)
      this.engine.machine.wasPutBack()
      const guards = [...demand.guards]
      const conditions = [...demand.conditions]
      for (const [slot, value] of guards) bare[slot] = value
      const free = new Set(held)
      for (const [slot] of guards) free.delete(slot)
      this.values.onRead = (slot) => {
        if (!free.delete(slot)) return
        const { min, max } = slots.all[slot]!
        for (let value = min + 1; value <= max; value += 1)
          waiting.push({ guards: [...guards, [slot, value]], conditions: [...conditions] })
        guards.push([slot, min])
      }
      this.compiler.decide = (expr) => {
        const asked = this.slotsIn(expr)
        if (asked.some((slot) => this.values.isWritten(slot))) return undefined
        const known = conditions.find(([other]) => other === expr)
        if (known !== undefined) return known[1]
        if (!this.isBetterDecided(asked.filter((slot) => free.has(slot)))) return undefined
        waiting.push({ guards: [...guards], conditions: [...conditions, [expr, true]] })
        conditions.push([expr, false])
        return false
      }
      let outcome: T
      try {
        outcome = this.values.watch(play)
      } finally {
        this.compiler.decide = undefined
        this.values.onRead = () => undefined
      }
      found.push({
        guards,
        conditions,
        writes: this.values.writes.map((slot): Assignment => [slot, bare[slot]!]),
        outcome,
      })
    }
    return found
  }

  /** Plays to see what is shown and asked, with what was known of that left as it is. */
  private tell(play: (shows: (again: () => void) => readonly number[]) => void): void {
    const { events } = this.engine
    const asked = events.asked.slice()
    try {
      events.recording(play)
    } finally {
      events.asked.set(asked)
    }
  }

  /** Plays something and hears each time that a point is come to. */
  private listening<T>(point: Point | undefined, hear: () => void, play: () => T): T {
    const { machine, programs } = this.engine
    return machine.watching(point?.beat ?? -1, hear, () => programs.watching(point?.condition ?? -1, hear, play))
  }

  /** What the working vector is at a location before anything is tried, and the slots that states there hold. */
  private standingAt(location: number): Standing {
    if (this.standing?.location === location) return this.standing
    const { slots, layout } = this.search
    const base = Int32Array.from(slots.all, ({ index }) => layout.knownAt(location, index))
    const held = new Set(layout.fieldsOf(location).map(({ slot }) => slot))
    for (const slot of held) base[slot] = slots.all[slot]!.min
    return (this.standing = { location, base, held })
  }

  private slotsIn(expr: Expr): readonly number[] {
    const known = this.slotsOf.get(expr)
    if (known !== undefined) return known
    const { story, search } = this
    const slots = [
      ...new Set(variablesRead(story, variablesOf(story), expr).map((variable) => search.slots.ofVariable[variable]!)),
    ]
    this.slotsOf.set(expr, slots)
    return slots
  }

  /** Whether it is better to take a condition as true or false than to try the values that it asks for and that are not known: where there are several, or one that can have many. */
  private isBetterDecided(open: readonly number[]): boolean {
    if (open.length !== 1) return open.length > 1
    const { min, max } = this.search.slots.all[open[0]!]!
    return max - min >= FEW
  }

  private askedNow(): Assignment[] {
    const { asked } = this.engine.events
    const found: Assignment[] = []
    for (let number = 0; number < asked.length; number += 1)
      if (asked[number] !== 0) found.push([number, asked[number]!])
    return found
  }

  private withEndless(events: number[], location: number): number[] {
    if (location === ENDLESS)
      events.push(this.engine.events.number('endless', this.story.beats[this.engine.machine.firstOfCycle]!.address))
    return events
  }
}
