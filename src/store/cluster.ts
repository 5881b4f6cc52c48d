import { existsSync } from 'node:fs'
import { cp, readdir } from 'node:fs/promises'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'

/** What is in a database that was made with the build: nothing of ours, our tables with nothing in them, or the samples in them. */
export type Prepared = 'bare' | 'tables' | 'samples'

/** PostgreSQL's files, made with the build: making them takes seconds, copying them does not. */
const MADE: Readonly<Record<Prepared, string>> = {
  bare: fileURLToPath(new URL('../../dist/cluster/', import.meta.url)),
  tables: fileURLToPath(new URL('../../dist/tables/', import.meta.url)),
  samples: fileURLToPath(new URL('../../dist/samples/', import.meta.url)),
}

/**
 * Puts a database into a folder that has none, if one was made with the build, and says whether it did; else PostgreSQL
 * makes its own, which is bare.
 */
export async function layCluster(folder: string, prepared: Prepared): Promise<boolean> {
  const made = MADE[prepared]
  // the stamp comes last, so what was made is whole
  if (!existsSync(join(made, 'stamp')) || !(await isEmpty(folder))) return false
  await cp(join(made, 'db'), folder, { recursive: true })
  return true
}

async function isEmpty(folder: string): Promise<boolean> {
  return !existsSync(folder) || (await readdir(folder)).length === 0
}
