import { existsSync } from 'node:fs'
import { mkdir, mkdtemp, rename, rm } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { dirname, join, resolve } from 'node:path'
import { fileURLToPath } from 'node:url'
import { backupName, readBackup, writeBackup } from '../store/backup'
import { DatabaseAway, within, type Database } from '../store/database'
import { DamagedFolder, openFolder } from '../store/folder'
import { ownFolder } from '../store/folder-owner'
import { isBehind, migrate } from '../store/migrate'
import { isPostgresUrl, openPostgres, placeOf } from '../store/postgres'

const MIGRATIONS = resolve(dirname(fileURLToPath(import.meta.url)), '../../src/store/migrations')

/** Writes everything in a data folder to one file; gives what went wrong, or what was done. */
export function backUp(data: string, file: string | undefined): Promise<Done> {
  return alone(data, async () => {
    if (!existsSync(join(data, 'db'))) return refused(`there is no database in ${data}`)
    const now = new Date()
    const target = file ?? backupName(data, now)
    if (existsSync(target)) return refused(`${target} is there already; name another file`)
    await mkdir(dirname(target), { recursive: true })
    const database = await openFolder(data, async (opened) => void (await migrate(opened, MIGRATIONS)))
    try {
      await writeBackup(database, target, now)
    } finally {
      await database.close()
    }
    return { isDone: true, message: target }
  })
}

/** Puts a backup in the place of what is in a data folder, which is kept beside it. */
export function restore(data: string, file: string): Promise<Done> {
  return alone(data, async () => {
    if (!existsSync(file)) return refused(`${file}: there is no such file`)
    const now = new Date().toISOString().slice(0, 19).replaceAll(':', '')
    const made = join(data, `restored-${now}`)
    await mkdir(made, { recursive: true })
    try {
      // whole and on disk before anything is put in its place
      const database = await openFolder(made, (opened) => fill(opened, file))
      await database.close()
    } catch (error) {
      await rm(made, { recursive: true, force: true })
      return refused(`${file} can not be brought back: ${(error as Error).message}. Nothing was changed.`)
    }
    const aside = join(data, `db-before-${now}`)
    const hadOne = existsSync(join(data, 'db'))
    if (hadOne) await rename(join(data, 'db'), aside)
    await rename(join(made, 'db'), join(data, 'db'))
    await rm(made, { recursive: true, force: true })
    return {
      isDone: true,
      message: `Restored ${file}.${toldAside(hadOne ? aside : undefined)}`,
      ...(hadOne && { aside }),
    }
  })
}

/** Writes everything in a server's database to one file, while others work on it. */
export async function backUpServer(server: string, data: string, named: string | undefined): Promise<Done> {
  const file = named ?? backupName(data, new Date())
  if (existsSync(file)) return refused(`${file} is there already; name another file`)
  return withServer(server, async (database) => {
    if (!(await hasTables(database))) return refused(`there are no stories in ${placeOf(server)}`)
    if (await isBehind(database, MIGRATIONS))
      return refused(`the tables in ${placeOf(server)} are of an earlier version; start this version on it once`)
    await mkdir(dirname(resolve(file)), { recursive: true })
    await writeBackup(database, file, new Date())
    return { isDone: true, message: file }
  })
}

/** Puts a backup into a database of a server that has no tables yet: all of it or nothing. */
export async function restoreServer(server: string, file: string): Promise<Done> {
  if (!existsSync(file)) return refused(`${file}: there is no such file`)
  return withServer(server, async (database) => {
    if (await hasTables(database))
      return refused(`there are stories in ${placeOf(server)} already; name an empty database, made with "createdb"`)
    try {
      await database.alone(() => database.transaction((sql) => readBackup(within(sql), file, MIGRATIONS)))
    } catch (error) {
      return refused(`${file} can not be brought back: ${(error as Error).message}. Nothing was changed.`)
    }
    return { isDone: true, message: `Restored ${file} into ${placeOf(server)}.` }
  })
}

/** Copies all stories with their history from one place to another, each a data folder or the address of a server's database. */
export async function move(from: string, to: string): Promise<Done> {
  const folder = await mkdtemp(join(tmpdir(), 'paper-compass-move-'))
  try {
    const file = join(folder, 'all.backup.gz')
    const written = isPostgresUrl(from) ? await backUpServer(from, folder, file) : await backUp(from, file)
    if (!written.isDone) return written
    const put = isPostgresUrl(to) ? await restoreServer(to, file) : await restore(to, file)
    if (!put.isDone) return { ...put, message: put.message.replaceAll(file, 'what was read') }
    return {
      isDone: true,
      message: `Copied all stories from ${said(from)} to ${said(to)}; ${said(from)} is as it was.${toldAside(put.aside)}`,
    }
  } finally {
    await rm(folder, { recursive: true, force: true })
  }
}

function toldAside(aside: string | undefined): string {
  return aside === undefined ? '' : ` What was there is in ${aside}.`
}

/** A folder, or a server's database without its password. */
function said(place: string): string {
  return isPostgresUrl(place) ? placeOf(place) : place
}

async function withServer(server: string, work: (database: Database) => Promise<Done>): Promise<Done> {
  let database: Database | undefined
  try {
    database = await openPostgres(server)
    return await work(database)
  } catch (error) {
    if (database !== undefined && !(error instanceof DatabaseAway)) throw error
    return refused(`${said(server)}: ${(error as Error).message}`)
  } finally {
    await database?.close().catch(() => undefined)
  }
}

async function hasTables(database: Database): Promise<boolean> {
  return (await database.query("select 1 from information_schema.tables where table_name = 'story'")).length > 0
}

export interface Done {
  readonly isDone: boolean
  readonly message: string
  /** Where what was in the way is kept. */
  readonly aside?: string
}

function refused(message: string): Done {
  return { isDone: false, message }
}

/** A new database gets the backup; one that is opened again has it. */
async function fill(database: Database, file: string): Promise<void> {
  if (!(await hasTables(database))) await readBackup(database, file, MIGRATIONS)
}

async function alone(data: string, work: () => Promise<Done>): Promise<Done> {
  const owner = await ownFolder(data)
  if (!owner.ok)
    return refused(`${owner.error}; a server makes a backup by itself each day, in the folder "backups" in it`)
  try {
    return await work()
  } catch (error) {
    if (error instanceof DamagedFolder) return refused(error.message)
    throw error
  } finally {
    await owner.value.release()
  }
}
