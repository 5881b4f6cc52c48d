import { open, readdir, readFile, rename, rm, stat, statfs } from 'node:fs/promises'
import { randomBytes } from 'node:crypto'
import { join } from 'node:path'
import { layCluster, type Prepared } from './cluster'
import type { Database } from './database'
import { openPglite } from './pglite'

/** The version of PostgreSQL's files that this program reads. */
const VERSION = '18'
/** Without these there is no database. */
const VITAL = ['PG_VERSION', 'global/pg_control', 'base', 'pg_wal']

/** A database that is there and can't be opened: nothing of it is touched. */
export class DamagedFolder extends Error {}

/**
 * Opens the database of a data folder that this process owns, and makes it where there is none: in a folder of another
 * name, which gets its own when everything in it is on disk. `prepared`: what is there before it is filled; with the
 * samples there is nothing left to fill.
 */
export async function openFolder(
  data: string,
  fill: (database: Database) => Promise<void>,
  prepared: Prepared = 'bare',
): Promise<Database> {
  const folder = join(data, 'db')
  for (const name of await readdir(data)) {
    // what a start that was ended in the middle left behind
    if (name.startsWith('db.new-')) await rm(join(data, name), { recursive: true, force: true })
  }
  if (!(await isThere(folder))) {
    const made = join(data, `db.new-${randomBytes(4).toString('hex')}`)
    if (prepared !== 'samples' || !(await layCluster(made, prepared))) await makeFilled(made, fill, prepared)
    await syncTree(made)
    await rm(folder, { recursive: true, force: true })
    await rename(made, folder)
    await syncPath(data)
  }
  await refuseDamaged(data, folder)
  // only one process is here, so whoever left this is gone; an empty one ends every start
  await rm(join(folder, 'postmaster.pid'), { force: true })
  let database: Database
  try {
    database = await openPglite(folder)
  } catch (error) {
    throw damaged(data, folder, `PostgreSQL can not start on it (${reasonOf(error)})`)
  }
  await fill(database)
  return database
}

/** Makes a database in an empty folder and fills it. */
export async function makeFilled(
  folder: string,
  fill: (database: Database) => Promise<void>,
  prepared: Prepared,
): Promise<void> {
  const database = await openPglite(folder, { prepared })
  try {
    await fill(database)
  } finally {
    await database.close()
  }
}

async function isThere(folder: string): Promise<boolean> {
  try {
    return (await readdir(folder)).length > 0
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === 'ENOENT') return false
    throw error
  }
}

async function refuseDamaged(data: string, folder: string): Promise<void> {
  for (const name of VITAL) {
    const found = await stat(join(folder, name)).catch(() => undefined)
    if (found === undefined) throw damaged(data, folder, `${name} is missing in it`)
    if (found.isFile() && found.size === 0) throw damaged(data, folder, `${name} in it is empty`)
  }
  const version = (await readFile(join(folder, 'PG_VERSION'), 'utf8')).trim()
  if (version !== VERSION)
    throw damaged(data, folder, `it was written by PostgreSQL ${version}, and this program reads version ${VERSION}`)
}

function damaged(data: string, folder: string, why: string): DamagedFolder {
  return new DamagedFolder(
    `the database in ${folder} can not be used: ${why}. Nothing was changed; the stories in it may be whole. ` +
      `Keep a copy of ${data}; then bring back the latest backup from ${join(data, 'backups')} with ` +
      '"bin/paper-compass restore FILE" (what is in the way is kept beside it), or start with another folder in PAPER_COMPASS_DATA.',
  )
}

function reasonOf(error: unknown): string {
  const message = error instanceof Error ? error.message : String(error)
  return message === '' || message === 'undefined' ? 'no reason given' : message.split('\n')[0]!
}

async function syncTree(folder: string): Promise<void> {
  for (const entry of await readdir(folder, { withFileTypes: true })) {
    const path = join(folder, entry.name)
    if (entry.isDirectory()) await syncTree(path)
    else if (entry.isFile()) await syncPath(path)
  }
  await syncPath(folder)
}

async function syncPath(path: string): Promise<void> {
  const file = await open(path, 'r')
  try {
    await file.sync()
  } catch (error) {
    // some systems do not write folders on demand
    if (!['EISDIR', 'EPERM', 'EINVAL'].includes((error as NodeJS.ErrnoException).code ?? '')) throw error
  } finally {
    await file.close()
  }
}

/** Bytes that can still be written beside a path. */
export async function freeBytes(path: string): Promise<number> {
  const { bavail, bsize } = await statfs(path)
  return bavail * bsize
}
