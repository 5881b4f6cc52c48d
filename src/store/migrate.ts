import { createHash } from 'node:crypto'
import { readdir, readFile } from 'node:fs/promises'
import { join } from 'node:path'
import type { Database, Sql } from './database'
import { convertRows } from './rows/convert'

/** What a migration does after its SQL and SQL can't. */
const STEPS: Readonly<Record<number, (sql: Sql) => Promise<void>>> = { 4: convertRows }

/**
 * Brings the tables up to date: every `NNNN-name.sql` that has not run yet, in order, each in a
 * transaction, up to the one with the number `until`. A migration that has run is frozen: one whose text has changed since is refused.
 */
export async function migrate(database: Database, folder: string, until = Infinity): Promise<number> {
  await database.script(
    'create table if not exists migration (number int primary key, name text not null, digest text not null, ran_at timestamptz not null default now())',
  )
  const ran = new Map(
    (await database.query<{ number: number; digest: string }>('select number, digest from migration')).map((row) => [
      row.number,
      row.digest,
    ]),
  )
  let count = 0
  const migrations = await readMigrations(folder)
  if (ran.size > migrations.length) throw new Error('these tables were written by a newer version of the program')
  for (const [index, { name, text }] of migrations.entries()) {
    const number = index + 1
    if (number > until) break
    if (Number(name.slice(0, 4)) !== number) throw new Error(`migration ${name} should have the number ${number}`)
    const digest = createHash('sha256').update(text).digest('hex')
    const before = ran.get(number)
    if (before !== undefined && before !== digest)
      throw new Error(`migration ${name} was changed after it ran; write a new one instead`)
    if (before !== undefined) continue
    await database.transaction(async (sql) => {
      await sql.script(text)
      await STEPS[number]?.(sql)
      await sql.query('insert into migration (number, name, digest) values ($1, $2, $3)', [number, name, digest])
    })
    count += 1
  }
  return count
}

/** Whether migrations of this version have not run yet. */
export async function isBehind(database: Database, folder: string): Promise<boolean> {
  const [row] = await database.query<{ count: number }>('select count(*)::int as count from migration')
  return row!.count < (await readMigrations(folder)).length
}

async function readMigrations(folder: string): Promise<{ name: string; text: string }[]> {
  const names = (await readdir(folder)).filter((name) => /^\d{4}-[a-z0-9-]+\.sql$/.test(name)).sort()
  return Promise.all(names.map(async (name) => ({ name, text: await readFile(join(folder, name), 'utf8') })))
}
