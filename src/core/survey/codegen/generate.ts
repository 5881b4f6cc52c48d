import type { Slices } from '../../base/slices'
import type { LinkedStory } from '../../story/linked'
import type { Compiler } from '../interpreter/compile'
import type { FlowGraph } from '../analysis/flow-graph'
import { writeBeat } from './emitter'
import { IMPORTS, type LeftRun, type MemoryPlan, type WriterParts } from './code-plan'
import type { Layout } from '../states/layout'
import type { StateSet } from '../states/state-set'
import { moduleBytes, type FunctionCode } from './wasm'

/**
 * Code for the beats that a search looks at often: gates, effects and the run to the next resting
 * beat on the digits of the packed state, with every name, place and number known, as WebAssembly.
 * What has been marked and logged already when it is written is left out. (The idea: partial
 * evaluation of an interpreter; Jones, Gomard, Sestoft: Partial Evaluation and Automatic Program
 * Generation, 1993.)
 */

/** What generated code falls back on where a run is too long, or goes where only the play can tell. */
export interface Fallback {
  /** Puts a packed state into the working vector. */
  readonly load: (states: Uint32Array, offset: number) => void
  /** Hears which slots of the working vector have been written. */
  readonly wrote: (slots: readonly number[]) => void
  /** Goes on from the working vector to `beat`, having come from `scene`; writes the successor. */
  readonly follow: (beat: number, scene: number, out: Uint32Array, at: number) => void
}

export interface CodeParts {
  readonly story: LinkedStory
  readonly compiler: Compiler
  readonly layout: Layout
  readonly roads: FlowGraph
  readonly fallback: Fallback
}

/** Bytes by which WebAssembly counts memory. */
const MEMORY_PAGE = 65536
/** States that stand ready to be expanded, and successors that wait to be taken. */
const STATES_MAX = 4096
const SUCCESSORS_MAX = 4096
/** Choices of a beat that can get code: how many are open is told in a byte. */
const CHOICES_MAX = 255

type Run = (from: number, to: number) => number

/** What was expanded since the last time. */
export interface Expanded {
  /** Packed successors one after another. */
  readonly successors: Uint32Array
  /** How many each state has. */
  readonly degrees: Uint8Array
}

export class GeneratedCode {
  private readonly runs = new Map<number, Run>()
  private readonly parts: WriterParts
  private readonly memory: WebAssembly.Memory
  private readonly words: Uint32Array
  private readonly left: LeftRun[] = []
  private readonly imports: WebAssembly.Imports
  private readonly addresses: MemoryPlan & { readonly successors: number }
  /** The numbers of the states that stand ready. */
  private window = { first: 0, end: 0 }
  /** States expanded, and taken, by their index in the window. */
  private done = 0
  private taken = 0
  /** Code may not be compiled here: the interpreter then does all of the work. */
  private forbidden = false

  constructor(private readonly from: CodeParts) {
    const { compiler, layout } = from
    const { cells: words } = layout
    let end = 0
    const place = (bytes: number) => {
      const address = end
      end += Math.ceil(bytes / 8) * 8
      return address
    }
    this.addresses = {
      events: place(compiler.events.occurred.length),
      conditions: place(compiler.events.asked.length),
      cursor: place(4),
      slots: place(4 * compiler.slots.all.length),
      states: place(4 * STATES_MAX * words),
      degrees: place(STATES_MAX),
      // one more is written to and not kept
      successors: place(4 * (SUCCESSORS_MAX + 1) * words),
    }
    this.parts = { ...from, memory: this.addresses }
    this.memory = new WebAssembly.Memory({ initial: Math.ceil(end / MEMORY_PAGE) })
    this.words = new Uint32Array(this.memory.buffer)
    this.rewind()
    this.imports = {
      env: {
        memory: this.memory,
        hit: (event: number, index: number, pick: number) => {
          this.stand(index, pick)
          compiler.events.record(event)
        },
        log: (condition: number, outcome: number, index: number, pick: number) => {
          this.stand(index, pick)
          compiler.events.ask(condition, outcome)
        },
        leave: (site: number, at: number, place: number, index: number, pick: number) => {
          this.stand(index, pick)
          this.leave(this.left[site]!, at, place, index)
        },
      },
    }
  }

  /** How many beats have code. */
  get count(): number {
    return this.runs.size
  }

  /** Whether a beat has code. */
  has(beat: number): boolean {
    return this.runs.has(beat)
  }

  /** Writes code for some beats, those left out that hold something for the interpreter; others get their turn after each choice. */
  *write(beats: readonly number[]): Slices<void> {
    const functions: FunctionCode[] = []
    for (const beat of beats) {
      if (this.forbidden || this.from.story.beats[beat]!.choices.length > CHOICES_MAX) continue
      const written = yield* writeBeat(this.parts, beat, IMPORTS.length + functions.length, this.left)
      functions.push(...(written ?? []))
    }
    const made = functions.length === 0 ? undefined : this.compile(functions)
    if (made === undefined) return
    for (const beat of beats) {
      const run = made.exports[`beat${beat}`]
      if (run !== undefined) this.runs.set(beat, run as Run)
    }
  }

  /**
   * Expands states from number `first`, all before `end`, as long as they rest at a beat, which has code;
   * gives how many. None when what was expanded has to be taken first.
   */
  expand(beat: number, states: StateSet, first: number, end: number): number {
    if (first === this.window.end || first !== this.window.first + this.done) {
      if (this.taken < this.done) return 0
      this.window = { first, end: Math.min(end, first + STATES_MAX) }
      this.done = 0
      this.taken = 0
      states.copy(first, this.window.end, this.words, this.addresses.states / 4)
    }
    const room = SUCCESSORS_MAX - this.waiting
    const most = Math.floor(room / this.from.story.beats[beat]!.choices.length)
    if (most === 0) return 0
    const from = this.done
    this.done = this.runs.get(beat)!(from, Math.min(from + most, this.window.end - this.window.first))
    return this.done - from
  }

  /** Whether something was expanded that has not been taken. */
  get isFull(): boolean {
    return this.taken < this.done
  }

  /** Takes what was expanded; good until the next states are. */
  take(): Expanded {
    const { words } = this
    const { successors, degrees, cursor } = this.addresses
    const expanded = {
      successors: words.subarray(successors / 4, words[cursor / 4]! / 4),
      degrees: new Uint8Array(words.buffer, degrees + this.taken, this.done - this.taken),
    }
    this.taken = this.done
    this.rewind()
    return expanded
  }

  /** Successors that wait to be taken. */
  private get waiting(): number {
    const { cursor, successors } = this.addresses
    return (this.words[cursor / 4]! - successors) / (4 * this.from.layout.cells)
  }

  private rewind(): void {
    const { cursor, successors } = this.addresses
    this.words[cursor / 4] = successors
  }

  private stand(index: number, pick: number): void {
    const { events } = this.from.compiler
    events.state = this.window.first + index
    events.pick = pick
  }

  /** Plays the rest of a run in the interpreter. */
  private leave({ scene, to, written }: LeftRun, at: number, place: number, index: number): void {
    const { layout, compiler, fallback } = this.from
    const memory = this.words
    fallback.load(memory, this.addresses.states / 4 + index * layout.cells)
    fallback.wrote(written)
    written.forEach((slot, number) => {
      compiler.values[slot] = memory[this.addresses.slots / 4 + number]!
    })
    fallback.follow(to === -1 ? compiler.slots.places[place - 1]! : to, scene, memory, at / 4)
  }

  private compile(functions: readonly FunctionCode[]): WebAssembly.Instance | undefined {
    try {
      // The code is written here from numbers alone: no text of the author's is in it.
      return new WebAssembly.Instance(new WebAssembly.Module(moduleBytes(IMPORTS, functions)), this.imports)
    } catch {
      this.forbidden = true
      return undefined
    }
  }
}
