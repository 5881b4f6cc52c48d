import { fill, type FillPlaces } from './fill'
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

/** Makes a database with the samples in it, in an empty folder. */
export async function makeSamples(folder: string, places: FillPlaces): Promise<void> {
  const database = await openPglite(folder, { prepared: 'tables' })
  try {
    await fill(database, places)
  } finally {
    await database.close()
  }
}
