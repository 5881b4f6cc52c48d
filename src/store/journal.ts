import type { HistoryStep } from '../core/contract/answers'
import type { Sql } from './database'

export type JournalKind = 'edit' | 'undo' | 'redo'

export interface NewEntry {
  readonly revision: number
  readonly kind: JournalKind
  /** The revision that an undo took back, or that a redo brought back. */
  readonly target: number | null
  readonly summary: string
  readonly requestId: string
}

export async function appendEntry(sql: Sql, story: string, entry: NewEntry): Promise<void> {
  await sql.query(
    'insert into journal (story_id, revision, kind, target, request_id, summary) values ($1, $2, $3, $4, $5, $6)',
    [story, entry.revision, entry.kind, entry.target, entry.requestId, keepable(entry.summary)],
  )
}

/** A text as PostgreSQL keeps it: it holds neither U+0000 nor half a surrogate pair. */
export function keepable(text: string): string {
  return text.toWellFormed().replaceAll('\0', '\uFFFD')
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

/** What can be taken back and brought back now: revisions, the next one last. */
export interface UndoState {
  readonly undo: number[]
  redo: number[]
}

/** Replays the kinds of the journal's entries: a new edit forgets what could be brought back. */
export async function readUndoState(sql: Sql, story: string): Promise<UndoState> {
  const state: UndoState = { undo: [], redo: [] }
  const rows = await sql.query<{ revision: number; kind: JournalKind }>(
    'select revision, kind from journal where story_id = $1 order by revision',
    [story],
  )
  for (const { revision, kind } of rows) advance(state, kind, revision)
  return state
}

/** Notes an entry of the journal in what can be taken back and brought back. */
export function advance(state: UndoState, kind: JournalKind, revision: number): void {
  if (kind === 'edit') {
    state.undo.push(revision)
    state.redo = []
  } else if (kind === 'undo') {
    state.undo.pop()
    state.redo.push(revision)
  } else {
    state.redo.pop()
    state.undo.push(revision)
  }
}

/** The steps before a revision, the latest first. */
export async function readHistory(sql: Sql, story: string, before: number, limit: number): Promise<HistoryStep[]> {
  return sql.query<HistoryStep & Record<string, unknown>>(
    `select revision, to_char(made_at at time zone 'utc', 'YYYY-MM-DD"T"HH24:MI:SS.MS"Z"') as "madeAt", kind, target, summary
     from journal where story_id = $1 and revision < $2 order by revision desc limit $3`,
    [story, before, limit],
  )
}
