import type { Sql } from './database'
import type { Piece } from './pieces'

/** Rows that are read or written in one statement, so that no story holds up another for long. */
export const ROWS_AT_ONCE = 2_000

/** Writes new versions of pieces, true from a revision on. */
export async function writePieces(sql: Sql, story: string, since: number, pieces: readonly Piece[]): Promise<void> {
  for (let from = 0; from < pieces.length; from += ROWS_AT_ONCE) {
    const some = pieces.slice(from, from + ROWS_AT_ONCE)
    await sql.query(
      `insert into piece (story_id, since, key, list, scene, place, body)
       select $1, $2, * from unnest($3::bigint[], $4::text[], $5::bigint[], $6::text[], $7::json[])`,
      [
        story,
        since,
        some.map(({ key }) => key),
        some.map(({ list }) => list),
        some.map(({ scene }) => scene),
        some.map(({ place }) => place),
        some.map(({ body }) => body),
      ],
    )
  }
}

/** From a revision on, the pieces with these keys are no longer what they were. */
export async function endPieces(sql: Sql, story: string, until: number, keys: readonly number[]): Promise<void> {
  if (keys.length === 0) return
  await sql.query('update piece set until = $2 where story_id = $1 and until is null and key = any($3::bigint[])', [
    story,
    until,
    keys,
  ])
}

/** The pieces of a story as they are now, or as they were after a revision. */
export async function readPieces(sql: Sql, story: string, revision?: number): Promise<Piece[]> {
  const pieces: Piece[] = []
  for (let last = -1; ; last = pieces.at(-1)!.key) {
    const some = await sql.query<Piece & Record<string, unknown>>(
      `select key, list, scene, place, body::text as body from piece
       where story_id = $1 and key > $2 and ${revision === undefined ? 'until is null' : 'since <= $3 and (until is null or until > $3)'}
       order by key limit ${ROWS_AT_ONCE}`,
      revision === undefined ? [story, last] : [story, last, revision],
    )
    pieces.push(...some)
    if (some.length < ROWS_AT_ONCE) return pieces
  }
}

/** A version of a piece, and the revisions from which on it holds and no longer does. */
export interface PieceVersion extends Piece {
  readonly since: number
  readonly until: number | null
}

/** The pieces that began or ended after a revision, up to another. */
export async function readSteps(sql: Sql, story: string, after: number, upTo: number): Promise<PieceVersion[]> {
  return sql.query<PieceVersion & Record<string, unknown>>(
    `select key, list, scene, place, body::text as body, since, until from piece
     where story_id = $1 and (since > $2 and since <= $3 or until > $2 and until <= $3)`,
    [story, after, upTo],
  )
}

/** The number after the highest that a piece of the story ever had. */
export async function nextPieceKey(sql: Sql, story: string): Promise<number> {
  const [row] = await sql.query<{ last: number | null }>('select max(key) as last from piece where story_id = $1', [
    story,
  ])
  return (row?.last ?? 0) + 1
}
