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

/** One way through something that is played: what must hold for it, what the game gives, and what it sets. */
export interface Path<T> extends Demand {
  readonly given: readonly Assignment[]
  readonly writes: readonly Assignment[]
  readonly outcome: T
}

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
  /** Each time the point that was asked about was come to: what is known of slots by what was asked and set until then. */
  readonly passed: readonly (readonly Assignment[])[]
}

/** Stands for a decision where something given changes. */
export const MOVE = -1

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
/** Choices of a beat that are asked about together, at least. */
const CHOICES_TOGETHER = 2
/** A condition on one slot of up to so many values is told apart by them, as others may ask for it too. */
const FEW = 16

interface Standing {
  readonly location: number
  readonly base: Int32Array
  readonly held: ReadonlySet<number>
  /** Slots that the game gives, and that states do not hold. */
  readonly inputs: ReadonlySet<number>
}

/** A way to begin: where the story rests first, with what the game gave and set on the way. */
export interface Beginning {
  readonly location: number
  readonly values: readonly number[]
  readonly given: readonly Assignment[]
  readonly onTheWay: readonly number[]
  readonly asked: readonly Assignment[]
  /** Whether a point was come to. */
  readonly isPassed: boolean
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
  /** What a slot is changed to in what is being played. */
  private pick: (slot: number) => number = () => 0
  /** By the choices that it asks about: whether one of them is open. */
  private readonly offers = new Map<string, Expr>()
  /** Whether it is heard what is known when a point is come to: then everything is asked one after another. */
  private isPointAsked = false
  /** By condition: what asks it of the values. */
  private readonly tests = new Map<Expr, () => boolean>()
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
    this.engine = new Engine(story, slots, followed, search.givens.plan, {
      values: this.values.watched,
      bare: this.values.bare,
      Compiler: WatchedCompiler,
    })
    this.compiler = this.engine.compiler as WatchedCompiler
  }

  /** Every way to begin a playthrough; `hear` is told what slots hold each time a point is come to. Undefined where there are too many. */
  begin(point?: Point, hear: (values: Int32Array) => void = () => undefined): Beginning[] | undefined {
    const { machine, events } = this.engine
    const { slots, givens } = this.search
    const { begin, held, free } = givens.plan
    const standing: Standing = {
      location: -1,
      base: Int32Array.from(slots.all, ({ initial }) => initial),
      held: new Set(),
      inputs: new Set([...begin, ...held, ...free]),
    }
    let found: Beginning[] | undefined
    this.tell((shows) => {
      found = this.paths(standing, () => {
        events.asked.fill(0)
        let location = -1
        let isPassed = false
        const onTheWay = this.listening(
          point,
          () => {
            isPassed = true
            hear(this.values.bare)
          },
          () => [...shows(() => (location = machine.resume(this.story.start, -1)))],
        )
        return {
          location,
          values: [...this.values.bare],
          onTheWay: this.withEndless(onTheWay, location),
          asked: this.askedNow(),
          isPassed,
        }
      })?.map(({ given, outcome }) => ({ ...outcome, given }))
    })
    return found
  }

  /**
   * What can be decided at a location, and what happens then; undefined where there are too many ways.
   * With `point`, also what some slots are each time it is come to.
   */
  at(location: number, point?: Point, slots: readonly number[] = []): Action[] | undefined {
    const { machine, events, programs } = this.engine
    const { length } = this.story.beats
    const stuck = location >= length
    const program = programs.of(location % length)
    const found: Action[] = []
    const play = (decision: number, isOpen: () => boolean, go: () => number): boolean => {
      let paths: Path<Omit<Action, 'guards' | 'conditions' | 'writes' | 'given' | 'decision'>>[] | undefined
      this.tell((shows) => {
        paths = this.paths(this.standingAt(location), () => {
          events.asked.fill(0)
          let to = CLOSED
          const passed: Assignment[][] = []
          const [here, onTheWay] = this.listening(
            point,
            () => passed.push(this.values.known(slots)),
            () => [[...shows(() => isOpen() && (to = 0))], to === CLOSED ? [] : [...shows(() => (to = go()))]],
          )
          const goesOn = decision === MOVE ? to !== location || machine.isOffered : to !== CLOSED
          return { to, here, onTheWay: this.withEndless(onTheWay, to), asked: this.askedNow(), passed, goesOn }
        })
      })
      if (paths === undefined) return false
      for (const { guards, conditions, writes, given, outcome } of paths)
        found.push({ guards, conditions, writes, given, ...outcome, decision })
      return true
    }
    if (!this.moves(location, program.asks && !stuck, play)) return undefined
    if (stuck) return found
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

  /** What comes of changes of what is given; false where there are too many. */
  private moves(
    location: number,
    isAtWord: boolean,
    play: (decision: number, isOpen: () => boolean, go: () => number) => boolean,
  ): boolean {
    const { givens } = this.search
    const { held } = givens.plan
    const beat = location % this.story.beats.length
    if (held.length === 0 && (isAtWord || !this.search.canMoveAt(beat))) return true
    return play(
      MOVE,
      () => true,
      () => {
        for (const slot of held) this.values.watched[slot] = this.pick(slot)
        return isAtWord ? location : this.engine.machine.comeAgain(beat, location !== beat)
      },
    )
  }

  /** The values for which a condition holds in states resting at a location; undefined where there are too many. */
  valuesFor(location: number, expr: Expr): (readonly Assignment[])[] | undefined {
    return this.paths(this.standingAt(location), this.compiler.bareTest(expr))?.flatMap(({ guards, outcome }) =>
      outcome ? [guards] : [],
    )
  }

  /** Every way through something that is played where a state rests; undefined where there are too many. */
  private paths<T>({ base, held, inputs }: Standing, play: () => T): Path<T>[] | undefined {
    const { slots } = this.search
    const { bare } = this.values
    const found: Path<T>[] = []
    const waiting: Demand[] = [{ guards: [], conditions: [] }]
    for (let demand = waiting.pop(); demand !== undefined; demand = waiting.pop()) {
      if (found.length + waiting.length > PATHS_MAX) return undefined
      if (found.length % PATHS_LOOK === 0 && this.isOver()) return undefined
      bare.set(base)
      this.engine.machine.wasPutBack()
      const guards = [...demand.guards]
      const conditions = [...demand.conditions]
      for (const [slot, value] of guards) if (slot >= 0) bare[slot] = value
      const free = new Set([...held, ...inputs])
      for (const [slot] of guards) free.delete(slot)
      this.values.onRead = (slot) => {
        if (!free.delete(slot)) return
        const [first, ...others] = inputs.has(slot) ? this.optionsOf(slot) : valuesOf(slots.all[slot]!)
        for (const value of others) waiting.push({ guards: [...guards, [slot, value]], conditions: [...conditions] })
        guards.push([slot, first!])
      }
      // what a slot is changed to stands among the guards under a number of its own
      this.pick = (slot) => {
        const known = guards.find(([own]) => own === changeOf(slot))
        if (known !== undefined) return known[1]
        const [first, ...others] = this.optionsOf(slot)
        for (const value of others)
          waiting.push({ guards: [...guards, [changeOf(slot), value]], conditions: [...conditions] })
        guards.push([changeOf(slot), first!])
        return first!
      }
      this.compiler.decide = (expr) => {
        const asked = this.slotsIn(expr)
        if (asked.some((slot) => this.values.isWritten(slot) || inputs.has(slot))) return undefined
        const known = conditions.find(([other]) => other === expr)
        if (known !== undefined) return known[1]
        if (!this.isBetterDecided(asked.filter((slot) => free.has(slot)))) return undefined
        waiting.push({ guards: [...guards], conditions: [...conditions, [expr, true]] })
        conditions.push([expr, false])
        return false
      }
      const knows = (slot: number) =>
        slot === -1 ||
        this.values.isWritten(slot) ||
        (!inputs.has(slot) && (!held.has(slot) || guards.some(([own]) => own === slot)))
      this.engine.machine.offers = (beat) => {
        if (this.isPointAsked) return undefined
        const found = this.offered(beat, knows)
        if (typeof found !== 'object') return found
        const known = conditions.find(([other]) => other === found.some)
        if (known === undefined) {
          waiting.push({ guards: [...guards], conditions: [...conditions, [found.some, true]] })
          conditions.push([found.some, false])
        }
        if (known?.[1] === true) return true
        const { asked } = this.engine.events
        for (const event of found.gates) asked[event]! |= 1
        return false
      }
      let outcome: T
      try {
        outcome = this.values.watch(play)
      } finally {
        this.engine.machine.offers = undefined
        this.compiler.decide = undefined
        this.values.onRead = () => undefined
      }
      const isGiven = ([slot]: Assignment) => slot < 0 || inputs.has(slot)
      const writes = this.values.writes.map((slot): Assignment => [slot, bare[slot]!])
      const own = guards.filter((one) => !isGiven(one))
      const left = this.leftOpen(conditions, own, base)
      if (left === undefined) continue
      const given = guards.filter(isGiven).map(([slot, value]): Assignment => [slot < 0 ? changeOf(slot) : slot, value])
      found.push({ guards: own, given, conditions: left, writes, outcome })
    }
    return found
  }

  /**
   * Whether some choice of a beat is open: as far as it is known, or as one condition on what is not, so that not every choice
   * parts the way; `gates`: of these, those that are asked and false if it is not so. Undefined where it takes more than that.
   */
  private offered(
    beat: number,
    knows: (slot: number) => boolean,
  ): { readonly some: Expr; readonly gates: readonly number[] } | boolean | undefined {
    const { choices } = this.engine.programs.of(beat)
    if (choices.length < CHOICES_TOGETHER) return undefined
    const parts: Expr[] = []
    const gates: number[] = []
    const names: string[] = []
    // looked at first, as asking a condition that is known is noted
    const open = this.story.beats[beat]!.choices.map(({ when, address }, at) => {
      const choice = choices[at]!
      const slots = when?.expr === undefined ? [] : this.slotsIn(when.expr)
      return { choice, expr: when?.expr, address, slots, isKnown: slots.every(knows) }
    })
    const isPlain = open.every(
      ({ choice, isKnown, slots }) =>
        choice.rules === undefined &&
        choice.to >= 0 &&
        (isKnown || (!choice.once && !slots.some((slot) => slot !== -1 && this.values.isWritten(slot)))),
    )
    if (!isPlain) return undefined
    for (const { choice, expr, address, isKnown } of open) {
      if (!isKnown) {
        parts.push(expr!)
        gates.push(choice.event)
        names.push(address)
        continue
      }
      if (choice.when !== undefined && !choice.when()) continue
      if (!choice.once) return true
      if (!knows(choice.taken)) {
        const span = { start: 0, end: 0 }
        parts.push({ ...span, kind: 'not', operand: { ...span, kind: 'taken', choice: address } })
        names.push(`!${address}`)
      } else if (this.values.bare[choice.taken] === 0) return true
    }
    if (parts.length === 0) return false
    const key = names.join(' ')
    const span = { start: 0, end: 0 }
    const some = this.offers.get(key) ?? parts.reduce((left, right) => ({ ...span, kind: 'or', left, right }))
    this.offers.set(key, some)
    return { some, gates }
  }

  /** Of conditions those that guards do not settle; undefined where guards say otherwise than one of them. */
  private leftOpen(
    conditions: readonly Decided[],
    guards: readonly Assignment[],
    base: Int32Array,
  ): readonly Decided[] | undefined {
    const known = new Set(guards.map(([slot]) => slot))
    const isSettled = ([expr]: Decided) => this.slotsIn(expr).every((slot) => known.has(slot))
    if (!conditions.some(isSettled)) return conditions
    const { bare } = this.values
    bare.set(base)
    for (const [slot, value] of guards) bare[slot] = value
    const isWrong = ([expr, outcome]: Decided) => this.testOf(expr)() !== outcome
    return conditions.some((one) => isSettled(one) && isWrong(one))
      ? undefined
      : conditions.filter((one) => !isSettled(one))
  }

  private testOf(expr: Expr): () => boolean {
    const known = this.tests.get(expr) ?? this.compiler.bareTest(expr)
    this.tests.set(expr, known)
    return known
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
    this.isPointAsked = point !== undefined
    return machine.watching(point?.beat ?? -1, hear, () => programs.watching(point?.condition ?? -1, hear, play))
  }

  /** What the working vector is at a location before anything is tried, and the slots that states there hold. */
  private standingAt(location: number): Standing {
    if (this.standing?.location === location) return this.standing
    const { slots, layout } = this.search
    const base = Int32Array.from(slots.all, ({ index }) => layout.knownAt(location, index))
    const held = new Set(layout.fieldsOf(location).map(({ slot }) => slot))
    for (const slot of held) base[slot] = slots.all[slot]!.min
    const inputs = new Set(this.search.givens.plan.free)
    return (this.standing = { location, base, held, inputs })
  }

  private optionsOf(slot: number): readonly number[] {
    const one = this.search.slots.all[slot]!
    return (one.kind === 'entry' ? one.given?.options : undefined) ?? []
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

/** The number under which a change of a slot stands among guards, and back. */
function changeOf(slot: number): number {
  return -1 - slot
}

function valuesOf({ min, max }: { readonly min: number; readonly max: number }): number[] {
  return Array.from({ length: max - min + 1 }, (_, at) => min + at)
}
