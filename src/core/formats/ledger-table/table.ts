import { idTrouble } from '../../base/ids'
import { fail, ok, type Result } from '../../base/result'
import type { Change } from '../../story/changes/types'
import { entrySchema } from '../../story/schema'
import type { Entry, Story } from '../../story/types'

/** The columns of the table, in their order; `positions` are kept apart by |, with `position = meaning` where one is written. */
const COLUMNS = ['id', 'kind', 'group', 'start', 'min', 'max', 'positions', 'notes', 'name', 'given'] as const
type Column = (typeof COLUMNS)[number]

/** The story's ledger as rows for a spreadsheet, names of columns first. Entries of single scenes are not in it. */
export function writeLedgerTable(story: Story): string[][] {
  return [[...COLUMNS], ...(story.ledger ?? []).map((entry) => COLUMNS.map((column) => cell(entry, column)))]
}

function cell(entry: Entry, column: Column): string {
  switch (column) {
    case 'id':
      return entry.id
    case 'kind':
      return entry.kind
    case 'name':
      return entry.name ?? ''
    case 'given':
      return entry.given ?? ''
    case 'group':
      return entry.group ?? ''
    case 'notes':
      return entry.notes ?? ''
    case 'start':
      return entry.initial === undefined ? '' : String(entry.initial)
    case 'min':
      return entry.kind === 'counter' ? String(entry.min) : ''
    case 'max':
      return entry.kind === 'counter' || entry.kind === 'item' ? String(entry.max) : ''
    case 'positions':
      return entry.kind === 'switch'
        ? entry.positions
            .map((position) =>
              entry.meanings?.[position] === undefined ? position : `${position} = ${entry.meanings[position]}`,
            )
            .join(' | ')
        : ''
  }
}

/** What a table would do to a ledger. */
export interface LedgerImport {
  readonly change: Change
  readonly added: readonly string[]
  readonly changed: readonly string[]
  /** Entries that the table does not name; they stay. */
  readonly untouched: readonly string[]
}

/** Reads rows with names of columns first. Nothing is taken when any row is wrong; each is told with its number, counted as a spreadsheet does. */
export function readLedgerTable(story: Story, rows: readonly (readonly string[])[]): Result<LedgerImport, string[]> {
  const [head, ...body] = rows
  const columns = (head ?? []).map((name) => name.trim().toLowerCase())
  if (!columns.includes('id') || !columns.includes('kind'))
    return fail([`the first row has to name the columns; expected at least id and kind, of ${COLUMNS.join(', ')}`])
  const troubles: string[] = []
  const entries = new Map<string, Entry>()
  const elsewhere = new Set(story.scenes.flatMap(({ ledger }) => (ledger ?? []).map(({ id }) => id)))
  body.forEach((row, at) => {
    if (row.every((value) => value.trim() === '')) return
    const raw = (column: Column) => (columns.includes(column) ? (row[columns.indexOf(column)] ?? '') : undefined)
    const get = (column: Column) => raw(column)?.trim() ?? ''
    const before = story.ledger?.find(({ id }) => id === get('id'))
    const entry = readEntry(get, raw, before)
    const id = get('id')
    const trouble = !entry.ok
      ? entry.error
      : entries.has(id)
        ? `“${id}” stands in the table twice`
        : elsewhere.has(id)
          ? `“${id}” is an entry of a single scene already`
          : undefined
    if (trouble !== undefined) troubles.push(`row ${at + 2}: ${trouble}`)
    else if (entry.ok) entries.set(id, entry.value)
  })
  if (troubles.length > 0) return fail(troubles)
  const ledger = story.ledger ?? []
  const changes: Change[] = []
  const added: string[] = []
  const changed: string[] = []
  for (const [id, item] of entries) {
    const at = ledger.findIndex((entry) => entry.id === id)
    if (at === -1) {
      changes.push({ op: 'insert', in: { list: 'ledger' }, at: ledger.length + added.length, item })
      added.push(id)
    } else if (JSON.stringify(sorted(ledger[at]!)) !== JSON.stringify(sorted(item))) {
      changes.push({ op: 'replace', in: { list: 'ledger' }, id, at, item })
      changed.push(id)
    }
  }
  return ok({
    change: { op: 'batch', changes },
    added,
    changed,
    untouched: ledger.filter(({ id }) => !entries.has(id)).map(({ id }) => id),
  })
}

function sorted(entry: Entry): unknown {
  // a start that is written out and the same start left out are one
  const usual =
    entry.kind === 'flag'
      ? false
      : entry.kind === 'switch'
        ? entry.positions[0]
        : entry.kind === 'counter'
          ? entry.min
          : entry.kind === 'item'
            ? 0
            : ''
  return Object.fromEntries(
    Object.entries({ ...entry, initial: entry.initial ?? usual })
      .filter(([, value]) => value !== undefined)
      .sort(([a], [b]) => (a < b ? -1 : 1)),
  )
}

const OWN_KEYS = new Set(['id', 'kind', 'group', 'initial', 'min', 'max', 'positions', 'meanings', 'notes'])

/** `raw`: a cell as it stands, blanks at its ends too; undefined where the table has no such column. */
function readEntry(
  get: (column: Column) => string,
  raw: (column: Column) => string | undefined,
  before: Entry | undefined,
): Result<Entry> {
  const id = get('id')
  const named = idTrouble(id)
  if (named !== undefined) return fail(`“${id}” can not be a name: ${named}`)
  const kind = get('kind')
  // keys that the table does not show stay on the entry
  const made: Record<string, unknown> = {
    ...Object.fromEntries(Object.entries(before ?? {}).filter(([key]) => !OWN_KEYS.has(key))),
    id,
    kind,
  }
  const number = (column: Column) => (get(column) === '' ? undefined : Number(get(column)))
  if (kind === 'counter') made.min = number('min') ?? 0
  if (kind === 'counter' || kind === 'item') made.max = number('max') ?? 1
  if (kind === 'switch') {
    const positions = get('positions')
      .split('|')
      .map((one) => one.trim())
      .filter((one) => one !== '')
      .map((one) => one.split(/\s*=\s*(.*)/s))
    if (positions.length === 0) return fail(`“${id}” is a switch and needs positions, kept apart by |`)
    made.positions = positions.map(([position]) => position!)
    const meanings = positions.filter(([, meaning]) => meaning !== undefined && meaning !== '')
    if (meanings.length > 0)
      made.meanings = Object.fromEntries(meanings.map(([position, meaning]) => [position!, meaning!]))
  }
  for (const column of ['name', 'given'] as const) {
    if (raw(column) === undefined) continue
    if (get(column) === '') delete made[column]
    else made[column] = get(column)
  }
  const start = kind === 'text' ? (raw('start') ?? '') : get('start')
  if (start !== '') {
    if (kind === 'flag') {
      if (!/^(true|false|yes|no)$/i.test(start))
        return fail(`“${id}” is a flag: its start is true or false, not “${start}”`)
      made.initial = /^(true|yes)$/i.test(start)
    } else made.initial = kind === 'counter' || kind === 'item' ? Number(start) : start
  }
  if (get('group') !== '') made.group = get('group')
  if (get('notes') !== '') made.notes = get('notes')
  const checked = entrySchema.safeParse(made)
  if (!checked.success) {
    const [issue] = checked.error.issues
    return fail(
      `“${id}”: ${issue?.path.join('.') === 'kind' ? `“${kind}” is no kind; expected flag, switch, counter, item or text` : `${issue?.path.join('.') ?? ''} ${issue?.message ?? ''}`.trim()}`,
    )
  }
  return ok(checked.data as Entry)
}
