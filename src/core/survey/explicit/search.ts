import type { LinkedStory } from '../../story/linked'
import type { EntryValue, Given, RouteItem } from '../../story/types'
import type { Chosen, Givens } from '../interpreter/givens'
import type { Compiler } from '../interpreter/compile'
import type { Liveness, Observed } from '../analysis/liveness'
import type { EventLog, Witness } from '../interpreter/events'
import { prepare, type Preparation } from '../states/preparation'
import type { QuestHorizon } from '../analysis/quest-horizon'
import type { FlowGraph } from '../analysis/flow-graph'
import { isCutShort, type Slots } from '../analysis/slots'
import { givenPlan } from '../analysis/given-plan'
import { beatsThatRead, beatsThatTouch } from '../analysis/given-reads'
import { slotValue } from '../states/slot-value'
import { otherWord } from '../summaries/word-domains'
import { lastAtMost } from '../../base/last-at-most'
import type { Layout } from '../states/layout'
import { GeneratedCode } from '../codegen/generate'
import { Engine } from '../interpreter/engine'
import { ENDLESS, type Machine } from '../interpreter/machine'
import type { BeatProgram, Programs } from '../interpreter/programs'
import { Backward, type BackwardLimits } from './backward'
import { DegreeList } from './transitions'
import { LongList, NumberList } from '../states/lists'
import { BATCH } from '../states/pages'
import { NO_STATE, StateSet, type StateSetLimits } from '../states/state-set'

/** Looked at this often, a beat is worth code of its own. */
const HOT = 100
/** Code is first written after so many states, then each time after four times as many. */
const FIRST_CODE = 512
const NEXT_CODE = 4
const NO_WORDS: ReadonlySet<string> = new Set()
const NOTHING_GIVEN: readonly Chosen[] = []
/** The number of the first change of a state among its transitions, of which the following go downwards. */
const FIRST_MOVE = -2
/** Stands for where a choice leads that can't be taken. */
const CLOSED = -3

/** A transition as it is told in a route. */
export interface Leg {
  /** What is decided; undefined where something given changes. */
  readonly item: RouteItem | undefined
  /** What the game gives for it. */
  readonly given: readonly Chosen[]
}

export interface SearchLimits {
  readonly backward?: BackwardLimits
  readonly stateSet?: StateSetLimits
}

export interface SearchOptions {
  readonly observed: Observed
  /** Off only in tests: every slot is then kept everywhere. */
  readonly liveness?: boolean
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
export class Search {
  /** For the search after the next edit to be prepared from. */
  readonly prepared: Preparation
  readonly slots: Slots
  readonly layout: Layout
  readonly horizon: QuestHorizon
  readonly liveness: Liveness
  readonly values: Int32Array
  readonly events: EventLog
  readonly compiler: Compiler
  readonly programs: Programs
  readonly machine: Machine
  readonly table: StateSet
  readonly resting: Engine['resting']
  readonly givens: Givens
  /** By beat: whether it reads something that the game may change, and whether a decision there may come to something that does. */
  private readonly readsGiven: Uint8Array
  private readonly touchesGiven: Uint8Array
  /** Where the story can begin, each with what the game gives for that. */
  readonly beginnings: { readonly state: number; readonly given: readonly Chosen[] }[] = []
  /** States that were first come to as something given changed. */
  private readonly movedTo = new Map<number, { readonly state: number; readonly pick: number }>()
  /** By state: how many of its transitions are such changes. */
  private readonly moveCounts = new NumberList(64)
  /** Of the level that is begun next: how many states have been looked at for changes. */
  private settled = 0
  /** What can be reached from which states. */
  readonly backward: Backward
  private readonly engine: Engine
  /** Successors of all expanded states one after another, each state's in the order of its open decisions, by their names in the set of states. */
  private readonly edges = new LongList()
  private readonly degreeList = new DegreeList()
  expanded = 0
  private readonly isCutShort: boolean
  /** A packed state, at hand. */
  private readonly one: Uint32Array
  /** What a state that was added is called. */
  private readonly found = new Uint32Array(1)
  /** Packed successors that are not numbered yet. */
  private pending: Uint32Array
  private waiting = 0
  /** Each time successors were added: how many states there were before, and how many successors. */
  private readonly additions = { states: new NumberList(64), edges: new NumberList(64) }
  /** By location: how often it was looked at. */
  private readonly looks: Uint32Array
  private readonly hotAfter: number
  /** Beats that are looked at often and have no code yet. */
  private hot: number[] = []
  private code: GeneratedCode | undefined
  private nextCode: number
  private readonly roads: FlowGraph
  /** Where the state rests that stands in the working vector, or -1. */
  private loaded = -1
  /** Where each depth begins among the states. */
  private readonly levels: number[] = [0]
  private levelEnd = 0

  constructor(
    readonly story: LinkedStory,
    options: SearchOptions,
    /** The search of the story as it was before an edit; it can be asked nothing more afterwards. */
    before?: Search,
  ) {
    this.prepared = prepare(story, options.observed, options.liveness !== false, before?.prepared)
    const { slots, roads, horizon, liveness, layout } = this.prepared
    this.slots = slots
    this.roads = roads
    this.horizon = horizon
    this.liveness = liveness
    this.layout = layout
    this.engine =
      before?.engine.renew(story, slots) === true
        ? before.engine
        : new Engine(story, slots, options.observed, givenPlan(story, slots, options.observed))
    const { values, events, compiler, programs, machine, resting, givens } = this.engine
    this.givens = givens
    this.readsGiven = beatsThatRead(roads, slots, [...givens.plan.free, ...givens.plan.held])
    // where something held can change, every state has changes
    this.touchesGiven =
      givens.plan.held.length > 0 ? this.readsGiven.map(() => 1) : beatsThatTouch(roads, this.readsGiven)
    this.values = values
    this.events = events
    this.compiler = compiler
    this.programs = programs
    this.machine = machine
    this.resting = resting
    this.table = new StateSet(this.layout.cells, this.layout.space, options.limits?.stateSet)
    this.one = new Uint32Array(this.layout.cells)
    this.pending = new Uint32Array(BATCH * this.layout.cells)
    this.looks = new Uint32Array(2 * story.beats.length)
    this.hotAfter = options.hot ?? HOT
    this.nextCode = options.hot ?? FIRST_CODE
    this.backward = new Backward(this, options.limits?.backward)
    this.isCutShort = isCutShort(story, slots)
    if (options.observed.anywhere !== true) this.begin()
  }

  get states(): number {
    return this.table.count
  }

  get done(): boolean {
    return this.expanded === this.table.count && !this.isCutShort
  }

  /** All that can be looked at was, though not all that there is. */
  get isExhausted(): boolean {
    return this.expanded === this.table.count
  }

  get bytes(): number {
    return this.table.bytes + this.degreeList.bytes + this.edges.bytes
  }

  /** Expands up to `count` more states; true when none is left. */
  advance(count: number): boolean {
    const until = this.expanded + count
    while (this.expanded < until) {
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
      if (this.looks[location] === this.hotAfter) this.hot.push(location)
      this.looks[location]! += 1
      if (this.expanded >= this.nextCode && this.hot.length > 0) this.writeCode()
      if (this.code?.has(location) === true) this.expandTogether(this.code, location, Math.min(until, this.levelEnd))
      else this.expandOne(location)
    }
    this.flush()
    return this.done
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

  /** Hears where the story goes, or how it rests on, as something given changes in a state; gives whether it can go on from there at all. */
  private eachMove(
    packed: Uint32Array,
    location: number,
    hear: (to: number) => void,
    before: () => void = () => undefined,
  ): boolean {
    const { givens, machine, values, events } = this
    const { held } = givens.plan
    const { length } = this.story.beats
    const stuck = location >= length
    const beat = stuck ? location - length : location
    const program = this.programs.of(beat)
    if (program.ending !== -1) return true
    const reset = () => {
      this.unpack(packed, 0)
      before()
    }
    let moves = 0
    let goesOn = false
    let own: readonly number[] = []
    const move = (to: number) => {
      moves += 1
      hear(to)
    }
    const isChanged = () => held.some((slot, at) => values[slot] !== own[at])
    const choose = () => {
      own = held.map((slot) => values[slot]!)
      for (const slot of held) givens.choose(slot)
    }
    if (!stuck && program.asks) {
      const hear = () => {
        // what it gives is no answer: false would end it
        if (isChanged()) move(location)
      }
      if (held.length > 0) givens.every(reset, choose, hear)
      return true
    }
    if (held.length === 0 && this.readsGiven[beat] === 0) {
      reset()
      if (stuck) return false
      return program.choices.some((choice) => machine.isOpen(choice))
    }
    givens.every(
      reset,
      () => {
        choose()
        events.pick = FIRST_MOVE - moves
        return machine.comeAgain(beat, stuck)
      },
      (to) => {
        if (to !== location) goesOn = true
        else if (machine.isOffered) goesOn = true
        if (to !== location || isChanged()) move(to)
      },
    )
    return goesOn
  }

  /** The transitions of a state where something given can change: first what changes lead to, then decisions with all that may be given for them. */
  private eachTransition(
    packed: Uint32Array,
    location: number,
    hear: (to: number, item: RouteItem | undefined) => boolean | void,
    before: () => void = () => undefined,
  ): void {
    const { givens, machine, events } = this
    const { beats } = this.story
    let transitions = 0
    let isOver = false
    const tell = (to: number, item?: RouteItem): boolean => {
      transitions += 1
      isOver = hear(to, item) === false
      return !isOver
    }
    const goesOn = this.eachMove(packed, location, (to) => !isOver && tell(to), before)
    const decided = transitions
    if (isOver) return
    const reset = () => {
      this.unpack(packed, 0)
      events.pick = -1
      before()
    }
    const program = location < beats.length ? this.programs.of(location) : undefined
    if (program?.asks === true) {
      if (program.prompt !== undefined) givens.every(reset, program.prompt, () => undefined)
      for (const word of program.typable) {
        const item = { at: beats[location]!.address, word: this.wordOf(program, word) }
        const say = () => {
          events.pick = transitions
          return machine.say(location, word)
        }
        if (!isOver) givens.every(reset, say, (to) => tell(to, item))
      }
      return
    }
    for (const choice of program?.choices ?? []) {
      if (isOver) return
      const take = () => {
        if (!machine.isOpen(choice)) return CLOSED
        if (events.occurred[choice.event] === 0) events.record(choice.event)
        choice.shown?.()
        events.pick = transitions
        return machine.take(location, choice)
      }
      givens.every(reset, take, (to) => to === CLOSED || tell(to, { choice: choice.address }))
      const { shown } = choice
      if (!choice.shownClosed || shown === undefined) continue
      // greyed where the story rests
      const rests = () => {
        if (events.quietly(() => !machine.isOpen(choice) && machine.comeAgain(location, false) === location)) shown()
      }
      givens.every(reset, rests, () => undefined)
    }
    if (goesOn || decided < transitions || (program?.ending !== undefined && program.ending !== -1)) return
    reset()
    events.record(events.number('dead-end', beats[location % beats.length]!.address))
  }

  /** Whether a rest at a beat can be left, or its choices change, as something given does. */
  canMoveAt(beat: number): boolean {
    return this.readsGiven[beat] === 1
  }

  get hasMoves(): boolean {
    return this.givens.canChange
  }

  /** How many of a state's first transitions are changes of what is given. */
  movesOf(state: number): number {
    return this.givens.canChange ? this.moveCounts.items[state]! : 0
  }

  /** The transitions of a state in their order: what is decided, or undefined where it is a change, and what the game gives for it. */
  legsIn(state: number): Leg[] {
    if (!this.givens.canChange) return this.decisionsIn(state).map((item) => ({ item, given: NOTHING_GIVEN }))
    const legs: Leg[] = []
    this.events.quietly(() =>
      this.eachTransition(this.packedOf(state).slice(), this.locationOf(state), (_, item) => {
        legs.push({ item, given: this.givens.chosen() })
      }),
    )
    return legs
  }

  /** How many beats have code of their own. */
  get codedBeats(): number {
    return this.code?.count ?? 0
  }

  /** How many transitions have been looked at. */
  get transitions(): number {
    return this.edges.length
  }

  /** Where a transition leads; those of a state go from `rowStart` to `rowEnd`. NO_STATE for an endless run. */
  successor(transition: number): number {
    return this.table.orderOf(this.edges.at(transition))
  }

  /** The same by what that state is called in the set of states. */
  successorId(transition: number): number {
    return this.edges.at(transition)
  }

  firstEdge(state: number): number {
    return this.degreeList.start(state)
  }

  endEdge(state: number): number {
    return this.degreeList.start(state) + this.degreeList.lengthOf(state)
  }

  /** The same by state, for all expanded states and perhaps more. */
  get degrees(): Uint8Array | Uint32Array {
    return this.degreeList.allLengths
  }

  /** How many decisions are open in an expanded state. */
  degree(state: number): number {
    return this.degreeList.lengthOf(state)
  }

  /** The state from which a state was found first, and by which of its decisions; undefined for the first state. */
  foundBy(state: number): { readonly state: number; readonly pick: number } | undefined {
    if (this.beginnings.some((one) => one.state === state)) return undefined
    const moved = this.movedTo.get(state)
    if (moved !== undefined) return moved
    const { states, edges: starts } = this.additions
    const { edges } = this
    let edge = starts.items[lastAtMost(states.items, states.length, state)]!
    const name = this.table.idOf(state)
    while (edges.at(edge) !== name) edge += 1
    const source = this.degreeList.rowOf(edge)
    return { state: source, pick: edge - this.degreeList.start(source) }
  }

  /** The fewest decisions in which a state is reached. */
  depthOf(state: number): number {
    if (state >= this.levelEnd) return this.levels.length - 1
    return Math.max(0, lastAtMost(this.levels, this.levels.length, state) - 1)
  }

  decisionsOf(witness: Witness): number {
    if (witness.told !== undefined) return witness.told.decisions
    if (witness.state === -1) return 0
    return this.depthOf(witness.state) + (witness.pick < 0 ? 0 : 1)
  }

  /** Puts a state into the working vector; gives the beat it rests at. */
  load(state: number): { beat: number; stuckAfterWord: boolean } {
    const location = this.unpack(this.packedOf(state), 0)
    const { length } = this.story.beats
    return location < length
      ? { beat: location, stuckAfterWord: false }
      : { beat: location - length, stuckAfterWord: true }
  }

  /** Puts a packed state in the place of what stands in the working vector; gives its location. */
  private unpack(from: Uint32Array, offset: number): number {
    this.machine.putBack()
    if (this.loaded !== -1) this.layout.putBack(this.loaded, this.values)
    this.loaded = this.layout.unpack(from, offset, this.values)
    return this.loaded
  }

  locationOf(state: number): number {
    return this.layout.locationOf(this.table.firstCell(state))
  }

  /** A state as it is packed; good until the next is asked for. */
  packedOf(state: number): Uint32Array {
    this.table.copy(state, state + 1, this.one, 0)
    return this.one
  }

  /** The beat that a state rests at. */
  beatOf(state: number): number {
    return this.locationOf(state) % this.story.beats.length
  }

  /** Loads a state and tells `at` and `ended` where it rests. */
  loadResting(state: number): { beat: number; ending: number; stuckAfterWord: boolean } {
    const { beat, stuckAfterWord } = this.load(state)
    this.resting.beat = beat
    this.resting.ending = stuckAfterWord ? -1 : this.story.beats[beat]!.ending
    return { beat, ending: this.resting.ending, stuckAfterWord }
  }

  /**
   * Looks at every state in turn, with `at` and `ended` told where it rests, and of the slots only
   * some in the working vector: that is far quicker than loading states whole.
   */
  eachState(slots: readonly number[], hear: (state: number) => void): void {
    const { values, layout, resting } = this
    const { beats } = this.story
    this.machine.putBack()
    if (this.loaded !== -1) layout.putBack(this.loaded, values)
    this.loaded = -1
    const read = layout.reader(slots)
    for (let state = 0; state < this.states; state += 1) {
      const location = read(this.packedOf(state), 0, values)
      const beat = location < beats.length ? location : location - beats.length
      resting.beat = beat
      resting.ending = beat === location ? beats[beat]!.ending : -1
      hear(state)
    }
    for (const slot of slots) values[slot] = this.slots.all[slot]!.initial
  }

  /** The decisions open in a state, in the order of its successors; a change of what is given as such. */
  decisionsIn(state: number): RouteItem[] {
    if (this.givens.canChange) return this.legsIn(state).map(({ item, given }) => item ?? this.givenItem(given))
    const { beat, stuckAfterWord } = this.load(state)
    const program = this.programs.of(beat)
    if (stuckAfterWord || program.ending !== -1) return []
    if (program.asks) {
      const address = this.story.beats[beat]!.address
      return program.typable.map((value) => ({ at: address, word: this.wordOf(program, value) }))
    }
    return program.choices.filter((choice) => this.machine.isOpen(choice)).map((choice) => ({ choice: choice.address }))
  }

  /** Plays an open decision of a state again; the working vector is then where it led. */
  replayPick(state: number, pick: number): void {
    if (this.givens.canChange) {
      let at = -1
      const edge = pick < 0 ? FIRST_MOVE - pick : pick
      this.eachTransition(this.packedOf(state).slice(), this.locationOf(state), () => (at += 1) < edge)
      return
    }
    this.load(state)
    const beat = this.locationOf(state)
    const program = this.programs.of(beat)
    if (program.asks) {
      this.machine.say(beat, program.typable[pick]!)
      return
    }
    let open = -1
    for (const choice of program.choices) {
      if (!this.machine.isOpen(choice)) continue
      open += 1
      if (open === pick) {
        this.machine.take(beat, choice)
        return
      }
    }
  }

  /** Plays every transition again, with nothing marked: for questions about what happens on the way. */
  replayAll(): void {
    const nothing = () => undefined
    this.events.quietly(() => {
      this.eachBeginning(nothing, nothing)
      for (let state = 0; state < this.expanded; state += 1) {
        this.load(state)
        for (const choice of this.programs.of(this.beatOf(state)).choices) this.machine.isOpen(choice)
        this.replayFrom(state, nothing, nothing)
      }
    })
  }

  /** Plays the transitions of a state again; `before` hears before each, `after` after it. */
  replayFrom(state: number, before: () => void, after: (pick: number) => void): void {
    if (!this.givens.canChange) {
      for (let pick = 0; pick < this.degree(state); pick += 1) {
        before()
        this.replayPick(state, pick)
        after(pick)
      }
      return
    }
    let pick = -1
    // whatever it gives, all are played: false would end it
    const hear = () => {
      after((pick += 1))
    }
    this.eachTransition(this.packedOf(state).slice(), this.locationOf(state), hear, before)
  }

  /** The word that is typed at a beat for a value of what it goes into. */
  wordOf(program: BeatProgram, value: number): string {
    const slot = this.slots.all[program.into]
    return slot?.kind === 'entry' ? slot.words!.values[value]! : otherWord(NO_WORDS)
  }

  /** What is chosen as it stands in a route. */
  givenItem(given: readonly Chosen[]): Given {
    const pairs = given.map(([slot, value]): [string, EntryValue] => {
      const one = this.slots.all[slot]!
      return [this.story.entries[one.kind === 'entry' ? one.entry : -1]!.id, slotValue(this.story, one, value)]
    })
    return { given: Object.fromEntries(pairs) }
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
    if (location === ENDLESS) return NO_STATE
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

  /** Whether the story is stuck in an expanded state, and nothing that the game gives opens or moves on. */
  isDeadEnd(state: number): boolean {
    const location = this.locationOf(state)
    const { beats } = this.story
    if (location < beats.length && beats[location]!.ending !== -1) return false
    const start = this.firstEdge(state)
    const decided = start + this.movesOf(state)
    if (decided < this.endEdge(state)) return false
    for (let edge = start; edge < decided; edge += 1) {
      const next = this.successor(edge)
      if (next === NO_STATE || this.locationOf(next) !== location) return false
      // the same rest with something else given
      if (this.movesOf(next) < this.degree(next)) return false
    }
    return true
  }

  /** Begins again in every way; `before` hears before each, `hear` to which state it leads, or NO_STATE. */
  eachBeginning(before: () => void, hear: (state: number) => void): void {
    const { layout, table } = this
    if (this.story.start === -1) return
    this.everyBeginning(before, (location) => {
      if (location === ENDLESS) return hear(NO_STATE)
      layout.pack(location, this.values, this.one, 0)
      table.addAll(this.one, 1, this.found, 0)
      hear(table.orderOf(this.found[0]!))
    })
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

  private everyBeginning(before: () => void, hear: (location: number) => void): void {
    const { givens, machine, layout, story } = this
    const isHeld = new Set([...givens.plan.begin, ...givens.plan.held])
    const play = () => {
      const location = machine.begin(story.start)
      // what is held from the first rest on is chosen by then
      if (location !== ENDLESS)
        for (const { slot } of layout.fieldsOf(location)) if (isHeld.has(slot)) givens.choose(slot)
      return location
    }
    givens.every(before, play, hear, true)
    machine.putBack()
  }

  /** Expands a state in the interpreter. */
  private expandOne(location: number): void {
    if (this.code?.isFull === true) this.flush()
    const before = this.edges.length + this.waiting / this.layout.cells
    this.expand(this.expanded, location)
    this.degreeList.push(this.edges.length + this.waiting / this.layout.cells - before)
    this.expanded += 1
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

  /** Writes code for the beats that have been looked at often. */
  private writeCode(): void {
    const { story, compiler, layout, roads, machine } = this
    this.code ??= new GeneratedCode({
      story,
      compiler,
      layout,
      roads,
      fallback: {
        load: (states, offset) => void this.unpack(states, offset),
        wrote: (slots) => machine.wrote(slots),
        follow: (beat, scene, out, at) => void this.packed(machine.resume(beat, scene), out, at),
      },
    })
    this.programs.hasCode = true
    this.code.write(this.hot.filter((location) => location < story.beats.length && this.touchesGiven[location] === 0))
    this.hot = []
    this.nextCode = this.hotAfter < HOT ? 0 : this.expanded * NEXT_CODE
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
