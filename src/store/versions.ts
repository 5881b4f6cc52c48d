import type { Version } from '../core/contract/answers'
import type { Sql } from './database'
import { iso } from './moment'

export async function listVersions(sql: Sql, story: string): Promise<Version[]> {
  return sql.query<Version & Record<string, unknown>>(
    `select id, revision, name, ${iso('made_at')} as "madeAt",
       ${iso('released_at')} as "releasedAt" from version where story_id = $1 order by revision desc, made_at desc`,
    [story],
  )
}

export async function addVersion(sql: Sql, story: string, revision: number, name: string): Promise<void> {
  await sql.query('insert into version (story_id, revision, name) values ($1, $2, $3)', [story, revision, name])
}

/** The versions that players have, the latest first. */
export async function releasedVersions(sql: Sql, story: string): Promise<Pick<Version, 'name' | 'revision'>[]> {
  return sql.query<Pick<Version, 'name' | 'revision'> & Record<string, unknown>>(
    'select name, revision from version where story_id = $1 and released_at is not null order by revision desc, made_at desc',
    [story],
  )
}

/** Says that players have a version, or no longer; false where there is none. */
export async function releaseVersion(sql: Sql, story: string, id: string, isReleased: boolean): Promise<boolean> {
  const rows = await sql.query(
    'update version set released_at = case when $3 then coalesce(released_at, now()) end where story_id = $1 and id = $2 returning id',
    [story, id, isReleased],
  )
  return rows.length > 0
}

export async function removeVersion(sql: Sql, story: string, id: string): Promise<void> {
  await sql.query('delete from version where story_id = $1 and id = $2', [story, id])
}
