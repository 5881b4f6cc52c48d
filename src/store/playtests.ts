import { createHash } from 'node:crypto'
import type { KeptPlaytest } from '../core/contract/answers'
import type { PlayRecord } from '../core/formats/playtest/read'
import type { Sql } from './database'
import { iso } from './moment'

export async function listPlaytests(sql: Sql, story: string): Promise<KeptPlaytest[]> {
  return sql.query<KeptPlaytest & Record<string, unknown>>(
    `select id, name, record, ${iso('added_at')} as "addedAt"
     from playtest where story_id = $1 order by added_at, id`,
    [story],
  )
}

/** Whether it was not there before. */
export async function addPlaytest(sql: Sql, story: string, name: string, record: PlayRecord): Promise<boolean> {
  const text = JSON.stringify(record)
  const digest = createHash('sha256').update(text).digest('hex')
  const added = await sql.query(
    `insert into playtest (story_id, name, record, digest) values ($1, $2, $3, $4)
     on conflict (story_id, digest) do nothing returning id`,
    [story, name, text, digest],
  )
  return added.length > 0
}

export async function removePlaytest(sql: Sql, story: string, id: string): Promise<void> {
  await sql.query('delete from playtest where story_id = $1 and id = $2', [story, id])
}
