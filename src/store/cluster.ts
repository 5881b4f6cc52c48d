import { existsSync } from 'node:fs'
import { cp, readdir } from 'node:fs/promises'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'

/** What is in a database that was made with the build: nothing of ours, or our tables with nothing in them. */
export type Prepared = 'bare' | 'tables'

/** PostgreSQL's files, made with the build: making them takes seconds, copying them does not. */
const MADE: Readonly<Record<Prepared, string>> = {
  bare: fileURLToPath(new URL('../../dist/cluster/', import.meta.url)),
  tables: fileURLToPath(new URL('../../dist/tables/', import.meta.url)),
}

/** Puts a database into a folder that has none, if one was made with the build; else PostgreSQL makes its own, which is bare. */
export async function layCluster(folder: string, prepared: Prepared): Promise<void> {
  const made = MADE[prepared]
  // the stamp comes last, so what was made is whole
  if (!existsSync(join(made, 'stamp')) || !(await isEmpty(folder))) return
  await cp(join(made, 'db'), folder, { recursive: true })
}

async function isEmpty(folder: string): Promise<boolean> {
  return !existsSync(folder) || (await readdir(folder)).length === 0
}
