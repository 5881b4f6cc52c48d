import { mkdtemp, rm } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join, resolve } from 'node:path'
import type { Prepared } from '../src/store/cluster'
import type { Database } from '../src/store/database'
import { migrate } from '../src/store/migrate'
import { openPglite } from '../src/store/pglite'
import { openPostgres } from '../src/store/postgres'
import { PostgresServer } from './postgres'

const MIGRATIONS = resolve('src/store/migrations')

/** Where the store's database can be. */
export const PLACES = ['of this process', 'of a server'] as const
export type Place = (typeof PLACES)[number]

/** For all tests of a file: opens databases in either place, without tables, or with them and nothing in them. */
export function databases(): {
  readonly folder: () => string
  open(place: Place, name: string): Promise<Database>
  withTables(place: Place, name: string): Promise<Database>
} {
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
  const open = async (place: Place, name: string, prepared?: Prepared) =>
    place === 'of a server' ? openPostgres(await server.database(name)) : openPglite(join(folder, name), { prepared })
  return {
    folder: () => folder,
    open: (place, name) => open(place, name),
    withTables: async (place, name) => {
      const database = await open(place, name, 'tables')
      await migrate(database, MIGRATIONS)
      return database
    },
  }
}
