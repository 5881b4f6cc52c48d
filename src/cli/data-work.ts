import { existsSync } from 'node:fs'
import { mkdir, rename, rm } from 'node:fs/promises'
import { dirname, join, resolve } from 'node:path'
import { fileURLToPath } from 'node:url'
import { backupName, readBackup, writeBackup } from '../store/backup'
import type { Database } from '../store/database'
import { DamagedFolder, openFolder } from '../store/folder'
import { ownFolder } from '../store/folder-owner'
import { migrate } from '../store/migrate'

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
    return { isDone: true, message: `Restored ${file}.${hadOne ? ` What was there is in ${aside}.` : ''}` }
  })
}

export interface Done {
  readonly isDone: boolean
  readonly message: string
}

function refused(message: string): Done {
  return { isDone: false, message }
}

/** A new database gets the backup; one that is opened again has it. */
async function fill(database: Database, file: string): Promise<void> {
  const tables = await database.query("select 1 from information_schema.tables where table_name = 'story'")
  if (tables.length === 0) await readBackup(database, file, MIGRATIONS)
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
