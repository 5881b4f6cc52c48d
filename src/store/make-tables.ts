import { migrate } from './migrate'
import { openPglite } from './pglite'

/** Makes a database with our tables, and nothing in them, in an empty folder. */
export async function makeTables(folder: string, migrations: string): Promise<void> {
  const database = await openPglite(folder)
  try {
    await migrate(database, migrations)
  } finally {
    await database.close()
  }
}
