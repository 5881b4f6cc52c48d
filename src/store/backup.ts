import { once } from 'node:events'
import { createReadStream, createWriteStream } from 'node:fs'
import { mkdir, open, readdir, rename, rm, stat } from 'node:fs/promises'
import { join } from 'node:path'
import { createInterface } from 'node:readline'
import { pipeline } from 'node:stream/promises'
import { createGunzip, createGzip } from 'node:zlib'
import * as z from 'zod'
import type { Database, Sql } from './database'
import { migrate } from './migrate'

/** Tables in the order in which their rows can be put in, and what orders the rows. */
const TABLES = [
  { name: 'member', key: { id: 'text' } },
  { name: 'member_account', key: { id: 'text' } },
  { name: 'story', key: { id: 'uuid' } },
  { name: 'piece', key: { story_id: 'uuid', key: 'bigint', since: 'bigint' } },
  { name: 'journal', key: { story_id: 'uuid', revision: 'bigint' } },
  { name: 'version', key: { id: 'uuid' } },
  { name: 'playtest', key: { id: 'uuid' } },
  { name: 'story_role', key: { story_id: 'uuid', member_id: 'text' } },
  { name: 'invitation', key: { id: 'uuid' } },
  { name: 'member_token', key: { id: 'uuid' } },
  { name: 'audit', key: { id: 'uuid' } },
  { name: 'thread', key: { id: 'uuid' } },
  { name: 'comment', key: { id: 'uuid' } },
  { name: 'visit', key: { story_id: 'uuid', member_id: 'text' } },
] as const

/** Rows that are read and written at once. */
const ROWS = 1_000
/** Backups that are kept of those that the program makes by itself. */
export const BACKUPS_KEPT = 10
/** After this long a start makes another one, in milliseconds. */
const DAY_MS = 24 * 60 * 60 * 1000

const headSchema = z.object({ paperCompassBackup: z.literal(1), migrations: z.int().min(1), made: z.string() })
const rowsSchema = z.object({ table: z.enum(TABLES.map(({ name }) => name)), rows: z.array(z.unknown()) })
const endSchema = z.object({ end: z.int().min(0) })

/**
 * Writes everything that the database holds, with its history, to one file: gzipped lines of JSON, the last of which
 * counts the rows, all as they are at one moment. The file has its name only once it is whole and on disk.
 */
export function writeBackup(database: Database, file: string, made: Date): Promise<void> {
  return database.snapshot((sql) => writeRows(sql, file, made))
}

async function writeRows(sql: Sql, file: string, made: Date): Promise<void> {
  const partial = `${file}.partial`
  const zip = createGzip()
  const written = pipeline(zip, createWriteStream(partial))
  // told by whoever waits for the end
  written.catch(() => undefined)
  const say = async (line: object) => {
    if (!zip.write(`${JSON.stringify(line)}\n`)) await Promise.race([once(zip, 'drain'), written])
  }
  try {
    const [{ migrations } = { migrations: 0 }] = await sql.query<{ migrations: number }>(
      'select count(*)::int as migrations from migration',
    )
    await say({ paperCompassBackup: 1, migrations, made: made.toISOString() })
    let count = 0
    for (const { name, key } of TABLES) {
      const columns = Object.keys(key)
      const after = Object.values(key).map((type, at) => `$${at + 1}::${type}`)
      for (let last: unknown[] | undefined; ;) {
        const [found] = await sql.query<{ rows: string }>(
          `select coalesce(json_agg(t), '[]')::text as rows from (
             select * from ${name} ${last === undefined ? '' : `where (${columns.join()}) > (${after.join()})`}
             order by ${columns.join()} limit ${ROWS}) t`,
          last ?? [],
        )
        const rows = JSON.parse(found!.rows) as Record<string, unknown>[]
        if (rows.length > 0) await say({ table: name, rows })
        count += rows.length
        if (rows.length < ROWS) break
        last = columns.map((column) => rows.at(-1)![column])
      }
    }
    await say({ end: count })
    zip.end()
    await written
    const handle = await open(partial, 'r')
    await handle.sync()
    await handle.close()
    await rename(partial, file)
  } catch (error) {
    zip.destroy()
    await rm(partial, { force: true })
    throw error
  }
}

/** Puts a backup into a database that has no tables yet; a file that is not whole is refused before anything is put in. */
export async function readBackup(database: Database, file: string, migrations: string): Promise<void> {
  let rows = 0
  let end: number | undefined
  let head: z.infer<typeof headSchema> | undefined
  for await (const line of linesOf(file)) {
    if (head === undefined) head = headSchema.parse(line)
    else if (end !== undefined) throw new Error('something follows its end')
    else if (isEnd(line)) end = line.end
    else rows += rowsSchema.parse(line).rows.length
  }
  if (head === undefined) throw new Error('it is empty')
  if (end !== rows) throw new Error(`it is cut off: ${rows} rows of ${end ?? 'an unknown number'}`)
  await migrate(database, migrations, head.migrations)
  for await (const line of linesOf(file)) {
    const some = rowsSchema.safeParse(line)
    if (!some.success) continue
    const { table } = some.data
    await database.query(
      `insert into ${table} select * from json_populate_recordset(null::public.${table}, $1::json)`,
      [JSON.stringify(some.data.rows)],
    )
  }
  await migrate(database, migrations)
}

function isEnd(line: unknown): line is { end: number } {
  return endSchema.safeParse(line).success
}

async function* linesOf(file: string): AsyncGenerator<unknown> {
  const source = createReadStream(file)
  const text = source.pipe(createGunzip())
  source.on('error', (error) => text.destroy(error))
  const lines = createInterface({ input: text, crlfDelay: Infinity })
  // the interface itself does not hand on that its input failed
  let failed: Error | undefined
  text.on('error', (error) => {
    failed = error
    lines.close()
  })
  for await (const line of lines) yield JSON.parse(line) as unknown
  if (failed !== undefined) throw failed
}

/** The backups of a data folder, the latest last. */
export async function listBackups(data: string): Promise<string[]> {
  const names = await readdir(join(data, 'backups')).catch(() => [])
  return names
    .filter((name) => /^\d{4}-\d\d-\d\dT\d{6}Z\.backup\.gz$/.test(name))
    .sort()
    .map((name) => join(data, 'backups', name))
}

export function backupName(data: string, now: Date): string {
  return join(data, 'backups', `${now.toISOString().slice(0, 19).replaceAll(':', '')}Z.backup.gz`)
}

/** Makes a backup when the last one is a day old, and lets the oldest go. */
export async function backUpDaily(database: Database, data: string, now: Date): Promise<string | undefined> {
  const kept = await listBackups(data)
  const last = kept.at(-1)
  if (last !== undefined && now.getTime() - (await stat(last)).mtimeMs < DAY_MS) return undefined
  await mkdir(join(data, 'backups'), { recursive: true })
  const file = backupName(data, now)
  await writeBackup(database, file, now)
  for (const old of [...kept, file].slice(0, -BACKUPS_KEPT)) await rm(old, { force: true })
  return file
}
