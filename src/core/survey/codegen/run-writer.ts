import { isSmall, isSmallSum } from '../summaries/number-bounds'
import type {
  Condition,
  LinkedBeat,
  LinkedChoice,
  LinkedEffect,
  LinkedLine,
  WholeLine,
  LinkedRule,
  LinkedText,
  LinkedTurns,
  Road,
} from '../../story/linked'
import { phaseAfter, turnIn } from '../../story/turns'
import { members } from '../analysis/bits'
import type { Slot } from '../analysis/slots'
import { HIT, LEAVE, LOG, type LeftRun, type WriterParts } from './code-plan'
import { anyOf, ExpressionWriter } from './expression-writer'
import type { Field } from '../states/layout'
import type { Locals } from './locals'
import { digitsOf, topsOf, writePacked } from './pack-writer'
import { writeShown } from './shown-writer'
import {
  binary,
  block,
  call,
  constant,
  either,
  get,
  give,
  leave,
  loadByte,
  not,
  NOTHING,
  OP,
  set,
  select,
  store,
  storeByte,
  when,
  type Code,
} from './wasm'

/** Every field of a line is written as code here. */
type KnownLine = WholeLine<
  Exclude<keyof LinkedLine, 'kind' | 'id' | 'address' | 'when' | 'effects' | 'text' | 'cues' | 'speaker' | 'manner'>
>

/** Statements of code for one choice, after which its run goes on in the interpreter. */
const CODE_MAX = 1500
/** Places that "return" is told apart for. */
const PLACES_MAX = 4
/** Beats that one run goes through by itself, after which it goes on in the interpreter. */
const RUN_MAX = 8
/** Gates that are asked together. */
const TOGETHER = 8

/** Where a function has what it plays with: locals of the state's words, and how it reads the rest. */
interface Standing {
  readonly words: readonly number[]
  readonly at: Code
  readonly index: Code
  readonly pick: Code
}

/** Writes the functions of one beat: its gates, or one of its choices with the run to the next resting beat. */
export class BeatWriter {
  /** False once something was met that is left to the interpreter. */
  supported = true
  /** Whether what was emitted goes one way only, so far. */
  isStraight = true
  /** Where it came to, packed, where it is played within another. */
  successor: readonly Code[] = []
  private code: Code[] = []
  statements = 0
  private standing: Standing = { words: [], at: NOTHING, index: NOTHING, pick: NOTHING }
  /** How the state that is left holds what it holds. */
  private readonly fields: ReadonlyMap<number, Field>
  /** Slots that are the highest digit of their word. */
  private readonly tops: ReadonlySet<number>
  private readonly words: ExpressionWriter
  /** By slot: the local that holds it. */
  private readonly used = new Map<number, number>()
  private readonly written = new Set<number>()
  /** How many events are still recorded when they happen, so far. */
  private notes = 0
  /** In a trial nothing is marked. */
  private quiet = false

  constructor(
    private readonly parts: WriterParts,
    private readonly beat: number,
    private readonly locals: Locals,
    private readonly left: LeftRun[],
    /** What it is played in the middle of, whose locals it reads and leaves as they are; it then must go one way only. */
    private readonly within?: BeatWriter,
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

  /** Whether a choice can be taken; a list is first worked out into a local. */
  open(choice: LinkedChoice): Code {
    let gate = choice.when === undefined ? undefined : this.condition(choice.when)
    const also = (test: Code) => {
      gate = gate === undefined ? test : binary(OP.and, gate, test)
    }
    const taken = this.parts.compiler.slots.ofTaken[choice.index]!
    if (choice.once) also(not(this.read(taken)))
    if (choice.to.kind === 'road') {
      const { road } = choice.to
      if (road.kind === 'nowhere') also(constant(0))
      if (road.kind === 'return') also(binary(OP.ne, this.read(this.parts.compiler.slots.place), constant(0)))
      return gate ?? constant(1)
    }
    // The list is tried after the effects; what they write is then put back.
    const { rules } = choice.to
    const writes = new Set(choice.effects.map(({ effect }) => this.slotOfEffect(effect).index))
    if (taken !== -1) writes.add(taken)
    const leads = this.locals.another()
    const trial = this.capture(() => {
      const before = this.quiet
      this.quiet = true
      const kept = [...writes].map((slot) => {
        const local = this.locals.another()
        this.emit(set(local, this.read(slot)))
        return { slot, local }
      })
      if (taken !== -1) this.write(taken, constant(1))
      this.effects(choice.effects, choice.address)
      this.firstThat(
        leads,
        rules.map((rule) => () => this.leads(rule)),
      )
      for (const { slot, local } of kept) this.write(slot, get(local))
      this.quiet = before
    })
    this.emit(set(leads, constant(0)))
    this.branch(gate === undefined ? trial : when(gate, trial))
    return get(leads)
  }

  /** Sets a local to whether any of some tests holds, asking one after the other up to the first that does; those that write nothing down are asked together. */
  private firstThat(local: number, tests: readonly (() => Code)[]): void {
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

  take(choice: LinkedChoice): void {
    const { scene } = this.parts.story.beats[this.beat]!
    const taken = this.parts.compiler.slots.ofTaken[choice.index]!
    if (taken !== -1) this.write(taken, constant(1))
    this.effects(choice.effects, choice.address)
    const way: RunContext = { scene, place: undefined, path: [] }
    if (choice.to.kind === 'road') this.go(choice.to.road, way)
    else this.firstOf(choice.to.rules, way)
  }

  shown(text: LinkedText, address: string): void {
    if (this.quiet || text.isPlain || text.parsed === undefined) return
    writeShown(this.parts.compiler, text.parsed, address, {
      read: (slot) => this.read(slot),
      event: (number) => this.event(number),
      emit: (code) => this.branch(code),
      capture: (work) => this.capture(work),
      refuse: () => (this.supported = false),
    })
  }

  private read(slot: number): Code {
    const known = this.used.get(slot)
    if (known === undefined && this.within !== undefined) return this.within.read(slot)
    return get(known ?? this.localOf(slot))
  }

  private write(slot: number, value: Code): void {
    const local = this.used.get(slot) ?? this.localOf(slot)
    this.written.add(slot)
    this.emit(set(local, value))
  }

  private localOf(slot: number): number {
    const local = this.locals.another()
    this.used.set(slot, local)
    return local
  }

  private go(road: Road, way: RunContext): void {
    if (road.kind === 'beat') return this.visit(road.beat, way)
    if (road.kind === 'nowhere') return
    const { slots } = this.parts.compiler
    if (way.place !== undefined) return this.visit(slots.places[way.place - 1]!, way)
    const { roads } = this.parts
    const known = members(roads.places.row(this.beat))
    if (known.length === 1 && known[0] !== 0)
      return this.visit(slots.places[known[0]! - 1]!, { ...way, place: known[0] })
    const possible = known.filter((value) => value !== 0)
    if (possible.length <= PLACES_MAX && this.statements <= CODE_MAX) {
      for (const value of possible) {
        this.branch(
          when(
            binary(OP.eq, this.read(slots.place), constant(value)),
            this.capture(() => this.visit(slots.places[value - 1]!, { ...way, place: value })),
          ),
        )
      }
    }
    this.leave(-1, way)
  }

  /** Goes on in the interpreter. */
  private leave(to: number, { scene }: RunContext): void {
    const { memory, compiler } = this.parts
    const { at, index, pick } = this.standing
    const written = [...this.written]
    const site = this.left.push({ scene, to, written }) - 1
    written.forEach((slot, number) => this.emit(store(constant(0), this.read(slot), memory.slots + 4 * number)))
    const { cells: words } = this.parts.layout
    this.branch(call(LEAVE, constant(site), at, to === -1 ? this.read(compiler.slots.place) : constant(0), index, pick))
    this.emit(give(binary(OP.add, at, constant(4 * words))))
  }

  /** Runs a beat; every way through gives where the next successor goes. */
  private visit(beat: number, way: RunContext): void {
    const { story, compiler } = this.parts
    const { events, slots } = compiler
    if (this.statements > CODE_MAX || way.path.includes(beat) || way.path.length > RUN_MAX) return this.leave(beat, way)
    const linked = story.beats[beat]!
    if (linked.scene !== way.scene) {
      for (const entry of story.entries) {
        if (entry.scene !== linked.scene) continue
        const slot = slots.all[slots.ofEntry[entry.index]!]!
        this.write(slot.index, constant(slot.initial))
      }
    }
    const next: RunContext = { scene: linked.scene, place: way.place, path: [...way.path, beat] }
    const beatMark = events.partsOf(beat)
    if (this.firstOf(linked.redirects, next, beatMark)) return
    if (linked.place) {
      next.place = slots.placeOf[beat]!
      this.write(slots.place, constant(next.place))
    }
    const visits = slots.ofVisits[beat]!
    if (visits !== -1)
      this.write(
        visits,
        binary(OP.add, this.read(visits), binary(OP.lt, this.read(visits), constant(slots.all[visits]!.max))),
      )
    this.event(beatMark)
    this.body(linked)
    if (linked.ending !== -1) {
      this.event(events.number('ending', story.endings[linked.ending]!.id))
      return this.rest(beat)
    }
    if (linked.ask !== undefined || linked.onward.length === 0) return this.rest(beat)
    // one open choice is enough to rest
    const rests = this.locals.another()
    this.firstThat(
      rests,
      linked.choices.map((choice) => () => this.open(choice)),
    )
    if (linked.choices.length > 0)
      this.branch(
        when(
          get(rests),
          this.capture(() => this.rest(beat)),
        ),
      )
    if (!this.firstOf(linked.onward, next)) this.rest(beat)
  }

  private body(beat: LinkedBeat): void {
    for (const rule of beat.arrive) {
      this.guarded(rule.when, () => {
        this.event(this.part(rule.address))
        this.effects(rule.effects, rule.address)
      })
    }
    for (const line of beat.lines) {
      if (line.kind === 'line') {
        this.line(line)
        continue
      }
      if (line.kind === 'turns') {
        if (this.parts.compiler.followsTurns(line.index))
          this.guarded(line.when, () => {
            this.event(this.part(line.address))
            this.turns(line)
          })
        continue
      }
      const variants = this.capture(() => {
        for (const variant of line.variants) {
          this.guarded(variant.when, () => {
            this.event(this.part(variant.address))
            for (const one of variant.lines) this.line(one)
            if (variant.turns !== undefined && this.parts.compiler.followsTurns(variant.turns.index))
              this.turns(variant.turns)
            this.emit(leave(variant.when === undefined ? 0 : 1))
          })
        }
      })
      this.branch(block(variants))
    }
  }

  /** A group in turn that is followed shows its next turn. */
  private turns(group: LinkedTurns): void {
    const show = (turn: LinkedTurns['turns'][number]) => {
      this.event(this.part(turn.address))
      for (const line of turn.lines) this.line(line)
    }
    const slot = this.parts.compiler.slots.ofTurns[group.index]!
    if (slot === -1) return group.turns.forEach(show)
    const { max, from } = this.parts.compiler.slots.all[slot] as Slot & { kind: 'turns' }
    const times = this.locals.another()
    this.emit(set(times, this.read(slot)))
    const isAt = (value: number) => binary(OP.eq, get(times), constant(value))
    group.turns.forEach((turn, number) => {
      const shown = this.capture(() => show(turn))
      const values = Array.from({ length: max + 1 }, (_, value) => value)
      const those = values.filter((value) => turnIn(group, phaseAfter(group, value)) === number)
      if (shown.length > 0) this.branch(when(anyOf(those.map(isAt)), shown))
    })
    this.write(slot, select(isAt(max), constant(from), binary(OP.add, get(times), constant(1))))
  }

  private line(line: KnownLine): void {
    this.guarded(line.when, () => {
      this.event(this.part(line.address))
      this.shown(line.text, line.address)
      this.effects(line.effects, line.address)
    })
  }

  private guarded(condition: Condition | undefined, work: () => void): void {
    if (condition === undefined) return work()
    const { notes } = this
    const test = this.condition(condition)
    const inner = this.capture(work)
    if (inner.length > 0 || this.notes > notes) this.branch(when(test, inner))
  }

  /** Goes where the first rule leads that is used; gives whether it surely has gone somewhere. */
  private firstOf(rules: readonly LinkedRule[], way: RunContext, also?: number): boolean {
    for (const rule of rules) {
      const follow = () => {
        if (also !== undefined) this.event(also)
        this.event(this.part(rule.address))
        this.effects(rule.effects, rule.address)
        this.go(rule.to, { ...way })
      }
      if (rule.when === undefined && rule.to.kind === 'beat') {
        follow()
        return true
      }
      const leads = this.leads(rule)
      this.branch(when(leads, this.capture(follow)))
    }
    return false
  }

  /** Whether a rule is used when it is come to. */
  private leads(rule: LinkedRule): Code {
    const gate = rule.when === undefined ? constant(1) : this.condition(rule.when)
    if (rule.to.kind === 'nowhere') return binary(OP.and, gate, constant(0))
    if (rule.to.kind === 'return')
      return binary(OP.and, gate, binary(OP.ne, this.read(this.parts.compiler.slots.place), constant(0)))
    return gate
  }

  /** Packs the state. */
  private rest(location: number): void {
    const { layout } = this.parts
    const words = writePacked(layout, this.beat, location, {
      word: (word) => get(this.standing.words[word]!),
      read: (slot) => this.read(slot),
      isWritten: (slot) => this.written.has(slot),
      before: this.within && ((slot) => this.within!.read(slot)),
    })
    if (this.within !== undefined) {
      this.successor = words
      return
    }
    const { at } = this.standing
    words.forEach((value, word) => this.emit(store(at, value, 4 * word)))
    this.emit(give(binary(OP.add, at, constant(4 * layout.cells))))
  }

  /** The value of a condition; writes down how it turned out where that has not been seen yet. */
  private condition(condition: Condition): Code {
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
        call(LOG, constant(number), constant(bit)),
      ])
    const missed =
      seen === 0
        ? either(get(outcome), note(2), note(1))
        : seen === 2
          ? when(not(get(outcome)), note(1))
          : when(get(outcome), note(2))
    return [set(outcome, test), missed, get(outcome)]
  }

  private effects(effects: readonly LinkedEffect[], owner: string): void {
    for (const { effect } of effects) {
      const slot = this.slotOfEffect(effect)
      if (effect.kind === 'stage') this.stage(effect, slot)
      else this.assign(effect, slot, owner)
    }
  }

  private slotOfEffect(effect: LinkedEffect['effect']): Slot {
    const { slots } = this.parts.compiler
    const { questOf, entryOf } = this.parts.story
    return slots.all[
      effect.kind === 'stage' ? slots.ofQuest[questOf.get(effect.quest)!]! : slots.ofEntry[entryOf.get(effect.entry)!]!
    ]!
  }

  private stage(effect: LinkedEffect['effect'] & { kind: 'stage' }, slot: Slot): void {
    const { moves, stage, reached } = this.parts.compiler.stageMarks(effect.quest, effect.value)
    moves.forEach((move, from) => {
      if (move === -1) return
      const noted = this.capture(() => this.event(move))
      if (noted.length > 0) this.branch(when(binary(OP.eq, this.read(slot.index), constant(from)), noted))
    })
    if (reached !== -1) this.event(reached)
    this.write(slot.index, constant(stage))
  }

  private assign(effect: Exclude<LinkedEffect['effect'], { kind: 'stage' }>, slot: Slot, owner: string): void {
    const { story, compiler } = this.parts
    const entry = story.entries[story.entryOf.get(effect.entry)!]!
    if (slot.kind === 'entry' && slot.wide !== undefined) this.supported = false
    switch (entry.kind) {
      case 'flag':
        return this.write(slot.index, this.words.test(effect.value))
      case 'switch':
      case 'text':
        if (effect.value.kind === 'string')
          return this.write(slot.index, constant(compiler.literalIn(slot, effect.value.value)))
        return this.write(slot.index, this.read(compiler.slotOf(effect.value)!.index))
      case 'counter':
      case 'item': {
        if (
          !isSmall(compiler.story, effect.value) ||
          (effect.kind !== 'set' && !isSmallSum(compiler.story, entry, effect.value))
        )
          this.supported = false
        const next = this.locals.another()
        const value = this.words.count(effect.value)
        this.emit(
          set(
            next,
            effect.kind === 'set'
              ? value
              : binary(effect.kind === 'add' ? OP.add : OP.sub, this.read(slot.index), value),
          ),
        )
        const over = compiler.follows(entry.index) ? compiler.events.number('overrun', entry.id, owner) : -1
        const above = binary(OP.gt, get(next), constant(entry.max))
        const below = binary(OP.lt, get(next), constant(entry.min))
        const noted = over === -1 ? NOTHING : this.capture(() => this.event(over))
        if (noted.length > 0) this.branch(when(binary(OP.or, above, below), noted))
        return this.write(slot.index, select(above, constant(entry.max), select(below, constant(entry.min), get(next))))
      }
    }
  }
}

/** Where a run is: the scene it is in, the place that is known to be current, the beats gone through by themselves. */
interface RunContext {
  readonly scene: number
  place: number | undefined
  readonly path: readonly number[]
}
