import type { LinkedStory } from '../../story/linked'
import type { Compiler } from '../interpreter/compile'
import type { FlowGraph } from '../analysis/flow-graph'
import type { Layout } from '../states/layout'

export interface WriterParts {
  readonly story: LinkedStory
  readonly compiler: Compiler
  readonly layout: Layout
  readonly roads: FlowGraph
  readonly memory: MemoryPlan
}

/** Where generated code finds and leaves things, as addresses of bytes. */
export interface MemoryPlan {
  /** A byte an event: 1 once it was told. */
  readonly events: number
  /** A byte a condition, by the event of its part: 1 once false, 2 once true. */
  readonly conditions: number
  /** Slots written by a run that goes on in the interpreter. */
  readonly slots: number
  /** Packed states to be expanded. */
  readonly states: number
  /** A byte a state: how many successors it has. */
  readonly degrees: number
  /** A word: where the next successor goes. */
  readonly cursor: number
}

/** A run that is left to the interpreter: from which scene it comes, where it goes on (-1: to the current place, which is told), and which slots it has written. */
export interface LeftRun {
  readonly scene: number
  readonly to: number
  readonly written: readonly number[]
}

/** What generated code calls: numbers of imported functions. */
export const IMPORTS = [
  /** An event occurred: its number, the state among those expanded, the decision. */
  { name: 'hit', parameters: 3, gives: false },
  /** A condition was false (1) or true (2): its number, which, the state among those expanded, the decision. */
  { name: 'log', parameters: 4, gives: false },
  /** A run goes on in the interpreter: its number, where its successor goes, the place, the state, the decision. */
  { name: 'leave', parameters: 5, gives: false },
] as const
export const HIT = 0
export const LOG = 1
export const LEAVE = 2
