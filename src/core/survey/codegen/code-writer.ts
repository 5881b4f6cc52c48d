import type { Condition } from '../../story/linked'
import type { Field } from '../states/layout'
import { HIT, LOG, type LeftRun, type WriterParts } from './code-plan'
import { anyOf, ExpressionWriter } from './expression-writer'
import type { Locals } from './locals'
import { digitsOf, topsOf } from './pack-writer'
import {
  binary,
  call,
  constant,
  either,
  get,
  loadByte,
  not,
  NOTHING,
  OP,
  set,
  storeByte,
  when,
  type Code,
} from './wasm'

/** Gates that are asked together. */
const TOGETHER = 8

/** Where a function has what it plays with: locals of the state's words, and how it reads the rest. */
export interface Standing {
  readonly words: readonly number[]
  readonly at: Code
  readonly index: Code
  readonly pick: Code
}

/** Emits the code of one function: statements, the locals that slots stand in, the events and conditions on the way. */
export abstract class CodeWriter {
  /** False once something was met that is left to the interpreter. */
  supported = true
  /** Whether what was emitted goes one way only, so far. */
  isStraight = true
  /** Where it came to, packed, where it is played within another. */
  successor: readonly Code[] = []
  private code: Code[] = []
  statements = 0
  protected standing: Standing = { words: [], at: NOTHING, index: NOTHING, pick: NOTHING }
  /** How the state that is left holds what it holds. */
  private readonly fields: ReadonlyMap<number, Field>
  /** Slots that are the highest digit of their word. */
  private readonly tops: ReadonlySet<number>
  protected readonly words: ExpressionWriter
  /** By slot: the local that holds it. */
  private readonly used = new Map<number, number>()
  protected readonly written = new Set<number>()
  /** How many events are still recorded when they happen, so far. */
  protected notes = 0
  /** In a trial nothing is marked. */
  protected quiet = false

  constructor(
    protected readonly parts: WriterParts,
    protected readonly beat: number,
    protected readonly locals: Locals,
    protected readonly left: LeftRun[],
    /** What it is played in the middle of, whose locals it reads and leaves as they are; it then must go one way only. */
    protected readonly within?: CodeWriter,
  ) {
    const fields = parts.layout.fieldsOf(beat)
    this.fields = new Map(fields.map((field) => [field.slot, field]))
    this.tops = topsOf(fields)
    this.words = new ExpressionWriter(
      parts.compiler,
      (slot) => this.read(slot),
      () => (this.supported = false),
    )
  }

  standsIn(standing: Standing): void {
    this.standing = standing
  }

  /** All that was emitted, after the slots that it looks at were put into their locals. */
  text(): Code {
    const { layout } = this.parts
    const held = [...this.used].map(([slot, local]) => {
      const field = this.fields.get(slot)
      if (field === undefined) return set(local, constant(layout.knownAt(this.beat, slot)))
      const digit = digitsOf(field, field, this.tops, (word) => get(this.standing.words[word]!))
      return set(local, field.min === 0 ? digit : binary(OP.add, digit, constant(field.min)))
    })
    return [held, this.code]
  }

  /** What was emitted, alone. */
  get bare(): Code {
    return this.code
  }

  emit(code: Code): void {
    this.code.push(code)
    this.statements += 1
  }

  /** Emits what may go more than one way. */
  branch(code: Code): void {
    this.isStraight = false
    this.emit(code)
  }

  /** What `work` emits, to be emitted elsewhere. */
  capture(work: () => void): Code {
    const { code } = this
    this.code = []
    work()
    const captured = this.code
    this.code = code
    return captured
  }

  event(number: number): void {
    if (this.quiet || this.parts.compiler.events.occurred[number] === 1) return
    const address = this.parts.memory.events + number
    this.notes += 1
    this.branch(
      when(not(loadByte(constant(0), address)), [
        storeByte(constant(0), constant(1), address),
        call(HIT, constant(number), this.standing.index, this.standing.pick),
      ]),
    )
  }

  /** The event of the part at an address. */
  part(address: string): number {
    return this.parts.compiler.events.part(address)
  }

  /** Sets a local to whether any of some tests holds, asking one after the other up to the first that does; those that write nothing down are asked together. */
  protected firstThat(local: number, tests: readonly (() => Code)[]): void {
    this.emit(set(local, constant(0)))
    let together: Code[] = []
    const ask = () => {
      if (together.length > 0) this.branch(when(not(get(local)), set(local, anyOf(together))))
      together = []
    }
    for (const test of tests) {
      const before = this.notes
      let value: Code = NOTHING
      const first = this.capture(() => (value = test()))
      if (first.length === 0 && this.notes === before) {
        together.push(value)
        if (together.length === TOGETHER) ask()
        continue
      }
      ask()
      this.branch(when(not(get(local)), [first, set(local, value)]))
    }
    ask()
  }

  protected read(slot: number): Code {
    const known = this.used.get(slot)
    if (known === undefined && this.within !== undefined) return this.within.read(slot)
    return get(known ?? this.localOf(slot))
  }

  /** How what it is played in the middle of reads a slot. */
  protected get readOutside(): ((slot: number) => Code) | undefined {
    const { within } = this
    return within && ((slot) => within.read(slot))
  }

  protected write(slot: number, value: Code): void {
    const local = this.used.get(slot) ?? this.localOf(slot)
    this.written.add(slot)
    this.emit(set(local, value))
  }

  private localOf(slot: number): number {
    const local = this.locals.another()
    this.used.set(slot, local)
    return local
  }

  /** The value of a condition; writes down how it turned out where that has not been seen yet. */
  protected condition(condition: Condition): Code {
    const { memory } = this.parts
    const number = this.part(condition.address)
    const test = condition.expr === undefined ? constant(0) : this.words.test(condition.expr)
    const seen = this.parts.compiler.events.asked[number]!
    if (seen === 3) return test
    this.notes += 1
    this.isStraight = false
    const outcome = this.locals.another()
    const address = memory.conditions + number
    const note = (bit: number) =>
      when(not(binary(OP.and, loadByte(constant(0), address), constant(bit))), [
        storeByte(constant(0), binary(OP.or, loadByte(constant(0), address), constant(bit)), address),
        call(LOG, constant(number), constant(bit), this.standing.index, this.standing.pick),
      ])
    const missed =
      seen === 0
        ? either(get(outcome), note(2), note(1))
        : seen === 2
          ? when(not(get(outcome)), note(1))
          : when(get(outcome), note(2))
    return [set(outcome, test), missed, get(outcome)]
  }

  protected guarded(condition: Condition | undefined, work: () => void): void {
    if (condition === undefined) return work()
    const { notes } = this
    const test = this.condition(condition)
    const inner = this.capture(work)
    if (inner.length > 0 || this.notes > notes) this.branch(when(test, inner))
  }
}
