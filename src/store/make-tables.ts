import { fill, type FillPlaces } from './fill'
import { makeFilled } from './folder'
import { migrate } from './migrate'

/** Makes a database with our tables, and nothing in them, in an empty folder. */
export function makeTables(folder: string, migrations: string): Promise<void> {
  return makeFilled(folder, async (database) => void (await migrate(database, migrations)), 'bare')
}

/** Makes a database with the samples in it, in an empty folder. */
export function makeSamples(folder: string, places: FillPlaces): Promise<void> {
  return makeFilled(folder, (database) => fill(database, places), 'tables')
}
