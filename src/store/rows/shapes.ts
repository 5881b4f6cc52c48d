/** How the objects of a story document stand in tables. */
export interface Shape {
  readonly table: string
  /** Keys of the object that are columns of the same name, in the order in which they are written. */
  readonly columns: readonly string[]
  /** Keys that hold lists (or, `single`, one object) kept in tables of their own. */
  readonly children: Readonly<Record<string, Child>>
}

export type Child =
  /** `required`: the key is there even when the list is empty. */
  | { readonly as: 'objects'; readonly shape: Shape; readonly role?: string; readonly required?: true }
  | { readonly as: 'single'; readonly shape: Shape }
  /** A list of strings, each in a row's column. */
  | { readonly as: 'strings'; readonly table: string; readonly column: string }
  /** A list of pairs of strings. */
  | { readonly as: 'pairs'; readonly table: string; readonly columns: readonly [string, string] }

const effects: Child = { as: 'strings', table: 'effect', column: 'source' }

const rule: Shape = { table: 'rule', columns: ['when', 'to', 'notes'], children: { do: effects } }
const plainLine: Shape = {
  table: 'line',
  columns: ['speaker', 'manner', 'text', 'when', 'notes'],
  children: { do: effects },
}
const variant: Shape = {
  table: 'variant',
  columns: ['when', 'notes'],
  children: { lines: { as: 'objects', shape: plainLine, required: true } },
}
const line: Shape = { ...plainLine, children: { do: effects, firstOf: { as: 'objects', shape: variant } } }
const choice: Shape = {
  table: 'choice',
  columns: ['id', 'who', 'text', 'when', 'closed', 'once', 'to', 'notes'],
  children: { do: effects, to: { as: 'objects', shape: rule, role: 'to' } },
}
const ask: Shape = { table: 'ask', columns: ['into', 'prompt', 'suggest', 'notes'], children: {} }
const rules = (role: string): Child => ({ as: 'objects', shape: rule, role })

const beat: Shape = {
  table: 'beat',
  columns: ['id', 'place', 'ending', 'notes'],
  children: {
    redirects: rules('redirects'),
    arrive: rules('arrive'),
    lines: { as: 'objects', shape: line },
    ask: { as: 'single', shape: ask },
    choices: { as: 'objects', shape: choice },
    onward: rules('onward'),
  },
}
const entry: Shape = {
  table: 'ledger_entry',
  columns: ['id', 'kind', 'positions', 'min', 'max', 'initial', 'group', 'notes'],
  children: {},
}
const stage: Shape = { table: 'quest_stage', columns: ['id', 'name', 'outcome', 'notes'], children: {} }
const decision: Shape = { table: 'route_decision', columns: ['choice', 'at', 'word'], children: {} }

/** The lists of a story, by the key they have in the document. */
export const LISTS = {
  cast: { table: 'cast_member', columns: ['id', 'name', 'notes'], children: {} },
  ledger: entry,
  quests: {
    table: 'quest',
    columns: ['id', 'name', 'notes'],
    children: {
      stages: { as: 'objects', shape: stage, required: true },
      moves: { as: 'pairs', table: 'quest_move', columns: ['from_stage', 'to_stage'] },
    },
  },
  endings: { table: 'ending', columns: ['id', 'name', 'notes'], children: {} },
  scenes: {
    table: 'scene',
    columns: ['id', 'title', 'notes'],
    children: { ledger: { as: 'objects', shape: entry }, beats: { as: 'objects', shape: beat, required: true } },
  },
  promises: { table: 'promise', columns: ['id', 'kind', 'holds', 'while', 'first', 'then', 'notes'], children: {} },
  routes: {
    table: 'route',
    columns: ['id', 'name', 'expect', 'notes'],
    children: { decisions: { as: 'objects', shape: decision, required: true } },
  },
  setAside: { table: 'set_aside', columns: ['id', 'kind', 'about', 'reason', 'notes'], children: {} },
} as const satisfies Record<string, Shape>

export type ListName = keyof typeof LISTS

export const BEATS = beat
export const ENTRIES = entry

/** Columns that hold JSON; in them a null is a value of its own only inside. */
export const JSON_COLUMNS: ReadonlySet<string> = new Set(['initial', 'positions', 'suggest', 'expect', 'about'])
/** Tables whose rows have no column for unknown keys. */
export const PLAIN_TABLES: ReadonlySet<string> = new Set(['effect', 'quest_move'])
