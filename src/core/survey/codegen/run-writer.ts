import type { LinkedBeat, LinkedChoice, LinkedLine, WholeLine, LinkedRule, LinkedTurns, Road } from '../../story/linked'
import { phaseAfter, turnIn } from '../../story/turns'
import { members } from '../analysis/bits'
import type { Slot } from '../analysis/slots'
import { LEAVE } from './code-plan'
import { EffectWriter } from './effect-writer'
import { anyOf } from './expression-writer'
import { writePacked } from './pack-writer'
import { binary, block, call, constant, get, give, leave, not, OP, set, select, store, when, type Code } from './wasm'

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

/** Writes the functions of one beat: its gates, or one of its choices with the run to the next resting beat. */
export class BeatWriter extends EffectWriter {
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

  take(choice: LinkedChoice): void {
    const { scene } = this.parts.story.beats[this.beat]!
    const taken = this.parts.compiler.slots.ofTaken[choice.index]!
    if (taken !== -1) this.write(taken, constant(1))
    this.effects(choice.effects, choice.address)
    const way: RunContext = { scene, place: undefined, path: [] }
    if (choice.to.kind === 'road') this.go(choice.to.road, way)
    else this.firstOf(choice.to.rules, way)
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
      before: this.readOutside,
    })
    if (this.within !== undefined) {
      this.successor = words
      return
    }
    const { at } = this.standing
    words.forEach((value, word) => this.emit(store(at, value, 4 * word)))
    this.emit(give(binary(OP.add, at, constant(4 * layout.cells))))
  }
}

/** Where a run is: the scene it is in, the place that is known to be current, the beats gone through by themselves. */
interface RunContext {
  readonly scene: number
  place: number | undefined
  readonly path: readonly number[]
}
