import type { LinkedStory } from '../../story/linked'
import { isCutShort } from '../analysis/slots'
import { GeneratedCode } from '../codegen/generate'
import { ENDLESS, type Machine } from '../interpreter/machine'
import type { BeatProgram } from '../interpreter/programs'
import { BATCH } from '../states/pages'
import { NO_STATE, type StateSetLimits } from '../states/state-set'
import { Backward, type BackwardLimits } from './backward'
import { EarlierSearch } from './earlier-search'
import { HotBeats } from './hot-beats'
import { sameGraph } from './same-graph'
import type { StateSpaceOptions } from './state-space'
import { FIRST_MOVE, NOTHING_GIVEN, TransitionPlayer } from './transition-player'

/** So many slots of a state of several words take as long again as all else that a transition takes. */
const FIELDS_A_TRANSITION = 4
/** What is done in one go, by what transitions cost: some 50 milliseconds; and how many states first, when nobody knows yet how many each has. */
const COST_A_TURN = 100_000
const STATES_FIRST = 64
const COST_FIRST = 1000

/** With more than this states are no longer looked at one by one while they are looked at in sets. */
export const BYTES_BESIDE_SETS = 600_000_000

export interface SearchLimits {
  readonly backward?: BackwardLimits
  readonly stateSet?: StateSetLimits
}

export interface SearchOptions extends StateSpaceOptions {
  /** How often a beat is looked at before code is written for it; for tests. */
  readonly hot?: number
  /** From what size on it goes another way; for tests. */
  readonly limits?: SearchLimits | undefined
}

/**
 * Breadth-first search over the resting states of a story (explicit-state model checking;
 * Clarke, Grumberg, Peled: Model Checking, 1999). Transitions are decisions; what happens by
 * itself between two resting states is part of the transition. States come in order of depth, so
 * the first transition that shows something is a shortest one.
 */
export class Search extends TransitionPlayer {
  /** What can be reached from which states. */
  readonly backward: Backward
  /** Of the level that is begun next: how many states have been looked at for changes. */
  private settled = 0
  private readonly isCutShort: boolean
  /** Packed successors that are not numbered yet. */
  private pending: Uint32Array
  private waiting = 0
  private readonly hot: HotBeats
  /** How many states were expanded as they were before the edit. */
  takenOver = 0
  /** Until this search is done: the one that it takes over transitions from. */
  private earlier: EarlierSearch | undefined

  constructor(
    story: LinkedStory,
    options: SearchOptions,
    /** The search of the story as it was before an edit; it can be asked nothing more afterwards. */
    before?: Search,
  ) {
    super(story, options, options.limits?.stateSet, before)
    this.pending = new Uint32Array(BATCH * this.layout.cells)
    const { length } = story.beats
    const isFit = (location: number) => location < length && this.touchesGiven[location] === 0
    this.hot = new HotBeats(2 * length, () => this.newCode(), isFit, options.hot)
    this.backward = new Backward(this, options.limits?.backward)
    this.isCutShort = isCutShort(story, this.slots)
    this.earlier = before && EarlierSearch.of(before, before.done, this)
    if (options.observed.anywhere !== true) this.begin()
  }

  get done(): boolean {
    return this.expanded === this.table.count && !this.isCutShort
  }

  /** All that can be looked at was, though not all that there is. */
  get isExhausted(): boolean {
    return this.expanded === this.table.count
  }

  /** Expands up to `count` more states, fewer where much is to be done for each; true when none is left. */
  advance(count: number): boolean {
    const until = this.expanded + this.inOneGo(count)
    while (this.expanded < until) {
      if (!this.hot.write(this.expanded)) break
      if (this.expanded === this.levelEnd || this.expanded === this.table.count) {
        this.flush()
        if (this.expanded === this.table.count) break
      }
      if (this.expanded === this.levelEnd) {
        if (this.givens.canChange && !this.settle(until)) break
        this.levels.push(this.levelEnd)
        this.levelEnd = this.table.count
      }
      const location = this.locationOf(this.expanded)
      if (this.code?.has(location) === true) this.expandTogether(this.code, location, Math.min(until, this.levelEnd))
      else this.expandOne(location)
    }
    this.flush()
    if (this.isExhausted && this.earlier !== undefined) {
      const { before } = this.earlier
      this.earlier = undefined
      if (this.done && sameGraph(this, before)) this.graph = before.graph
    }
    return this.done
  }

  /** What a transition costs, where one of a state of one cell costs about 1: longer states are packed for longer. */
  get costOfTransition(): number {
    return 1 + this.layout.fields / FIELDS_A_TRANSITION
  }

  /** How many states are expanded before others get their turn. */
  private inOneGo(count: number): number {
    const { costOfTransition, expanded, transitions } = this
    if (expanded === 0) return Math.min(count, STATES_FIRST, Math.max(1, Math.floor(COST_FIRST / costOfTransition)))
    const forOne = costOfTransition * Math.max(1, transitions / expanded)
    return Math.min(count, Math.max(1, Math.floor(COST_A_TURN / forOne)))
  }

  /**
   * What is come to as something given changes is come to without a decision: it belongs to the level that is begun
   * next. False where `until` is too little to look at all of it.
   */
  private settle(until: number): boolean {
    this.settled = Math.max(this.settled, this.levelEnd)
    for (let budget = Math.max(1, until - this.expanded); this.settled < this.table.count; budget -= 1) {
      if (budget === 0) return false
      const state = this.settled
      this.settled += 1
      let moves = 0
      this.events.state = state
      this.eachMove(this.packedOf(state).slice(), this.locationOf(state), (to) => {
        const pick = FIRST_MOVE - moves
        moves += 1
        if (this.packed(to, this.one, 0) === 0 || this.one[0] === NO_STATE) return
        const { table, edges } = this
        if (table.isCrowded) edges.replaceAll(table.holdWhole())
        const before = table.count
        table.addAll(this.one, 1, this.found, 0)
        if (table.count > before) this.movedTo.set(before, { state, pick })
      })
    }
    return true
  }

  private get code(): GeneratedCode | undefined {
    return this.hot.code
  }

  /** How many beats have code of their own. */
  get codedBeats(): number {
    return this.code?.count ?? 0
  }

  private begin(): void {
    if (this.story.start === -1) return
    this.events.state = -1
    this.events.pick = -1
    const { plan } = this.givens
    if (plan.begin.length + plan.held.length + plan.free.length > 0) return this.beginAll()
    const location = this.machine.begin(this.story.start)
    if (location === ENDLESS) return this.noteEndless()
    this.layout.pack(location, this.values, this.pending, 0)
    this.table.addAll(this.pending, 1, this.found, 0)
    this.beginnings.push({ state: 0, given: NOTHING_GIVEN })
  }

  /**
   * Has a playthrough begin where `come` brings the working vector, from what everything is at first; gives what its
   * state is called (to be numbered by `begun` once all have begun), or NO_STATE where it never rests. Only of a search
   * that may begin anywhere, before it has gone on.
   */
  beginAt(come: (values: Int32Array, machine: Machine) => number): number {
    const { machine, values, layout, table, slots } = this
    machine.putBack()
    for (const { index, initial } of slots.all) values[index] = initial
    const location = come(values, machine)
    if (location < 0) return NO_STATE
    layout.pack(location, values, this.one, 0)
    const before = table.count
    table.addAll(this.one, 1, this.found, 0)
    if (table.count > before) this.beginnings.push({ state: before, given: NOTHING_GIVEN })
    return this.found[0]!
  }

  /** The number of a state that a playthrough began in. */
  begun(called: number): number {
    return this.table.orderOf(called)
  }

  /** Begins with all that the game may give. */
  private beginAll(): void {
    const { givens, layout, table } = this
    this.events.chosen = () => givens.chosen()
    const note = (location: number) => {
      if (location === ENDLESS) return this.noteEndless()
      layout.pack(location, this.values, this.pending, 0)
      const before = table.count
      table.addAll(this.pending, 1, this.found, 0)
      if (table.count > before) this.beginnings.push({ state: before, given: givens.chosen() })
    }
    this.everyBeginning(() => undefined, note)
  }

  /** Expands a state in the interpreter, or as it was expanded before the edit. */
  private expandOne(location: number): void {
    if (this.code?.isFull === true) this.flush()
    const before = this.edges.length + this.waiting / this.layout.cells
    if (!this.takeOver(location)) {
      this.hot.look(location)
      this.expand(this.expanded, location)
    }
    this.degreeList.push(this.edges.length + this.waiting / this.layout.cells - before)
    this.expanded += 1
  }

  /** Expands a state as it was expanded before the edit; false where it has to be played. */
  private takeOver(location: number): boolean {
    const { earlier } = this
    if (earlier === undefined) return false
    const number = earlier.numberOf(this.packedOf(this.expanded), location)
    if (number === NO_STATE) return false
    this.makeRoom(earlier.degree(number))
    this.takenOver += 1
    this.events.state = this.expanded
    this.waiting += earlier.expand(number, this.pending, this.waiting) * this.layout.cells
    return true
  }

  /** Expands the next states that rest where a beat has code, all before `end`. */
  private expandTogether(code: GeneratedCode, location: number, end: number): void {
    if (this.waiting > 0) this.flush()
    let count = code.expand(location, this.table, this.expanded, end)
    if (count === 0) {
      this.flush()
      count = code.expand(location, this.table, this.expanded, end)
    }
    this.expanded += count
    if (this.givens.canChange) for (let at = 0; at < count; at += 1) this.moveCounts.push(0)
  }

  private expand(state: number, location: number): void {
    const { events, machine } = this
    events.state = state
    events.pick = -1
    if (this.givens.canChange) {
      let moves = 0
      this.eachTransition(this.packedOf(state).slice(), location, (to, item) => {
        if (item === undefined) moves += 1
        this.makeRoom(1)
        this.record(to)
      })
      this.moveCounts.push(moves)
      return
    }
    const packed = this.packedOf(state)
    const beats = this.story.beats.length
    if (location >= beats) {
      events.record(events.number('dead-end', this.story.beats[location - beats]!.address))
      return
    }
    this.unpack(packed, 0)
    const program = this.programs.of(location)
    if (program.ending !== -1) return
    if (program.asks) return this.expandWords(program, location, packed)
    const { choices } = program
    let open = 0
    // Every gate is asked before any choice is taken: a list's trial leaves the values as they were.
    let bits = 0
    const many = choices.length > 31 ? new Uint8Array(choices.length) : undefined
    for (let at = 0; at < choices.length; at += 1) {
      const choice = choices[at]!
      if (machine.isOpen(choice)) {
        if (events.occurred[choice.event] === 0) events.record(choice.event)
        choice.shown?.()
        if (many === undefined) bits |= 1 << at
        else many[at] = 1
        open += 1
      } else if (choice.shownClosed) choice.shown?.()
    }
    if (open === 0) {
      events.record(events.number('dead-end', this.story.beats[location]!.address))
      return
    }
    this.makeRoom(open)
    let pick = 0
    for (let at = 0; at < choices.length; at += 1) {
      if (many === undefined ? ((bits >>> at) & 1) === 0 : many[at] === 0) continue
      if (pick > 0) this.unpack(packed, 0)
      events.pick = pick
      this.record(machine.take(location, choices[at]!))
      pick += 1
    }
  }

  private expandWords({ prompt, typable }: BeatProgram, location: number, packed: Uint32Array): void {
    prompt?.()
    this.makeRoom(typable.length)
    for (let pick = 0; pick < typable.length; pick += 1) {
      this.events.pick = pick
      if (pick > 0) this.unpack(packed, 0)
      this.record(this.machine.say(location, typable[pick]!))
    }
  }

  private record(location: number): void {
    this.waiting = this.packed(location, this.pending, this.waiting)
  }

  /** Writes the working vector as a packed state; gives where the next would stand. */
  private packed(location: number, out: Uint32Array, at: number): number {
    if (location === ENDLESS) {
      this.noteEndless()
      out[at] = NO_STATE
    } else this.layout.pack(location, this.values, out, at)
    return at + this.layout.cells
  }

  /** Code that knows of no beats yet. */
  private newCode(): GeneratedCode {
    const { story, compiler, layout, machine } = this
    this.programs.hasCode = true
    return new GeneratedCode({
      story,
      compiler,
      layout,
      roads: this.prepared.roads,
      fallback: {
        load: (states, offset) => void this.unpack(states, offset),
        wrote: (slots) => machine.wrote(slots),
        follow: (beat, scene, out, at) => void this.packed(machine.resume(beat, scene), out, at),
      },
    })
  }

  /** Makes room for so many successors. */
  private makeRoom(successors: number): void {
    const needed = successors * this.layout.cells
    if (this.waiting + needed <= this.pending.length) return
    this.flush()
    if (needed > this.pending.length) this.pending = new Uint32Array(needed)
  }

  /** Adds the successors that wait: those of the interpreter, or those of generated code. */
  private flush(): void {
    const { code, layout } = this
    if (this.waiting > 0) {
      const size = this.waiting / layout.cells
      this.waiting = 0
      this.addEdges(this.pending, size)
    }
    if (code?.isFull !== true) return
    const { successors, degrees } = code.take()
    this.degreeList.append(degrees)
    this.addEdges(successors, successors.length / layout.cells)
  }

  private addEdges(packed: Uint32Array, size: number): void {
    const { table, edges, layout } = this
    if (table.isCrowded) edges.replaceAll(table.holdWhole())
    for (let from = 0; from < size;) {
      const states = table.count
      const first = edges.length
      from += edges.write(Math.min(BATCH, size - from), (into, at, count) =>
        table.addAll(from === 0 ? packed : packed.subarray(from * layout.cells), count, into, at),
      )
      this.noteAddition(states, first)
    }
  }

  private noteAddition(states: number, edges: number): void {
    if (this.table.count === states) return
    this.additions.states.push(states)
    this.additions.edges.push(edges)
  }

  private noteEndless(): void {
    this.events.record(this.events.number('endless', this.story.beats[this.machine.firstOfCycle]!.address))
  }
}
