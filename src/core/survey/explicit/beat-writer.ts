import type { Condition, LinkedBeat, LinkedChoice, LinkedEffect, LinkedLine, LinkedRule, LinkedStory, LinkedText, Road } from '../../story/linked'
import { members } from '../bits'
import type { Compiler } from '../compile'
import type { ConditionLog } from '../marks'
import type { Roads } from '../roads'
import type { Slot } from '../slots'
import { anyOf, ExpressionWriter } from './expression-writer'
import type { Field, Layout } from './layout'
import { writeShown } from './shown-writer'
import { PAGE_BITS, PAGE_WORDS } from './table'
import { binary, block, call, constant, DROP, either, get, give, leave, load, loadByte, loopWhile, not, NOTHING, OP, set, store, storeByte, tee, when, type Code, type FunctionCode } from './wasm'

export interface WriterParts {
  readonly story: LinkedStory
  readonly compiler: Compiler
  readonly conditions: ConditionLog
  readonly layout: Layout
  readonly roads: Roads
  readonly memory: MemoryPlan
}

/** Where generated code finds and leaves things, as addresses of bytes. */
export interface MemoryPlan {
  /** A byte a mark: 1 once it was told. */
  readonly marks: number
  /** A byte a condition: 1 once false, 2 once true. */
  readonly conditions: number
  /** Slots written by a run that goes on in the interpreter. */
  readonly slots: number
  /** Packed states to be expanded. */
  readonly states: number
  /** A byte a state: how many successors it has. */
  readonly degrees: number
  /** Two words: where the next successor goes, where the next new state. */
  readonly cursors: number
  /** Of a set of small numbers: where the words of each page of bits begin, and the bits. */
  readonly pages: number
  readonly bits: number
}

/** A run that is left to the interpreter: from which scene it comes, where it goes on (-1: to the current place, which is told), and which slots it has written. */
export interface LeftRun {
  readonly scene: number
  readonly to: number
  readonly written: Int32Array
}

/** What generated code calls: numbers of imported functions. */
export const IMPORTS = [
  /** A mark was seen: its number, the state among those expanded, the decision. */
  { name: 'hit', parameters: 3, gives: false },
  /** A condition was false (1) or true (2): its number, which. */
  { name: 'log', parameters: 2, gives: false },
  /** A run goes on in the interpreter: its number, where its successor goes, the place, the state, the decision. Gives the successor's first word. */
  { name: 'leave', parameters: 5, gives: true },
  /** Makes a page of the set of states: its number. Gives where its words begin. */
  { name: 'open', parameters: 1, gives: true },
] as const
const HIT = 0
const LOG = 1
const LEAVE = 2
const OPEN = 3
/** The function that every module begins with. */
const ADD = IMPORTS.length

/** Statements of code for one choice, after which its run goes on in the interpreter. */
const CODE_MAX = 1500
/** Places that "return" is told apart for. */
const PLACES_MAX = 4
/** Beats that one run goes through by itself, after which it goes on in the interpreter. */
const RUN_MAX = 8
/** Gates that are asked together. */
const TOGETHER = 8

/**
 * The function that notes a successor of one word: takes it and where it goes, gives where the
 * next goes. What is new gets its bit and is put where new states go.
 */
export function writeAdd({ memory }: WriterParts): FunctionCode {
  const [state, at, word, bits, bit] = [0, 1, 2, 3, 4]
  const page = binary(OP.shiftRight, get(state), constant(PAGE_BITS))
  const inPage = binary(OP.and, binary(OP.shiftRight, get(state), constant(5)), constant(PAGE_WORDS - 1))
  const fresh = load(constant(0), memory.cursors + 4)
  const found = [
    set(word, load(binary(OP.shiftLeft, page, constant(2)), memory.pages)),
    when(not(get(word)), set(word, call(OPEN, page))),
    set(word, binary(OP.shiftLeft, binary(OP.add, get(word), inPage), constant(2))),
    set(bits, load(get(word), memory.bits)),
    set(bit, binary(OP.shiftLeft, constant(1), get(state))),
    when(not(binary(OP.and, get(bits), get(bit))), [
      store(get(word), binary(OP.or, get(bits), get(bit)), memory.bits),
      store(fresh, get(state), 0),
      store(constant(0), binary(OP.add, fresh, constant(4)), memory.cursors + 4),
    ]),
  ]
  // below 0 stands for an endless run
  const body = [store(get(at), get(state), 0), when(binary(OP.ge, get(state), constant(0)), found), binary(OP.add, get(at), constant(4))]
  return { parameters: 2, gives: true, locals: 3, body }
}

/**
 * The functions that play every open decision of states resting at a beat. The first takes the
 * index of the first state and one past the last, stops at one that rests elsewhere, and gives
 * the index it came to. Undefined where the beat holds something that is left to the interpreter.
 * `first` is the number the first function will have, `left` gets the runs that are left to the
 * interpreter.
 */
export function writeBeat(parts: WriterParts, beat: number, first: number, left: LeftRun[]): FunctionCode[] | undefined {
  const { story, compiler, layout, memory } = parts
  const linked = story.beats[beat]!
  if (linked.ask !== undefined || linked.ending !== -1 || linked.choices.length === 0) return undefined
  const takes: FunctionCode[] = []
  const main = new BeatWriter(parts, beat, 2, left)
  const [index, end] = [0, 1]
  const [at, from, pick] = [main.local(), main.local(), main.local()]
  const words = Array.from({ length: layout.words }, () => main.local())
  main.standsIn({ index: get(index), pick: constant(-1), at: get(at), words })
  linked.choices.forEach((choice, number) => {
    const take = new BeatWriter(parts, beat, layout.words + 3, left)
    take.standsIn({ words: words.map((_, word) => word), at: get(layout.words), index: get(layout.words + 1), pick: get(layout.words + 2) })
    take.take(choice)
    takes.push({ parameters: layout.words + 3, gives: true, locals: take.locals, body: [take.text(), get(layout.words)] })
    if (!take.supported) main.supported = false
    const open = main.open(choice)
    const offered = main.capture(() => {
      main.mark(compiler.marks.number('choice', choice.address))
      main.shown(choice.text, choice.address)
      main.emit(set(at, call(first + 1 + number, ...words.map(get), get(at), get(index), get(pick))))
      main.emit(set(pick, binary(OP.add, get(pick), constant(1))))
    })
    const greyed = choice.shownClosed ? main.capture(() => main.shown(choice.text, choice.address)) : NOTHING
    main.emit(greyed.length === 0 ? when(open, offered) : either(open, offered, greyed))
  })
  main.emit(when(not(get(pick)), main.capture(() => main.mark(compiler.marks.number('dead-end', linked.address)))))
  if (!main.supported) return undefined
  const fetch = words.map((word, number) => {
    const held = load(binary(OP.mul, get(index), constant(4 * layout.words)), memory.states + 4 * number)
    return set(word, number === 0 ? binary(OP.sub, held, constant(layout.baseOf(beat))) : held)
  })
  const elsewhere = binary(OP.geUnsigned, get(words[0]!), constant(layout.baseOf(beat + 1) - layout.baseOf(beat)))
  const body = [
    set(at, load(constant(0), memory.cursors)),
    block(
      loopWhile(
        [
          fetch,
          when(elsewhere, leave(2)),
          set(from, get(at)),
          set(pick, constant(0)),
          main.text(),
          storeByte(get(index), binary(OP.divUnsigned, binary(OP.sub, get(at), get(from)), constant(4 * layout.words)), memory.degrees),
        ],
        binary(OP.lt, tee(index, binary(OP.add, get(index), constant(1))), get(end)),
      ),
    ),
    store(constant(0), get(at), memory.cursors),
    get(index),
  ]
  return [{ exported: `beat${beat}`, parameters: 2, gives: true, locals: main.locals, body }, ...takes]
}

/** Where a function has what it plays with: locals of the state's words, and how it reads the rest. */
interface Standing {
  readonly words: readonly number[]
  readonly at: Code
  readonly index: Code
  readonly pick: Code
}

class BeatWriter {
  /** False once something was met that is left to the interpreter. */
  supported = true
  /** Locals besides the parameters. */
  locals = 0
  private code: Code[] = []
  private statements = 0
  private standing: Standing = { words: [], at: NOTHING, index: NOTHING, pick: NOTHING }
  /** How the state that is left holds what it holds. */
  private readonly fields: ReadonlyMap<number, Field>
  /** Slots that are the highest digit of their word. */
  private readonly tops: ReadonlySet<number>
  private readonly words: ExpressionWriter
  /** By slot: the local that holds it. */
  private readonly used = new Map<number, number>()
  private readonly written = new Set<number>()
  /** In a trial nothing is marked. */
  private quiet = false
  /** Conditions whose outcomes are still written down, so far. */
  private logged = 0

  constructor(
    private readonly parts: WriterParts,
    private readonly beat: number,
    private readonly parameters: number,
    private readonly left: LeftRun[],
  ) {
    const fields = parts.layout.fieldsOf(beat)
    this.fields = new Map(fields.map((field) => [field.slot, field]))
    this.tops = new Set(fields.filter((field, at) => fields[at + 1]?.word !== field.word).map(({ slot }) => slot))
    this.words = new ExpressionWriter(
      parts.compiler,
      (slot) => this.read(slot),
      () => (this.supported = false),
    )
  }

  standsIn(standing: Standing): void {
    this.standing = standing
  }

  /** A local of one's own. */
  local(): number {
    this.locals += 1
    return this.parameters + this.locals - 1
  }

  /** All that was emitted, after the slots that it looks at were put into their locals. */
  text(): Code {
    const { layout } = this.parts
    const held = [...this.used].map(([slot, local]) => {
      const field = this.fields.get(slot)
      if (field === undefined) return set(local, constant(layout.knownAt(this.beat, slot)))
      const digit = this.digits(field, field)
      return set(local, field.min === 0 ? digit : binary(OP.add, digit, constant(field.min)))
    })
    return [held, this.code]
  }

  emit(code: Code): void {
    this.code.push(code)
    this.statements += 1
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

  mark(number: number): void {
    if (this.quiet || this.parts.compiler.marks.seen[number] === 1) return
    const address = this.parts.memory.marks + number
    this.emit(when(not(loadByte(constant(0), address)), [storeByte(constant(0), constant(1), address), call(HIT, constant(number), this.standing.index, this.standing.pick)]))
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
    const leads = this.local()
    const trial = this.capture(() => {
      const before = this.quiet
      this.quiet = true
      const kept = [...writes].map((slot) => {
        const local = this.local()
        this.emit(set(local, this.read(slot)))
        return { slot, local }
      })
      if (taken !== -1) this.write(taken, constant(1))
      this.effects(choice.effects, choice.address)
      this.firstThat(leads, rules.map((rule) => () => this.leads(rule)))
      for (const { slot, local } of kept) this.write(slot, get(local))
      this.quiet = before
    })
    this.emit(set(leads, constant(0)))
    this.emit(gate === undefined ? trial : when(gate, trial))
    return get(leads)
  }

  /** Sets a local to whether any of some tests holds, asking one after the other up to the first that does; those that write nothing down are asked together. */
  private firstThat(local: number, tests: readonly (() => Code)[]): void {
    this.emit(set(local, constant(0)))
    let together: Code[] = []
    const ask = () => {
      if (together.length > 0) this.emit(when(not(get(local)), set(local, anyOf(together))))
      together = []
    }
    for (const test of tests) {
      const before = this.logged
      let value: Code = NOTHING
      const first = this.capture(() => (value = test()))
      if (first.length === 0 && this.logged === before) {
        together.push(value)
        if (together.length === TOGETHER) ask()
        continue
      }
      ask()
      this.emit(when(not(get(local)), [first, set(local, value)]))
    }
    ask()
  }

  take(choice: LinkedChoice): void {
    const { scene } = this.parts.story.beats[this.beat]!
    const taken = this.parts.compiler.slots.ofTaken[choice.index]!
    if (taken !== -1) this.write(taken, constant(1))
    this.effects(choice.effects, choice.address)
    const way: Way = { scene, place: undefined, path: [] }
    if (choice.to.kind === 'road') this.go(choice.to.road, way)
    else this.firstOf(choice.to.rules, 'rule', way)
  }

  shown(text: LinkedText, address: string): void {
    if (this.quiet || text.parsed === undefined) return
    writeShown(this.parts.compiler, text.parsed, address, {
      read: (slot) => this.read(slot),
      mark: (number) => this.mark(number),
      emit: (code) => this.emit(code),
      capture: (work) => this.capture(work),
      refuse: () => (this.supported = false),
    })
  }

  private read(slot: number): Code {
    let local = this.used.get(slot)
    if (local === undefined) {
      local = this.local()
      this.used.set(slot, local)
    }
    return get(local)
  }

  private write(slot: number, value: Code): void {
    this.read(slot)
    this.written.add(slot)
    this.emit(set(this.used.get(slot)!, value))
  }

  private go(road: Road, way: Way): void {
    if (road.kind === 'beat') return this.visit(road.beat, way)
    if (road.kind === 'nowhere') return
    const { slots } = this.parts.compiler
    if (way.place !== undefined) return this.visit(slots.places[way.place - 1]!, way)
    const { roads } = this.parts
    const possible = members(roads.places.row(this.beat)).filter((value) => value !== 0)
    if (possible.length <= PLACES_MAX && this.statements <= CODE_MAX) {
      for (const value of possible) {
        this.emit(when(binary(OP.eq, this.read(slots.place), constant(value)), this.capture(() => this.visit(slots.places[value - 1]!, { ...way, place: value }))))
      }
    }
    this.leave(-1, way)
  }

  /** Goes on in the interpreter. */
  private leave(to: number, { scene }: Way): void {
    const { memory, compiler } = this.parts
    const { at, index, pick } = this.standing
    const written = Int32Array.from(this.written)
    const site = this.left.push({ scene, to, written }) - 1
    written.forEach((slot, number) => this.emit(store(constant(0), this.read(slot), memory.slots + 4 * number)))
    const { words } = this.parts.layout
    const left = call(LEAVE, constant(site), at, to === -1 ? this.read(compiler.slots.place) : constant(0), index, pick)
    this.emit(give(words === 1 ? call(ADD, left, at) : binary(OP.add, [left, DROP, at], constant(4 * words))))
  }

  /** Runs a beat; every way through gives where the next successor goes. */
  private visit(beat: number, way: Way): void {
    const { story, compiler } = this.parts
    const { marks, slots } = compiler
    if (this.statements > CODE_MAX || way.path.includes(beat) || way.path.length > RUN_MAX) return this.leave(beat, way)
    const linked = story.beats[beat]!
    if (linked.scene !== way.scene) {
      for (const entry of story.entries) {
        if (entry.scene !== linked.scene) continue
        const slot = slots.all[slots.ofEntry[entry.index]!]!
        this.write(slot.index, constant(slot.initial))
      }
    }
    const next: Way = { scene: linked.scene, place: way.place, path: [...way.path, beat] }
    const beatMark = marks.number('beat', linked.address)
    this.firstOf(linked.redirects, 'redirect', next, beatMark)
    if (linked.place) {
      next.place = slots.places.indexOf(beat) + 1
      this.write(slots.place, constant(next.place))
    }
    const visits = slots.ofVisits[beat]!
    if (visits !== -1) this.write(visits, binary(OP.add, this.read(visits), binary(OP.lt, this.read(visits), constant(slots.all[visits]!.max))))
    this.mark(beatMark)
    this.body(linked)
    if (linked.ending !== -1) {
      this.mark(marks.number('ending', story.endings[linked.ending]!.id))
      return this.rest(beat)
    }
    if (linked.ask !== undefined || linked.onward.length === 0) return this.rest(beat)
    // one open choice is enough to rest
    const rests = this.local()
    this.firstThat(rests, linked.choices.map((choice) => () => this.open(choice)))
    this.emit(when(get(rests), this.capture(() => this.rest(beat))))
    this.firstOf(linked.onward, 'onward', next)
    this.rest(beat)
  }

  private body(beat: LinkedBeat): void {
    const { marks } = this.parts.compiler
    for (const rule of beat.arrive) {
      this.guarded(rule.when, () => {
        this.mark(marks.number('arrive', rule.address))
        this.effects(rule.effects, rule.address)
      })
    }
    for (const line of beat.lines) {
      if (line.kind === 'line') {
        this.line(line)
        continue
      }
      const variants = this.capture(() => {
        for (const variant of line.variants) {
          this.guarded(variant.when, () => {
            this.mark(marks.number('variant', variant.address))
            for (const one of variant.lines) this.line(one)
            this.emit(leave(variant.when === undefined ? 0 : 1))
          })
        }
      })
      this.emit(block(variants))
    }
  }

  private line(line: LinkedLine): void {
    this.guarded(line.when, () => {
      this.mark(this.parts.compiler.marks.number('line', line.address))
      this.shown(line.text, line.address)
      this.effects(line.effects, line.address)
    })
  }

  private guarded(condition: Condition | undefined, work: () => void): void {
    if (condition === undefined) return work()
    const test = this.condition(condition)
    this.emit(when(test, this.capture(work)))
  }

  private firstOf(rules: readonly LinkedRule[], kind: 'redirect' | 'onward' | 'rule', way: Way, also?: number): void {
    for (const rule of rules) {
      const leads = this.leads(rule)
      const inner = this.capture(() => {
        if (also !== undefined) this.mark(also)
        this.mark(this.parts.compiler.marks.number(kind, rule.address))
        this.effects(rule.effects, rule.address)
        this.go(rule.to, { ...way })
      })
      this.emit(when(leads, inner))
    }
  }

  /** Whether a rule is used when it is come to. */
  private leads(rule: LinkedRule): Code {
    const gate = rule.when === undefined ? constant(1) : this.condition(rule.when)
    if (rule.to.kind === 'nowhere') return binary(OP.and, gate, constant(0))
    if (rule.to.kind === 'return') return binary(OP.and, gate, binary(OP.ne, this.read(this.parts.compiler.slots.place), constant(0)))
    return gate
  }

  /** Packs the state; neighbouring digits that nothing wrote and that stay neighbours are copied together. */
  private rest(location: number): void {
    const { layout } = this.parts
    const words: Code[] = Array.from({ length: layout.words }, (_, word) => constant(word === 0 ? layout.baseOf(location) : 0))
    const add = (word: number, value: Code) => {
      words[word] = binary(OP.add, words[word]!, value)
    }
    let run: Run | undefined
    const endRun = () => {
      if (run !== undefined) add(run.to.word, times(this.digits(run.first, run.last), run.to.stride))
      run = undefined
    }
    for (const field of layout.fieldsOf(location)) {
      const before = this.fields.get(field.slot)
      if (before !== undefined && !this.written.has(field.slot)) {
        if (run !== undefined && run.to.word === field.word && follows(run.last, before)) run.last = before
        else {
          endRun()
          run = { first: before, last: before, to: field }
        }
        continue
      }
      endRun()
      if (before === undefined && !this.written.has(field.slot)) {
        const known = layout.knownAt(this.beat, field.slot)
        if (known !== field.min) add(field.word, constant((known - field.min) * field.stride))
      } else add(field.word, times(field.min === 0 ? this.read(field.slot) : binary(OP.sub, this.read(field.slot), constant(field.min)), field.stride))
    }
    endRun()
    const { at } = this.standing
    if (layout.words === 1) return this.emit(give(call(ADD, words[0]!, at)))
    words.forEach((value, word) => this.emit(store(at, value, 4 * word)))
    this.emit(give(binary(OP.add, at, constant(4 * layout.words))))
  }

  /** The value of neighbouring digits of one word together. */
  private digits(first: Field, last: Field): Code {
    const word = get(this.standing.words[first.word]!)
    const size = (last.stride / first.stride) * last.size
    const lower = first.stride === 1 ? word : isPower(first.stride) ? binary(OP.shiftRight, word, constant(Math.log2(first.stride))) : binary(OP.divUnsigned, word, constant(first.stride))
    if (this.tops.has(last.slot)) return lower
    return isPower(size) ? binary(OP.and, lower, constant(size - 1)) : binary(OP.remUnsigned, lower, constant(size))
  }

  /** The value of a condition; writes down how it turned out where that has not been seen yet. */
  private condition(condition: Condition): Code {
    const { conditions, memory } = this.parts
    const number = conditions.numberOf(condition.address)
    const test = condition.expr === undefined ? constant(0) : this.words.test(condition.expr)
    const seen = conditions.seen[number]!
    if (seen === 3) return test
    this.logged += 1
    const outcome = this.local()
    const address = memory.conditions + number
    const note = (bit: number) =>
      when(not(binary(OP.and, loadByte(constant(0), address), constant(bit))), [
        storeByte(constant(0), binary(OP.or, loadByte(constant(0), address), constant(bit)), address),
        call(LOG, constant(number), constant(bit)),
      ])
    const missed = seen === 0 ? either(get(outcome), note(2), note(1)) : seen === 2 ? when(not(get(outcome)), note(1)) : when(get(outcome), note(2))
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
    return slots.all[effect.kind === 'stage' ? slots.ofQuest[questOf.get(effect.quest)!]! : slots.ofEntry[entryOf.get(effect.entry)!]!]!
  }

  private stage(effect: LinkedEffect['effect'] & { kind: 'stage' }, slot: Slot): void {
    const { moves, stage, reached } = this.parts.compiler.stageMarks(effect.quest, effect.value)
    moves.forEach((move, from) => {
      if (move === -1) return
      const noted = this.capture(() => this.mark(move))
      if (noted.length > 0) this.emit(when(binary(OP.eq, this.read(slot.index), constant(from)), noted))
    })
    if (reached !== -1) this.mark(reached)
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
        if (effect.value.kind === 'string') return this.write(slot.index, constant(compiler.literalIn(slot, effect.value.value)))
        return this.write(slot.index, this.read(compiler.slotOf(effect.value)!.index))
      case 'counter':
      case 'item': {
        if (!compiler.isSmall(effect.value) || (effect.kind !== 'set' && !compiler.isSmallSum(entry, effect.value))) this.supported = false
        const next = this.local()
        const value = this.words.count(effect.value)
        this.emit(set(next, effect.kind === 'set' ? value : binary(effect.kind === 'add' ? OP.add : OP.sub, this.read(slot.index), value)))
        const over = compiler.follows(entry.index) ? compiler.marks.number('overrun', entry.id, owner) : -1
        const held = (bound: number) => [
          set(next, constant(bound)),
          this.capture(() => {
            if (over !== -1) this.mark(over)
          }),
        ]
        this.emit(either(binary(OP.gt, get(next), constant(entry.max)), held(entry.max), when(binary(OP.lt, get(next), constant(entry.min)), held(entry.min))))
        return this.write(slot.index, get(next))
      }
    }
  }
}

/** Digits that stand next to one another in both states. */
interface Run {
  readonly first: Field
  last: Field
  /** Where the first of them goes. */
  readonly to: Field
}

function follows(before: Field, field: Field): boolean {
  return field.word === before.word && field.stride === before.stride * before.size
}

function times(value: Code, stride: number): Code {
  return stride === 1 ? value : binary(OP.mul, value, constant(stride))
}

function isPower(size: number): boolean {
  return Number.isInteger(Math.log2(size))
}

/** Where a run is: the scene it is in, the place that is known to be current, the beats gone through by themselves. */
interface Way {
  readonly scene: number
  place: number | undefined
  readonly path: readonly number[]
}
