/**
 * A story made ready for engines. What is named elsewhere is a number: the place in a list, counted from 0. `docs/bundle.md`
 * says what each part means; `docs/bundle.schema.json` is made from the schema beside this file.
 */
export interface Bundle {
  readonly paperCompassBundle: 1
  readonly title: string
  /** BCP 47 */
  readonly language: string
  /** The first beat; -1: there is none. */
  readonly start: number
  readonly scenes: readonly string[]
  readonly entries: readonly BundleEntry[]
  readonly quests: readonly BundleQuest[]
  readonly endings: readonly BundleNamed[]
  readonly cues: readonly { readonly id: string; readonly name: string }[]
  readonly people: readonly BundlePerson[]
  readonly beats: readonly BundleBeat[]
  /** By language, the story's own first: every text; null: it has none, the story's own is shown. */
  readonly texts: Readonly<Record<string, readonly (BundleText | null)[]>>
  /** How each language counts. */
  readonly locales: Readonly<Record<string, BundleLocale>>
}

/** The place of a text in `texts`. */
export type TextIndex = number

export interface BundleNamed {
  readonly id: string
  readonly name: TextIndex
}

export interface BundleEntry {
  readonly id: string
  /** What people read. */
  readonly name?: string
  readonly kind: 'flag' | 'switch' | 'counter' | 'item' | 'text'
  readonly initial: boolean | number | string
  /** The scene whose own entry it is. */
  readonly scene?: number
  readonly given?: 'begin' | 'rest'
  readonly positions?: readonly string[]
  readonly min?: number
  readonly max?: number
}

export interface BundleQuest extends BundleNamed {
  /** `unstarted` is the first, without a name. */
  readonly stages: readonly {
    readonly id: string
    readonly name?: TextIndex
    readonly outcome?: 'success' | 'failure'
    readonly journal?: TextIndex
  }[]
}

export interface BundlePerson extends BundleNamed {
  readonly called?: readonly { readonly when: BundleExpr; readonly name: TextIndex }[]
}

export interface BundleBeat {
  readonly id: string
  readonly scene: number
  readonly place?: true
  readonly redirects?: readonly BundleRule[]
  readonly arrive?: readonly { readonly when?: BundleExpr; readonly do?: readonly BundleEffect[] }[]
  readonly lines?: readonly BundleLine[]
  readonly choices?: readonly BundleChoice[]
  readonly ask?: {
    /** The text entry; -1: the word is not kept. */
    readonly into: number
    readonly prompt: TextIndex
    readonly suggest?: readonly TextIndex[]
    readonly default?: string
  }
  readonly ending?: number
  readonly onward?: readonly BundleRule[]
}

/** A beat, the place, or nowhere. */
export type BundleRoad = number | 'return' | null

export interface BundleRule {
  readonly when?: BundleExpr
  readonly do?: readonly BundleEffect[]
  readonly to: BundleRoad
}

export interface BundlePlainLine {
  readonly text: TextIndex
  readonly id?: string
  readonly speaker?: string
  readonly manner: 'speech' | 'action' | 'thought' | 'narration'
  readonly when?: BundleExpr
  readonly do?: readonly BundleEffect[]
  readonly cues?: readonly BundleCue[]
}

/** The cue, and what is passed on with it. */
export type BundleCue = readonly [number] | readonly [number, string]

export interface BundleTurns {
  /** Its address, by which saves count it. */
  readonly group: string
  readonly order: 'again' | 'last' | 'once' | 'any'
  readonly inTurn: readonly (readonly BundlePlainLine[])[]
}

export interface BundleVariant {
  readonly when?: BundleExpr
  readonly lines?: readonly BundlePlainLine[]
  readonly turns?: BundleTurns
}

export type BundleLine =
  BundlePlainLine | { readonly firstOf: readonly BundleVariant[] } | (BundleTurns & { readonly when?: BundleExpr })

export interface BundleChoice {
  readonly id: string
  readonly text: TextIndex
  readonly who?: string
  readonly when?: BundleExpr
  readonly once?: true
  /** Shown where it is closed. */
  readonly shown?: true
  readonly do?: readonly BundleEffect[]
  readonly cues?: readonly BundleCue[]
  readonly to: BundleRoad | readonly BundleRule[]
}

/** A literal is itself; anything else is a list with what it is in front. */
export type BundleExpr =
  | boolean
  | number
  | string
  | readonly ['entry' | 'quest' | 'visits' | 'taken', number]
  | readonly ['not' | 'negate', BundleExpr]
  | readonly ['and' | 'or', BundleExpr, BundleExpr, ...BundleExpr[]]
  | readonly ['==' | '!=' | '<' | '<=' | '>' | '>=' | '+' | '-' | '*', BundleExpr, BundleExpr]
  | readonly ['in', BundleExpr, readonly BundleExpr[]]
  /** What is compared, and the position or stage by its place in the declared order. */
  | readonly ['atLeast' | 'before', readonly ['entry' | 'quest', number], number]

export type BundleEffect =
  | readonly ['=' | '+=' | '-=', number, BundleExpr]
  /** Quest and stage. */
  | readonly ['stage', number, number]

export type BundleText = string | readonly BundleTextPart[]

export type BundleArgument = readonly ['entry' | 'quest' | 'person', number]

export type BundleTextPart =
  | string
  | { readonly show: BundleArgument }
  /** Written as the language writes numbers, or as `style` says. */
  | { readonly number: BundleArgument; readonly style?: Readonly<Record<string, unknown>> }
  /** The number of the forms round it, less their offset. */
  | { readonly count: true }
  | { readonly select: BundleArgument; readonly forms: Readonly<Record<string, BundleText>> }
  | {
      readonly plural: BundleArgument
      readonly ordinal?: true
      readonly offset?: number
      /** `=5` before the categories of the language; `other` is always there. */
      readonly forms: Readonly<Record<string, BundleText>>
    }

/** [modulus (0: none), 1 where it must not be among them, from, to, from, to …], of the number without its sign. */
export type PluralRelation = readonly number[]

/** The first category of which one alternative holds, that is all its relations; else `other`. */
export type PluralRules = readonly (readonly [string, readonly (readonly PluralRelation[])[]])[]

export interface BundleLocale {
  readonly cardinal: PluralRules
  readonly ordinal: PluralRules
  /** The ten digits. */
  readonly digits: readonly string[]
  /** Between groups of digits. */
  readonly group: string
  /** How many digits are in the last group and in those before it, and how many must stand before the last. */
  readonly groups: readonly [number, number, number]
  /** Before and after a negative number. */
  readonly negative: readonly [string, string]
}
