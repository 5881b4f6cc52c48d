import type { HistoryStep } from '../core/contract/answers'
import type { Sql } from './database'
import { iso } from './moment'

export type JournalKind = 'edit' | 'undo' | 'redo'

export interface NewEntry {
  readonly revision: number
  readonly kind: JournalKind
  /** The revision that an undo took back, or that a redo brought back. */
  readonly target: number | null
  readonly summary: string
  readonly requestId: string
  /** The window that it was made in. */
  readonly author: string | null
  /** The member who made it; none where there are no accounts. */
  readonly member?: string | null | undefined
}

/** An entry as it is read, with the name of who made it. */
export type Entered = NewEntry & { readonly by: { readonly id: string; readonly name: string } | null }

export async function appendEntry(sql: Sql, story: string, entry: NewEntry): Promise<void> {
  await sql.query(
    'insert into journal (story_id, revision, kind, target, request_id, summary, author, member_id) values ($1, $2, $3, $4, $5, $6, $7, $8)',
    [
      story,
      entry.revision,
      entry.kind,
      entry.target,
      entry.requestId,
      keepable(entry.summary),
      entry.author,
      entry.member ?? null,
    ],
  )
}

/** A text as PostgreSQL keeps it: it holds neither U+0000 nor half a surrogate pair. */
export function keepable(text: string): string {
  return text.toWellFormed().replaceAll('\0', '\uFFFD')
}

/** JSON as the database takes it: its texts and keys keepable. */
export function keepableJson(value: unknown): unknown {
  if (typeof value === 'string') return keepable(value)
  if (Array.isArray(value)) return value.map(keepableJson)
  if (typeof value !== 'object' || value === null) return value
  return Object.fromEntries(Object.entries(value).map(([key, inner]) => [keepable(key), keepableJson(inner)]))
}

/** The revision that a request led to and what was said of it, when it was carried out before. */
export async function entryOfRequest(
  sql: Sql,
  story: string,
  requestId: string,
): Promise<{ revision: number; summary: string } | undefined> {
  const [row] = await sql.query<{ revision: number; summary: string }>(
    'select revision, summary from journal where story_id = $1 and request_id = $2',
    [story, requestId],
  )
  return row
}

/** A change that can be taken back, or brought back, and the window that would do so. */
export interface UndoStep {
  readonly revision: number
  readonly author: string | null
  readonly member: string | null
  /** Which content the story had before and after it. */
  readonly before: number
  readonly after: number
}

/** What can be taken back and brought back now, the next one last. */
export interface UndoState {
  undo: UndoStep[]
  redo: UndoStep[]
  /** The revision at which the story first was as it is now: one that all was taken back from is as it was before. */
  content: number
}

/** Who asks for a step to be taken back: a member, where there are accounts, else a window. */
export interface Asker {
  readonly author?: string | null | undefined
  readonly member?: string | null | undefined
}

/** Whether a step is one's own: a member's in any of their windows, else a window's; what was made without a name is everyone's. */
export function isOwn(step: Pick<UndoStep, 'author' | 'member'>, { author = null, member = null }: Asker): boolean {
  if (member !== null && step.member !== null) return step.member === member
  return author === null || step.author === null || step.author === author
}

/** What can be taken back and brought back at all. */
export interface UndoInfo {
  readonly canUndo: boolean
  readonly canRedo: boolean
}

export function undoInfo({ undo, redo }: UndoState): UndoInfo {
  return { canUndo: undo.length > 0, canRedo: redo.length > 0 }
}

/** Entries after a revision, up to another, in their order. */
export async function readEntries(sql: Sql, story: string, after: number, upTo: number): Promise<Entered[]> {
  const rows = await sql.query<NewEntry & { name: string | null } & Record<string, unknown>>(
    `select revision, kind, target, author, member_id as member, member.name, request_id as "requestId", summary
     from journal left join member on member.id = journal.member_id
     where story_id = $1 and revision > $2 and revision <= $3 order by revision`,
    [story, after, upTo],
  )
  return rows.map(({ name, ...entry }) => ({ ...entry, by: name === null ? null : { id: entry.member!, name } }))
}

/** Replays the kinds of the journal's entries. */
export async function readUndoState(sql: Sql, story: string): Promise<UndoState> {
  const state: UndoState = { undo: [], redo: [], content: 0 }
  const rows = await sql.query<
    Pick<NewEntry, 'revision' | 'kind' | 'target' | 'author' | 'member'> & Record<string, unknown>
  >('select revision, kind, target, author, member_id as member from journal where story_id = $1 order by revision', [
    story,
  ])
  for (const row of rows) advance(state, row)
  return state
}

/** Notes an entry of the journal in what can be taken back and brought back: a new edit forgets what its window could bring back. */
export function advance(
  state: UndoState,
  entry: Pick<NewEntry, 'revision' | 'kind' | 'target' | 'author' | 'member'>,
): void {
  const { revision, kind, target, author, member = null } = entry
  const taken = (kind === 'undo' ? state.undo : state.redo).find((one) => one.revision === target)
  // taken back where it was made, it leaves what was there before; among what came since it makes something new
  const after = taken?.after === state.content ? taken.before : revision
  const step = { revision, author, member, before: state.content, after }
  state.content = after
  const without = (steps: UndoStep[]) => steps.filter((one) => one.revision !== target)
  if (kind === 'edit') {
    state.undo.push(step)
    state.redo = state.redo.filter((one) => !isOwn(one, { author, member }))
  } else if (kind === 'undo') {
    state.undo = without(state.undo)
    state.redo.push(step)
  } else {
    state.redo = without(state.redo)
    state.undo.push(step)
  }
}

/** What a revision's change is called. */
export async function summaryOf(sql: Sql, story: string, revision: number): Promise<string> {
  const [row] = await sql.query<{ summary: string }>(
    'select summary from journal where story_id = $1 and revision = $2',
    [story, revision],
  )
  return row?.summary ?? ''
}

/** The steps before a revision, the latest first. */
export async function readHistory(sql: Sql, story: string, before: number, limit: number): Promise<HistoryStep[]> {
  return sql.query<HistoryStep & Record<string, unknown>>(
    `select revision, ${iso('made_at')} as "madeAt", kind, target, summary,
       member.name as by
     from journal left join member on member.id = journal.member_id
     where story_id = $1 and revision < $2 order by revision desc limit $3`,
    [story, before, limit],
  )
}
