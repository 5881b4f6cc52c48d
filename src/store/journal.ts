import type { HistoryStep } from '../core/contract/answers'
import type { Change } from '../core/story/changes/types'
import type { Sql } from './database'

export type JournalKind = 'edit' | 'undo' | 'redo'

export interface JournalEntry {
  readonly revision: number
  readonly madeAt: string
  readonly kind: JournalKind
  readonly target: number | null
  readonly summary: string
  readonly change: Change
  readonly inverse: Change
}

export interface NewEntry extends Omit<JournalEntry, 'madeAt'> {
  readonly requestId: string
}

export async function appendEntry(sql: Sql, story: string, entry: NewEntry): Promise<void> {
  await sql.query(
    `insert into journal (story_id, revision, kind, target, request_id, summary, change, inverse)
     values ($1, $2, $3, $4, $5, $6, $7::jsonb, $8::jsonb)`,
    [
      story,
      entry.revision,
      entry.kind,
      entry.target,
      entry.requestId,
      entry.summary,
      JSON.stringify(entry.change),
      JSON.stringify(entry.inverse),
    ],
  )
}

/** The revision that a request led to, when it was carried out before. */
export async function revisionOfRequest(sql: Sql, story: string, requestId: string): Promise<number | undefined> {
  const [row] = await sql.query<{ revision: number }>(
    'select revision from journal where story_id = $1 and request_id = $2',
    [story, requestId],
  )
  return row?.revision
}

export async function readEntry(sql: Sql, story: string, revision: number): Promise<JournalEntry | undefined> {
  const [row] = await sql.query<JournalEntry & Record<string, unknown>>(
    `select revision, made_at::text as "madeAt", kind, target, summary, change, inverse from journal where story_id = $1 and revision = $2`,
    [story, revision],
  )
  return row
}

/** What can be taken back and brought back now: revisions, the next one last. */
export interface UndoState {
  readonly undo: readonly number[]
  readonly redo: readonly number[]
}

/** Replays the kinds of the journal's entries: a new edit forgets what could be brought back. */
export async function readUndoState(sql: Sql, story: string): Promise<UndoState> {
  const undo: number[] = []
  let redo: number[] = []
  const rows = await sql.query<{ revision: number; kind: JournalKind }>(
    'select revision, kind from journal where story_id = $1 order by revision',
    [story],
  )
  for (const { revision, kind } of rows) {
    if (kind === 'edit') {
      undo.push(revision)
      redo = []
    } else if (kind === 'undo') {
      undo.pop()
      redo.push(revision)
    } else {
      redo.pop()
      undo.push(revision)
    }
  }
  return { undo, redo }
}

/** The steps before a revision, the latest first. */
export async function readHistory(sql: Sql, story: string, before: number, limit: number): Promise<HistoryStep[]> {
  return sql.query<HistoryStep & Record<string, unknown>>(
    `select revision, to_char(made_at at time zone 'utc', 'YYYY-MM-DD"T"HH24:MI:SS.MS"Z"') as "madeAt", kind, target, summary
     from journal where story_id = $1 and revision < $2 order by revision desc limit $3`,
    [story, before, limit],
  )
}

/** What takes back every step after a revision, the latest first. */
export async function readInverses(sql: Sql, story: string, after: number): Promise<Change[]> {
  const rows = await sql.query<{ inverse: Change }>(
    'select inverse from journal where story_id = $1 and revision > $2 order by revision desc',
    [story, after],
  )
  return rows.map(({ inverse }) => inverse)
}
