import { existsSync } from 'node:fs'
import { cp, readdir } from 'node:fs/promises'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'

/** PostgreSQL's files with nothing of ours in them, made with the build: making them takes seconds, copying them does not. */
const MADE = fileURLToPath(new URL('../../dist/cluster/', import.meta.url))

/** Puts a database without tables into a folder that has none, if one was made with the build; else PostgreSQL makes its own. */
export async function layCluster(folder: string): Promise<void> {
  // the stamp comes last, so what was made is whole
  if (!existsSync(join(MADE, 'stamp')) || !(await isEmpty(folder))) return
  await cp(join(MADE, 'db'), folder, { recursive: true })
}

async function isEmpty(folder: string): Promise<boolean> {
  return !existsSync(folder) || (await readdir(folder)).length === 0
}
