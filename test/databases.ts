import { mkdtemp, rm } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { Database } from '../src/store/database'
import { openPglite } from '../src/store/pglite'
import { openPostgres } from '../src/store/postgres'
import { PostgresServer } from './postgres'

/** Where the store's database can be. */
export const PLACES = ['of this process', 'of a server'] as const
export type Place = (typeof PLACES)[number]

/** For all tests of a file: opens databases without tables, in either place. */
export function databases(): { readonly folder: () => string; open(place: Place, name: string): Promise<Database> } {
  let server: PostgresServer
  let folder: string
  beforeAll(async () => {
    server = await PostgresServer.start()
    folder = await mkdtemp(join(tmpdir(), 'paper-compass-'))
  })
  afterAll(async () => {
    await server.remove()
    await rm(folder, { recursive: true, force: true })
  })
  return {
    folder: () => folder,
    open: async (place, name) =>
      place === 'of a server' ? openPostgres(await server.database(name)) : openPglite(join(folder, name)),
  }
}
