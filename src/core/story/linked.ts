import type { MessageFormatElement } from '@formatjs/icu-messageformat-parser'
import type { BeatAddress, ChoiceAddress } from '../base/ids'
import type { Effect, Expr } from '../expression/ast'
import type { Entry, EntryKind, Manner, Order, Outcome, Route, Scene, Story, StoryPromise, WhenGiven } from './types'

/**
 * What stands under a number each, in no order that means anything; some numbers may be spare. It can't be gone
 * through as a list, so that nobody takes the order of numbers for that of the document.
 */
export interface Numbered<T> {
  readonly length: number
  readonly [number: number]: T
}

/**
 * A story with its names resolved, its expressions parsed and its double ids left out:
 * what play and survey work on. A broken part is there, but holds, does or leads to nothing.
 */
export interface LinkedStory {
  readonly doc: Story
  readonly entries: readonly LinkedEntry[]
  readonly quests: readonly LinkedQuest[]
  readonly scenes: readonly Scene[]
  readonly endings: readonly { readonly id: string; readonly name: string }[]
  /** By number; a spare one has a beat without address that nothing leads to. */
  readonly beats: Numbered<LinkedBeat>
  /** By number; a spare one has none. */
  readonly choices: Numbered<LinkedChoice | undefined>
  /** The beats in the order of the document. */
  readonly inOrder: readonly LinkedBeat[]
  /** Every group in turn, in the order of the document. */
  readonly turnGroups: readonly LinkedTurns[]
  readonly promises: readonly LinkedPromise[]
  readonly routes: readonly Route[]
  readonly people: ReadonlyMap<string, LinkedPerson>
  /** Names of the cues that are declared. */
  readonly cues: ReadonlyMap<string, string>
  readonly entryOf: ReadonlyMap<string, number>
  readonly questOf: ReadonlyMap<string, number>
  readonly endingOf: ReadonlyMap<string, number>
  readonly beatOf: ReadonlyMap<string, number>
  readonly choiceOf: ReadonlyMap<string, number>
  readonly turnsOf: ReadonlyMap<string, number>
  /** Number of the first beat; -1 where there is none. */
  readonly start: number
  readonly problems: readonly Problem[]
  /** What promises read, also in what is sound of a promise that is not. */
  readonly promiseUses: readonly Use[]
  /** What the journal reads, by `quest.stage`, and what these texts show. */
  readonly journals: ReadonlyMap<string, LinkedText>
  readonly journalUses: readonly Use[]
  /** What names until known read. */
  readonly calledUses: readonly Use[]
}

/** A member of the cast, as the player is shown them: the first name whose condition holds, else the name. */
export interface LinkedPerson {
  readonly id: string
  readonly name: string
  readonly called: readonly { readonly when: Condition; readonly name: string }[]
}

/** A cue that is issued; those that are not declared are left out. */
export interface LinkedCue {
  readonly cue: string
  readonly with: string | undefined
}

/** A part that can't be understood. */
export interface Problem {
  readonly address: string
  readonly part: string
  readonly message: string
  /** Where in the part's own text, when it is an expression. */
  readonly span?: { readonly start: number; readonly end: number }
}

/** Where a ledger entry or quest is read or written. */
export interface Use {
  readonly of: 'entry' | 'quest'
  readonly id: string
  readonly how: 'read' | 'write'
  readonly address: string
  readonly part: string
}

export interface LinkedEntry {
  readonly index: number
  readonly id: string
  readonly kind: EntryKind
  readonly entry: Entry
  /** Index of the scene whose own entry it is; -1 for the story's. */
  readonly scene: number
  readonly positions: readonly string[]
  readonly min: number
  readonly max: number
  readonly initial: boolean | number | string
  /** When the game sets it; undefined: it is the story's. */
  readonly given: WhenGiven | undefined
}

export interface LinkedQuest {
  readonly index: number
  readonly id: string
  readonly name: string
  /** `unstarted` first, then the stages in declared order. */
  readonly stages: readonly string[]
  readonly names: readonly string[]
  readonly outcomes: readonly (Outcome | undefined)[]
  /** `from>to` of every declared move; undefined: no move is checked. */
  readonly moves: ReadonlySet<string> | undefined
}

/** A written condition; `expr` is undefined when it can't be understood: it never holds. */
export interface Condition {
  readonly source: string
  readonly expr: Expr | undefined
  /** The address under which findings about it are reported. */
  readonly address: string
  readonly part: string
}

/** The sound effects of one owner; `number` counts from 1 in the document's list. */
export interface LinkedEffect {
  readonly number: number
  readonly effect: Effect
}

export type Road =
  { readonly kind: 'beat'; readonly beat: number } | { readonly kind: 'return' } | { readonly kind: 'nowhere' }

export interface LinkedRule {
  readonly address: string
  readonly when: Condition | undefined
  readonly effects: readonly LinkedEffect[]
  readonly to: Road
}

export interface LinkedArrive {
  readonly address: string
  readonly when: Condition | undefined
  readonly effects: readonly LinkedEffect[]
}

/** A text of the author's; `parsed` is undefined when it is shown just as written. */
export interface LinkedText {
  readonly source: string
  /** Whether it is nothing but words. */
  readonly isPlain: boolean
  readonly parsed: readonly MessageFormatElement[] | undefined
  /** Of a translation; undefined: the story's own. */
  readonly language?: string
}

export interface LinkedLine {
  readonly kind: 'line'
  /** Its own, unless another line of the beat has it before. */
  readonly id: string | undefined
  readonly address: string
  readonly when: Condition | undefined
  readonly effects: readonly LinkedEffect[]
  readonly text: LinkedText
  readonly cues: readonly LinkedCue[]
  readonly speaker: string | undefined
  readonly manner: Manner
}

/**
 * A line as somebody deals with it who has to know all of it. `Left` is the fields that they do not name: one that is
 * new is an error at each of them.
 */
export type WholeLine<Left extends never> = LinkedLine & { readonly [Key in Left]: never }

export interface LinkedTurn {
  readonly address: string
  readonly lines: readonly LinkedLine[]
}

/** A group in turn, as it stands in a beat or is what a variant holds. */
export interface LinkedTurns {
  readonly kind: 'turns'
  /** Among all of the story. */
  readonly index: number
  /** Of a variant's, the variant's. */
  readonly address: string
  /** A variant's own condition is asked where the variant is. */
  readonly when: Condition | undefined
  readonly order: Order
  readonly turns: readonly LinkedTurn[]
}

export interface LinkedVariant {
  readonly address: string
  readonly when: Condition | undefined
  /** None where it has turns. */
  readonly lines: readonly LinkedLine[]
  readonly turns: LinkedTurns | undefined
}

export interface LinkedGroup {
  readonly kind: 'group'
  readonly address: string
  readonly variants: readonly LinkedVariant[]
}

export interface LinkedChoice {
  readonly index: number
  readonly address: ChoiceAddress
  readonly beat: number
  readonly text: LinkedText
  readonly who: string | undefined
  readonly when: Condition | undefined
  readonly once: boolean
  readonly shownClosed: boolean
  readonly effects: readonly LinkedEffect[]
  readonly cues: readonly LinkedCue[]
  readonly to:
    { readonly kind: 'road'; readonly road: Road } | { readonly kind: 'rules'; readonly rules: readonly LinkedRule[] }
}

export interface LinkedAsk {
  /** Index of the text entry the word goes into; -1: it goes nowhere. */
  readonly into: number
  readonly prompt: LinkedText
  readonly suggest: readonly string[]
  /** What an empty answer stands for, without blanks at its ends; undefined: nothing. */
  readonly default: string | undefined
}

export interface LinkedBeat {
  readonly index: number
  readonly address: BeatAddress
  readonly scene: number
  readonly place: boolean
  readonly redirects: readonly LinkedRule[]
  readonly arrive: readonly LinkedArrive[]
  readonly lines: readonly (LinkedLine | LinkedGroup | LinkedTurns)[]
  readonly choices: readonly LinkedChoice[]
  readonly ask: LinkedAsk | undefined
  /** Index of the ending; -1 where there is none that is declared. */
  readonly ending: number
  readonly onward: readonly LinkedRule[]
  /** What others have worked out about the beat, each under a key of its own, for as long as it lives. */
  readonly memo: Record<'owners' | 'summary' | 'missing', unknown>
}

/** A promise whose parts are all sound; a broken one is in `problems` and gets no verdict. */
export interface LinkedPromise {
  readonly id: string
  readonly promise: StoryPromise
  readonly holds: Expr | undefined
  readonly while: Expr | undefined
  readonly first: Expr | undefined
  readonly then: Expr | undefined
}
