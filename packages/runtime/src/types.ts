/** What the face of the runtime is made of: plain data, all of it. */

export type Value = boolean | number | string

export type Manner = 'speech' | 'action' | 'thought' | 'narration'

/** What the game is told to do beside the text. */
export interface Cue {
  readonly id: string
  readonly name: string
  readonly with?: string
}

export interface Line {
  readonly text: string
  /** Who says it, by id, and how they are called at that moment. */
  readonly speaker?: string
  readonly name?: string
  readonly manner: Manner
  /** Under which recordings and translations have it: `line/SCENE.BEAT/ID`. */
  readonly key?: string
  readonly beat: string
  readonly cues: readonly Cue[]
}

/** Why a choice is closed. `gate`: what would have to hold, in words, and what was there instead. */
export interface Closed {
  readonly kind: 'gate' | 'once' | 'nowhere' | 'no-place' | 'rules'
  readonly parts: readonly {
    readonly words: string
    readonly saw: readonly { readonly id: string; readonly name: string; readonly value: Value }[]
  }[]
}

export interface Choice {
  /** `scene.beat.choice`: what `choose` takes. */
  readonly id: string
  readonly text: string
  /** Whom one approaches by it. */
  readonly who?: string
  readonly name?: string
  readonly open: boolean
  /** Of a closed one. */
  readonly why?: Closed
}

export interface Prompt {
  readonly text: string
  readonly suggest: readonly string[]
  /** What an empty answer stands for. */
  readonly default?: string
}

/** `choice`, `word`: the player is asked. `endless`: it runs for ever. `nowhere`: there is no first beat. */
export type Status = 'choice' | 'word' | 'ended' | 'stuck' | 'endless' | 'nowhere'

export interface JournalPage {
  readonly quest: string
  readonly name: string
  readonly stage: string
  readonly stageName: string
  readonly outcome?: 'success' | 'failure'
  readonly text?: string
}

/** Something that is carried. */
export interface Carried {
  readonly id: string
  readonly name: string
  readonly count: number
}

export interface EntryChange {
  readonly id: string
  readonly from: Value
  readonly to: Value
}

export interface StageChange {
  readonly quest: string
  readonly from: string
  readonly to: string
}

/** What is told while the story goes on, in the order in which it happens, once it rests again. */
export interface Events {
  readonly line: Line
  readonly cue: Cue
  readonly entry: EntryChange
  readonly stage: StageChange
  /** What was decided or given, before anything that it led to. */
  readonly did: RouteItem
  /** A beat is come to, by its address. */
  readonly beat: string
  /** What was said last, as a newer version of the story says it. */
  readonly revised: readonly Line[]
  /** The story rests again. */
  readonly rest: Status
}

/** One item of a route: a decision, or what the game set. */
export type RouteItem =
  | { readonly choice: string }
  | { readonly at: string; readonly word: string }
  | { readonly given: Readonly<Record<string, Value>> }

export interface Save {
  readonly paperCompassSave: 1
  readonly at: string
  readonly status: 'choice' | 'word' | 'ended' | 'stuck'
  readonly ending: string | null
  readonly place: string | null
  readonly ledger: Readonly<Record<string, Value>>
  readonly stages: Readonly<Record<string, string>>
  readonly visits: Readonly<Record<string, number>>
  readonly taken: readonly string[]
  readonly turns: Readonly<Record<string, number>>
  /** Of turns of the order "any". */
  readonly seed?: number
}

export interface BeginOptions {
  /** Values that the game gives before the story begins. */
  readonly given?: Readonly<Record<string, Value>>
  readonly language?: string
  /** Turns of the order "any" are picked by it, the same ones for the same seed; without one the first is shown. */
  readonly seed?: number
  /** Where to go on, instead of at the beginning. */
  readonly save?: Save | string
  /** Whether to keep the route played. */
  readonly keepRoute?: boolean
}

/** How a save was taken up. */
export interface Loaded {
  /** The beat of the save is gone: the player is at the place, or at the start. */
  readonly moved: boolean
  /** What the save has and the story has not, by name. */
  readonly lost: readonly string[]
}
