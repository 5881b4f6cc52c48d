import type { Expr } from '../../expression/ast'
import type { LinkedEffect, LinkedText } from '../../story/linked'

/**
 * All that the analyses before a search ask of a beat, as lists of numbers. It depends on the beat
 * and on the names of the story alone, so a beat that an edit left as it was is not read again.
 */
export interface BeatSummary {
  /** What it reads, sets or shows, each once. */
  readonly variables: readonly number[]
  /** Steps back from the roads and choices of a state resting here to that state. */
  readonly rest: readonly number[]
  /** Steps back from there over the roads onward. */
  readonly onward: readonly number[]
  /** Steps back from there to where the beat is come to. */
  readonly arrival: readonly number[]
  /** Roads ahead with what is set on the way: see `FlowEdges`. */
  readonly edges: FlowEdges
  readonly visitsRead: readonly { readonly beat: number; readonly most: number }[]
  readonly takenRead: readonly number[]
  /** Quests that it sets. */
  readonly quests: readonly number[]
  /** Entries that a condition, a value or a text reads, and that an effect or a typed word writes; each once. */
  readonly entriesRead: readonly number[]
  readonly entriesWritten: readonly number[]
  readonly effects: readonly { readonly effect: LinkedEffect['effect']; readonly owner: string }[]
  /** Where words are told apart: conditions and values that name a text entry, effects on one, texts that choose between forms. */
  readonly wording: {
    readonly exprs: readonly Expr[]
    readonly effects: readonly { readonly entry: string; readonly value: Expr }[]
    readonly texts: readonly LinkedText[]
  }
  /** At most so many events. */
  readonly events: number
}

/** Roads of a beat, and variables that are set: on a road, or by the beat itself before its roads come. */
export interface FlowEdges {
  readonly redirects: readonly FlowEdge[]
  readonly body: readonly number[]
  readonly choices: readonly FlowEdge[]
  /** The variable a typed word goes into, or -1. */
  readonly into: number
  readonly onward: readonly FlowEdge[]
}

export interface FlowEdge {
  /** A beat, or TO_RETURN. */
  readonly to: number
  readonly sets: readonly number[]
}

export const TO_RETURN = -1
