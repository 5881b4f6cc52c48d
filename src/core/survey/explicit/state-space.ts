import type { LinkedStory } from '../../story/linked'
import type { Compiler } from '../interpreter/compile'
import type { Chosen, Givens } from '../interpreter/givens'
import type { Liveness } from '../analysis/liveness'
import type { Observed } from '../analysis/observed'
import type { EventLog, Witness } from '../interpreter/events'
import { prepare, type Preparation } from '../states/preparation'
import type { QuestHorizon } from '../analysis/quest-horizon'
import { givenPlan } from '../analysis/given-plan'
import type { Slots } from '../analysis/slots'
import { lastAtMost } from '../../base/last-at-most'
import type { Layout } from '../states/layout'
import { Engine } from '../interpreter/engine'
import type { Machine } from '../interpreter/machine'
import type { Programs } from '../interpreter/programs'
import { DegreeList } from './transitions'
import { LongList, NumberList } from '../states/lists'
import { NO_STATE, StateSet, type StateSetLimits } from '../states/state-set'

export interface StateSpaceOptions {
  readonly observed: Observed
  /** Off only in tests: every slot is then kept everywhere. */
  readonly liveness?: boolean
}

/**
 * The resting states that were found so far and the transitions between them, each state numbered in the order in which
 * it was found, which is that of its depth; one state at a time is in the working vector.
 */
export abstract class StateSpace {
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
  /** Where the story can begin, each with what the game gives for that. */
  readonly beginnings: { readonly state: number; readonly given: readonly Chosen[] }[] = []
  expanded = 0
  /** Stands for the states and transitions of a finished search: an edit that leaves all of them as they were leaves this. */
  graph: object = {}
  protected readonly engine: Engine
  /** States that were first come to as something given changed. */
  protected readonly movedTo = new Map<number, { readonly state: number; readonly pick: number }>()
  /** By state: how many of its transitions are such changes. */
  protected readonly moveCounts = new NumberList(64)
  /** Successors of all expanded states one after another, each state's in the order of its open decisions, by their names in the set of states. */
  protected readonly edges = new LongList()
  protected readonly degreeList = new DegreeList()
  /** A packed state, at hand. */
  protected readonly one: Uint32Array
  /** What a state that was added is called. */
  protected readonly found = new Uint32Array(1)
  /** Each time successors were added: how many states there were before, and how many successors. */
  protected readonly additions = { states: new NumberList(64), edges: new NumberList(64) }
  /** Where each depth begins among the states. */
  protected readonly levels: number[] = [0]
  protected levelEnd = 0
  /** Where the state rests that stands in the working vector, or -1. */
  private loaded = -1

  protected constructor(
    readonly story: LinkedStory,
    { observed, liveness = true }: StateSpaceOptions,
    limits: StateSetLimits | undefined,
    before: StateSpace | undefined,
  ) {
    this.prepared = prepare(story, observed, liveness, before?.prepared)
    const { slots } = this.prepared
    this.slots = slots
    this.horizon = this.prepared.horizon
    this.liveness = this.prepared.liveness
    this.layout = this.prepared.layout
    this.engine =
      before?.engine.renew(story, slots) === true
        ? before.engine
        : new Engine(story, slots, observed, givenPlan(story, slots, observed))
    const { values, events, compiler, programs, machine, resting, givens } = this.engine
    this.givens = givens
    this.values = values
    this.events = events
    this.compiler = compiler
    this.programs = programs
    this.machine = machine
    this.resting = resting
    this.table = new StateSet(this.layout.cells, this.layout.space, limits)
    this.one = new Uint32Array(this.layout.cells)
  }

  get states(): number {
    return this.table.count
  }

  get bytes(): number {
    return this.table.bytes + this.degreeList.bytes + this.edges.bytes
  }

  get hasMoves(): boolean {
    return this.givens.canChange
  }

  /** How many of a state's first transitions are changes of what is given. */
  movesOf(state: number): number {
    return this.givens.canChange ? this.moveCounts.items[state]! : 0
  }

  /** How many transitions have been looked at. */
  get transitions(): number {
    return this.edges.length
  }

  /** Where a transition leads; those of a state go from `firstEdge` to `endEdge`. NO_STATE for an endless run. */
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
  protected unpack(from: Uint32Array, offset: number): number {
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
}
