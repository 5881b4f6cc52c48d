import type { Condition, LinkedBeat, LinkedChoice, LinkedEffect, LinkedLine, LinkedRule, LinkedStory, LinkedText, Road } from '../../story/linked'
import { members } from '../bits'
import type { Action, Compiler } from '../compile'
import type { Flow } from '../flow'
import type { ConditionLog } from '../marks'
import { compileShown, slotsShown } from '../shown-words'
import type { Slot } from '../slots'
import { ExpressionWriter } from './expression-writer'
import type { Field, Layout } from './layout'

/**
 * Writes the decisions of one resting beat as JavaScript: gates, effects and the run to the next
 * resting beat on the bits of the packed state, with every name, place and number known. What has
 * been marked and logged already when it is written is left out, so a beat is worth writing only
 * once it has been looked at many times. (The idea: partial evaluation of an interpreter; Jones,
 * Gomard, Sestoft: Partial Evaluation and Automatic Program Generation, 1993.)
 */

/**
 * Plays every open decision of the state at `offset` of `states` and writes the packed successors
 * into `out` from `at`; gives where the next would stand. `from` is the state's number.
 */
export type Expand = (states: Uint32Array, offset: number, out: Uint32Array, at: number, from: number) => number

/** What generated code falls back on where a run is too long, or goes where only the play can tell. */
export interface Fallback {
  /** Puts a packed state into the working vector. */
  readonly load: (states: Uint32Array, offset: number) => void
  /** Goes on from the working vector to `beat`, having come from `scene`; writes the successor, gives where the next would stand. */
  readonly follow: (beat: number, scene: number, out: Uint32Array, at: number) => number
}

export interface GeneratorParts {
  readonly story: LinkedStory
  readonly compiler: Compiler
  readonly conditions: ConditionLog
  readonly layout: Layout
  readonly flow: Flow
  readonly fallback: Fallback
}

/** Characters of code for one choice, after which its run goes on in the interpreter. */
const CODE_MAX = 24_000
/** Places that "return" is told apart for. */
const PLACES_MAX = 4

/** Beats that one run goes through by itself, after which it goes on in the interpreter. */
const RUN_MAX = 8

/** Gives the code of a beat at which a choice is made, or undefined where it holds something that is left to the interpreter. */
export function generate(parts: GeneratorParts, beat: number): Expand | undefined {
  const { story, compiler, conditions, fallback } = parts
  const linked = story.beats[beat]!
  if (linked.ask !== undefined || linked.ending !== -1 || linked.choices.length === 0) return undefined
  const helpers: Action[] = []
  const takes: string[] = []
  const main = new Writer(parts, beat, helpers)
  const stuck = compiler.marks.number('dead-end', linked.address)
  main.emit('M.state=from;M.pick=-1;let pick=0;')
  linked.choices.forEach((choice, index) => {
    const take = new Writer(parts, beat, helpers)
    take.take(choice)
    takes.push(`function take${index}(S,o,out,at,pick){${take.text()}}`)
    if (!take.supported) main.supported = false
    const open = main.open(choice)
    const offered = main.capture(() => {
      main.mark(compiler.marks.number('choice', choice.address))
      main.shown(choice.text, choice.address)
    })
    const greyed = choice.shownClosed ? main.capture(() => main.shown(choice.text, choice.address)) : ''
    main.emit(`if(${open}){${offered}at=take${index}(S,o,out,at,pick);pick++;M.pick=-1}${greyed === '' ? '' : `else{${greyed}}`}`)
  })
  main.emit(`if(pick===0)M.hit(${stuck});return at`)
  if (!main.supported) return undefined
  const source = `'use strict';const seen=M.seen;function T(n,b){C[n]|=b?2:1;return b}\n${takes.join('\n')}\nreturn function(S,o,out,at,from){${main.text()}}`
  return compileSource(source)?.(compiler.values, compiler.marks, conditions.seen, helpers, fallback)
}

type Make = (values: Int32Array, marks: unknown, conditions: Uint8Array, helpers: readonly Action[], fallback: Fallback) => Expand

/** Undefined where the surroundings allow no generated code: the interpreter then does all of the work. */
function compileSource(source: string): Make | undefined {
  try {
    // The source is written here from numbers alone: no text of the author's is in it.
    return new Function('V', 'M', 'C', 'H', 'F', source) as Make
  } catch {
    return undefined
  }
}

class Writer {
  /** False once something was met that is left to the interpreter. */
  supported = true
  private code: string[] = []
  private length = 0
  /** How the state that is left holds what it holds, and what is known of it without holding it. */
  private readonly fields: ReadonlyMap<number, Field>
  private readonly constants: ReadonlyMap<number, number>
  /** Slots that are the highest digit of their word. */
  private readonly tops: ReadonlySet<number>
  private readonly words: ExpressionWriter
  private readonly used = new Set<number>()
  private readonly written = new Set<number>()
  /** In a trial nothing is marked. */
  private quiet = false
  private fresh = 0

  constructor(
    private readonly parts: GeneratorParts,
    private readonly beat: number,
    private readonly helpers: Action[],
  ) {
    const fields = parts.layout.fieldsOf(beat)
    this.fields = new Map(fields.map((field) => [field.slot, field]))
    this.tops = new Set(fields.filter((field, at) => fields[at + 1]?.word !== field.word).map(({ slot }) => slot))
    this.constants = parts.layout.constantsOf(beat)
    this.words = new ExpressionWriter(
      parts.compiler,
      (slot) => this.read(slot),
      () => (this.supported = false),
    )
  }

  /** The whole body: the slots that it looks at as variables, then the code. */
  text(): string {
    const { slots } = this.parts.compiler
    const names = [...this.used].map((slot) => {
      const field = this.fields.get(slot)
      if (field === undefined) return `a${slot}=${this.constants.get(slot) ?? slots.all[slot]!.initial}`
      const held = this.digits(field, field)
      return field.min === 0 ? `a${slot}=${held}` : `a${slot}=${held}+${field.min}|0`
    })
    const { words } = this.parts.layout
    const base = this.parts.layout.baseOf(this.beat)
    const parts = Array.from({ length: words }, (_, word) => `w${word}=${word === 0 && base !== 0 ? `S[o]-${base}|0` : `S[o+${word}]|0`}`)
    return `const ${parts.join(',')};${names.length === 0 ? '' : `let ${names.join(',')};`}${this.code.join('\n')}`
  }

  emit(code: string): void {
    this.code.push(code)
    this.length += code.length
  }

  /** What `work` emits, as text instead. */
  capture(work: () => void): string {
    const { code } = this
    this.code = []
    work()
    const captured = this.code.join('\n')
    this.code = code
    return captured
  }

  mark(number: number): void {
    if (!this.quiet && this.parts.compiler.marks.seen[number] === 0) this.emit(`if(seen[${number}]===0)M.hit(${number});`)
  }

  /** Whether a choice can be taken, as an expression; a list is first worked out into a variable. */
  open(choice: LinkedChoice): string {
    const gates: string[] = []
    if (choice.when !== undefined) gates.push(this.condition(choice.when))
    const taken = this.parts.compiler.slots.ofTaken[choice.index]!
    if (choice.once) gates.push(`${this.read(taken)}!==1`)
    if (choice.to.kind === 'road') {
      const { road } = choice.to
      if (road.kind === 'nowhere') gates.push('false')
      if (road.kind === 'return') gates.push(`${this.read(this.parts.compiler.slots.place)}!==0`)
      return gates.length === 0 ? 'true' : gates.join('&&')
    }
    // The list is tried after the effects; what they write is then put back.
    const { rules } = choice.to
    const writes = new Set(choice.effects.map(({ effect }) => this.slotOfEffect(effect).index))
    if (taken !== -1) writes.add(taken)
    const id = this.fresh++
    const trial = this.capture(() => {
      const before = this.quiet
      this.quiet = true
      for (const slot of writes) this.emit(`const k${id}_${slot}=${this.read(slot)};`)
      if (taken !== -1) this.write(taken, '1')
      this.effects(choice.effects, choice.address)
      this.emit(`r${id}=${rules.map((rule) => this.leads(rule)).join('||') || 'false'};`)
      for (const slot of writes) this.write(slot, `k${id}_${slot}`)
      this.quiet = before
    })
    this.emit(`let r${id}=false;if(${gates.join('&&') || 'true'}){${trial}}`)
    return `r${id}`
  }

  take(choice: LinkedChoice): void {
    const { scene } = this.parts.story.beats[this.beat]!
    const taken = this.parts.compiler.slots.ofTaken[choice.index]!
    this.emit('M.pick=pick;')
    if (taken !== -1) this.write(taken, '1')
    this.effects(choice.effects, choice.address)
    if (choice.to.kind === 'road') this.go(choice.to.road, { scene, place: undefined, path: [] })
    else {
      this.firstOf(choice.to.rules, 'rule', { scene, place: undefined, path: [] })
      this.emit('return at')
    }
  }

  shown(text: LinkedText, address: string): void {
    if (this.quiet) return
    const action = compileShown(this.parts.compiler, text, address)
    if (action === undefined || text.parsed === undefined) return
    for (const slot of slotsShown(this.parts.compiler, text.parsed)) this.emit(`V[${slot}]=${this.read(slot)};`)
    this.emit(`H[${this.helpers.push(action) - 1}]();`)
  }

  private read(slot: number): string {
    this.used.add(slot)
    return `a${slot}`
  }

  private write(slot: number, value: string): void {
    this.used.add(slot)
    this.written.add(slot)
    this.emit(`a${slot}=${value};`)
  }

  private go(road: Road, way: Way): void {
    if (road.kind === 'beat') return this.visit(road.beat, way)
    if (road.kind === 'nowhere') return
    const { slots } = this.parts.compiler
    if (way.place !== undefined) return this.visit(slots.places[way.place - 1]!, way)
    const { flow } = this.parts
    const possible = members(flow.places.row(this.beat)).filter((value) => value !== 0)
    const known = this.read(slots.place)
    if (possible.length > PLACES_MAX || this.length > CODE_MAX) return this.leave(`P(${known})`, way)
    for (const value of possible) this.emit(`if(${known}===${value}){${this.capture(() => this.visit(slots.places[value - 1]!, { ...way, place: value }))}}`)
    this.leave(`P(${known})`, way)
  }

  /** Goes on in the interpreter. */
  private leave(target: string, { scene }: Way): void {
    const { slots } = this.parts.compiler
    const to = target.startsWith('P(') ? `[${slots.places.join(',')}][${target.slice(2, -1)}-1]` : target
    const kept = [...this.written].map((slot) => `V[${slot}]=a${slot};`)
    this.emit(`F.load(S,o);${kept.join('')}`)
    this.emit(`return F.follow(${to},${scene},out,at)`)
  }

  /** Runs a beat; every way through ends with `return`. */
  private visit(beat: number, way: Way): void {
    const { story, compiler } = this.parts
    const { marks, slots } = compiler
    if (this.length > CODE_MAX || way.path.includes(beat) || way.path.length > RUN_MAX) return this.leave(String(beat), way)
    const linked = story.beats[beat]!
    if (linked.scene !== way.scene) {
      for (const entry of story.entries) {
        if (entry.scene !== linked.scene) continue
        const slot = slots.all[slots.ofEntry[entry.index]!]!
        this.write(slot.index, String(slot.initial))
      }
    }
    const next: Way = { scene: linked.scene, place: way.place, path: [...way.path, beat] }
    const beatMark = marks.number('beat', linked.address)
    this.firstOf(linked.redirects, 'redirect', next, beatMark)
    if (linked.place) {
      next.place = slots.places.indexOf(beat) + 1
      this.write(slots.place, String(next.place))
    }
    const visits = slots.ofVisits[beat]!
    if (visits !== -1) {
      const count = this.read(visits)
      this.write(visits, `${count}<${slots.all[visits]!.max}?${count}+1:${count}`)
    }
    this.mark(beatMark)
    this.body(linked)
    if (linked.ending !== -1) {
      this.mark(marks.number('ending', story.endings[linked.ending]!.id))
      return this.rest(beat)
    }
    if (linked.ask !== undefined || linked.onward.length === 0) return this.rest(beat)
    const id = this.fresh++
    this.emit(`let q${id}=false;`)
    for (const choice of linked.choices) {
      // one open choice is enough to rest
      this.emit(`if(!q${id}){${this.capture(() => this.emit(`q${id}=${this.open(choice)};`))}}`)
    }
    this.emit(`if(q${id}){${this.capture(() => this.rest(beat))}}`)
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
      const id = this.fresh++
      this.emit(`v${id}:{`)
      for (const variant of line.variants) {
        this.guarded(variant.when, () => {
          this.mark(marks.number('variant', variant.address))
          for (const one of variant.lines) this.line(one)
          this.emit(`break v${id};`)
        })
      }
      this.emit('}')
    }
  }

  private line(line: LinkedLine): void {
    this.guarded(line.when, () => {
      this.mark(this.parts.compiler.marks.number('line', line.address))
      this.shown(line.text, line.address)
      this.effects(line.effects, line.address)
    })
  }

  private guarded(when: Condition | undefined, work: () => void): void {
    const inner = this.capture(work)
    if (when === undefined) this.emit(`{${inner}}`)
    else this.emit(`if(${this.condition(when)}){${inner}}`)
  }

  private firstOf(rules: readonly LinkedRule[], kind: 'redirect' | 'onward' | 'rule', way: Way, also?: number): void {
    for (const rule of rules) {
      const inner = this.capture(() => {
        if (also !== undefined) this.mark(also)
        this.mark(this.parts.compiler.marks.number(kind, rule.address))
        this.effects(rule.effects, rule.address)
        this.go(rule.to, { ...way })
      })
      this.emit(`if(${this.leads(rule)}){${inner}}`)
    }
  }

  /** Whether a rule is used when it is come to. */
  private leads(rule: LinkedRule): string {
    const when = rule.when === undefined ? 'true' : this.condition(rule.when)
    if (rule.to.kind === 'nowhere') return `(${when}&&false)`
    if (rule.to.kind === 'return') return `(${when}&&${this.read(this.parts.compiler.slots.place)}!==0)`
    return `(${when})`
  }

  /** Packs the state; neighbouring digits that nothing wrote and that stay neighbours are copied together. */
  private rest(location: number): void {
    const { layout } = this.parts
    const words: string[][] = Array.from({ length: layout.words }, (_, word) => (word === 0 && layout.baseOf(location) !== 0 ? [String(layout.baseOf(location))] : []))
    let run: Run | undefined
    const endRun = () => {
      if (run === undefined) return
      words[run.to.word]!.push(times(this.digits(run.first, run.last), run.to.stride))
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
        const constant = this.constants.get(field.slot)
        if (constant === undefined) this.supported = false
        else if (constant !== field.min) words[field.word]!.push(String((constant - field.min) * field.stride))
      } else words[field.word]!.push(times(field.min === 0 ? this.read(field.slot) : `(${this.read(field.slot)}-${field.min})`, field.stride))
    }
    endRun()
    words.forEach((parts, word) => this.emit(`out[at+${word}]=${parts.join('+') || '0'};`))
    this.emit(`return at+${layout.words}`)
  }

  /** The value of neighbouring digits of one word together, as an expression. */
  private digits(first: Field, last: Field): string {
    const word = `w${first.word}`
    const size = (last.stride / first.stride) * last.size
    const lower = first.stride === 1 ? word : isPower(first.stride) ? `(${word}>>${Math.log2(first.stride)})` : `(${word}/${first.stride}|0)`
    if (this.tops.has(last.slot)) return lower
    return isPower(size) ? `(${lower}&${size - 1})` : `(${lower}%${size})`
  }

  private condition(condition: Condition): string {
    const { conditions } = this.parts
    const number = conditions.numberOf(condition.address)
    const test = condition.expr === undefined ? 'false' : this.words.test(condition.expr)
    return conditions.seen[number] === 3 ? `(${test})` : `T(${number},${test})`
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
    const { marks } = this.parts.compiler
    const { moves, stage, reached } = this.parts.compiler.stageMarks(effect.quest, effect.value)
    if (!this.quiet) {
      moves.forEach((move, from) => {
        if (move !== -1 && marks.seen[move] === 0) this.emit(`if(${this.read(slot.index)}===${from})M.hit(${move});`)
      })
      if (reached !== -1) this.mark(reached)
    }
    this.write(slot.index, String(stage))
  }

  private assign(effect: Exclude<LinkedEffect['effect'], { kind: 'stage' }>, slot: Slot, owner: string): void {
    const { story, compiler } = this.parts
    const entry = story.entries[story.entryOf.get(effect.entry)!]!
    if (slot.kind === 'entry' && slot.wide !== undefined) this.supported = false
    switch (entry.kind) {
      case 'flag':
        return this.write(slot.index, `(${this.words.test(effect.value)})?1:0`)
      case 'switch':
      case 'text':
        if (effect.value.kind === 'string') return this.write(slot.index, String(compiler.literalIn(slot, effect.value.value)))
        return this.write(slot.index, this.read(compiler.slotOf(effect.value)!.index))
      case 'counter':
      case 'item': {
        if (!compiler.isPlain(effect.value)) this.supported = false
        const id = this.fresh++
        const value = this.words.count(effect.value)
        const old = this.read(slot.index)
        this.emit(`let n${id}=${effect.kind === 'set' ? value : effect.kind === 'add' ? `${old}+${value}` : `${old}-${value}`};`)
        const over = compiler.follows(entry.index) ? compiler.marks.number('overrun', entry.id, owner) : -1
        const note = over === -1 || this.quiet || compiler.marks.seen[over] === 1 ? '' : `;M.hit(${over})`
        this.emit(`if(n${id}>${entry.max}){n${id}=${entry.max}${note}}else if(n${id}<${entry.min}){n${id}=${entry.min}${note}}`)
        return this.write(slot.index, `n${id}`)
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

function times(value: string, stride: number): string {
  return stride === 1 ? value : `Math.imul(${value},${stride})`
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
