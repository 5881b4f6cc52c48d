/**
 * The story document as it stands in a file. Optional keys are left out rather than filled in,
 * so that reading and writing a file changes nothing; unknown keys stay on their objects.
 */

interface Noted {
  notes?: string | undefined
}

export interface Story extends Noted {
  paperCompass: 1
  title: string
  /** BCP 47 */
  language: string
  /** The first beat's address; "" while there is none. */
  start: string
  cast?: Person[] | undefined
  cues?: Cue[] | undefined
  ledger?: Entry[] | undefined
  quests?: Quest[] | undefined
  endings?: Ending[] | undefined
  scenes: Scene[]
  promises?: StoryPromise[] | undefined
  routes?: Route[] | undefined
  /** Findings that the designer has looked at and does not want to see again. */
  setAside?: SetAside[] | undefined
  /** Translations, by BCP 47 tag. */
  languages?: Record<string, Language> | undefined
  /** The glossary: what is called by one name everywhere; it is translated as `term/ID`. */
  terms?: Term[] | undefined
  /** What was recorded of the lines, and with which wording. */
  recordings?: Recording[] | undefined
  /** How many signs of a text fit where it is shown, in every language. */
  textLimit?: number | undefined
  /** What the author chooses for the page that plays it. */
  page?: Page | undefined
}

/** All texts, so that each is changed by itself; what they mean is said in `docs/playing.md`. */
export interface Page {
  author?: string | undefined
  blurb?: string | undefined
  credits?: string | undefined
  accent?: string | undefined
  ground?: string | undefined
  hides?: string | undefined
  playtests?: string | undefined
}

/** A text in another language, by the key of what it translates. */
export interface Language extends Noted {
  texts: Record<string, Translation>
}

export interface Translation extends Noted {
  text: string
  /** What it is a translation of, so that one sees when that has changed since. */
  of?: string | undefined
  state?: 'draft' | 'checked' | undefined
}

export interface Term extends Noted {
  id: string
  name: string
}

export interface Recording extends Noted {
  /** Language and name of the file: `en/quay.morning.rope_warning`. */
  id: string
  text: string
}

export interface Person extends Noted {
  id: string
  name: string
  /** A colour by which their lines are told apart, `#rrggbb`. */
  colour?: string | undefined
  /** How they are shown until the player knows better: the first that holds, else the name. */
  called?: Called[] | undefined
}

export interface Called extends Noted {
  when: string
  name: string
}

/** What the game is told to do beside the text: a sound, a gesture, a wait. The course of the story never depends on it. */
export interface Cue extends Noted {
  id: string
  name: string
}

/** A cue issued by a line or a choice; `with` is passed on as it is written. */
export interface CueUse extends Noted {
  cue: string
  with?: string | undefined
}

/** When the game sets an entry that is its own, and the story only reads. */
export type WhenGiven = 'begin' | 'rest'

interface EntryBase extends Noted {
  id: string
  /** What people read; the id where it is absent. */
  name?: string | undefined
  group?: string | undefined
  /** Before the story begins, or also while it rests. Only an entry of the story's can be given. */
  given?: WhenGiven | undefined
}

export interface FlagEntry extends EntryBase {
  kind: 'flag'
  initial?: boolean | undefined
}

export interface SwitchEntry extends EntryBase {
  kind: 'switch'
  positions: string[]
  initial?: string | undefined
  /** What positions stand for, by position. */
  meanings?: Record<string, string> | undefined
}

export interface CounterEntry extends EntryBase {
  kind: 'counter'
  min: number
  max: number
  initial?: number | undefined
}

export interface ItemEntry extends EntryBase {
  kind: 'item'
  max: number
  initial?: number | undefined
}

export interface TextEntry extends EntryBase {
  kind: 'text'
  initial?: string | undefined
}

export type Entry = FlagEntry | SwitchEntry | CounterEntry | ItemEntry | TextEntry
export type EntryKind = Entry['kind']

export type Outcome = 'success' | 'failure'

export interface Stage extends Noted {
  id: string
  name: string
  outcome?: Outcome | undefined
  /** What the player's journal reads at this stage. */
  journal?: string | undefined
}

export interface Quest extends Noted {
  id: string
  name: string
  stages: Stage[]
  /** From stage to stage, `unstarted` included; absent: no move is checked. */
  moves?: [string, string][] | undefined
}

export interface Ending extends Noted {
  id: string
  name: string
}

export interface Scene extends Noted {
  id: string
  title: string
  ledger?: Entry[] | undefined
  beats: Beat[]
}

/** A road by itself: a redirect, an onward road, or a rule of a choice's list. */
export interface Rule extends Noted {
  when?: string | undefined
  do?: string[] | undefined
  to: string
}

export interface ArriveRule extends Noted {
  when?: string | undefined
  do?: string[] | undefined
}

export type Manner = 'speech' | 'action' | 'thought' | 'narration'

export interface PlainLine extends Noted {
  /** By what it is translated and spoken; unique among the lines of its beat. */
  id?: string | undefined
  speaker?: string | undefined
  manner?: Manner | undefined
  text: string
  when?: string | undefined
  do?: string[] | undefined
  /** Issued in order when the line is shown. */
  cues?: CueUse[] | undefined
}

export interface Turn extends Noted {
  lines: PlainLine[]
}

/** What comes after the last turn: the first again, the last from then on, nothing; or the game picks any turn each time. */
export type Order = 'again' | 'last' | 'once' | 'any'

/** A variant has either lines or turns. */
export interface Variant extends Noted {
  when?: string | undefined
  lines?: PlainLine[] | undefined
  order?: Order | undefined
  inTurn?: Turn[] | undefined
}

export interface VariantGroup extends Noted {
  firstOf: Variant[]
}

/** Lines that come in turn, one turn each time the group is come to. */
export interface TurnGroup extends Noted {
  when?: string | undefined
  order?: Order | undefined
  inTurn: Turn[]
}

export type Line = PlainLine | VariantGroup | TurnGroup

export interface Choice extends Noted {
  id: string
  text: string
  who?: string | undefined
  when?: string | undefined
  closed?: 'hide' | 'show' | undefined
  once?: boolean | undefined
  do?: string[] | undefined
  /** Issued in order when the choice is taken. */
  cues?: CueUse[] | undefined
  to: string | Rule[]
}

export interface Ask extends Noted {
  into: string
  prompt: string
  suggest?: string[] | undefined
  /** What an empty answer stands for. */
  default?: string | undefined
}

export interface Beat extends Noted {
  id: string
  /** What people read; the id where it is absent. */
  title?: string | undefined
  place?: boolean | undefined
  redirects?: Rule[] | undefined
  arrive?: ArriveRule[] | undefined
  lines?: Line[] | undefined
  choices?: Choice[] | undefined
  ask?: Ask | undefined
  ending?: string | undefined
  onward?: Rule[] | undefined
}

interface PromiseBase extends Noted {
  id: string
}

export interface HoldsPromise extends PromiseBase {
  kind: 'never' | 'always' | 'possible'
  holds: string
}

export interface StillPossiblePromise extends PromiseBase {
  kind: 'stillPossible'
  holds: string
  while?: string | undefined
}

export interface InOrderPromise extends PromiseBase {
  kind: 'inOrder'
  first: string
  then: string
}

export type StoryPromise = HoldsPromise | StillPossiblePromise | InOrderPromise

export type EntryValue = boolean | number | string

/** One choice taken, or one word typed. */
export type Decision = { choice: string } | { at: string; word: string }

/** What the game sets: first in a route for what it begins with, later while the story rests. */
export interface Given {
  given: Record<string, EntryValue>
}

/** A route is what is decided, and what the game sets meanwhile. */
export type RouteItem = Decision | Given

export function isDecision(item: RouteItem): item is Decision {
  return !('given' in item)
}

/** How many decisions a route has. */
export function decisionsIn(route: readonly RouteItem[]): number {
  let count = 0
  for (const item of route) if (isDecision(item)) count += 1
  return count
}

export interface Expectation {
  ending?: string | undefined
  stages?: Record<string, string> | undefined
  ledger?: Record<string, boolean | number | string> | undefined
}

export interface Route extends Noted {
  id: string
  name: string
  decisions: RouteItem[]
  expect?: Expectation | undefined
}

/** A finding that is hidden, and why. */
export interface SetAside extends Noted {
  id: string
  /** The finding's kind and key. */
  kind: string
  about: string[]
  reason: string
}

export function isGroup(line: Line): line is VariantGroup {
  return 'firstOf' in line
}

export function isInTurn(line: Line): line is TurnGroup {
  return 'inTurn' in line
}

export function isPlain(line: Line): line is PlainLine {
  return !isGroup(line) && !isInTurn(line)
}

/** Every plain line of one that stands in a beat, with what its address says after that line's. */
export function plainLinesIn(line: Line): { readonly line: PlainLine; readonly suffix: string }[] {
  if (isPlain(line)) return [{ line, suffix: '' }]
  const inside = (lines: readonly PlainLine[] | undefined, before: string) =>
    (lines ?? []).map((one, at) => ({ line: one, suffix: `${before}.line${at + 1}` }))
  const inTurns = (turns: readonly Turn[] | undefined, before: string) =>
    (turns ?? []).flatMap((turn, at) => inside(turn.lines, `${before}.turn${at + 1}`))
  if (isInTurn(line)) return inTurns(line.inTurn, '')
  return line.firstOf.flatMap((variant, at) => {
    const before = `.variant${at + 1}`
    return variant.inTurn === undefined ? inside(variant.lines, before) : inTurns(variant.inTurn, before)
  })
}

/** A line with every plain line in it changed. */
export function withPlainLines(line: Line, change: (line: PlainLine) => PlainLine): Line {
  const turns = (list: Turn[]) => list.map((turn) => ({ ...turn, lines: turn.lines.map(change) }))
  if (isInTurn(line)) return { ...line, inTurn: turns(line.inTurn) }
  if (!isGroup(line)) return change(line)
  return {
    ...line,
    firstOf: line.firstOf.map((variant) => ({
      ...variant,
      ...(variant.lines && { lines: variant.lines.map(change) }),
      ...(variant.inTurn && { inTurn: turns(variant.inTurn) }),
    })),
  }
}

/** Every plain line of a beat, those of variants and turns too. */
export function linesOf(beat: Beat): PlainLine[] {
  return (beat.lines ?? []).flatMap((line) => plainLinesIn(line).map((one) => one.line))
}
