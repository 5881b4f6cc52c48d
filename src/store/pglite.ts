import { PGlite, types } from '@electric-sql/pglite'
import type { Database, Row, Sql } from './database'

/** PostgreSQL embedded in this process, its files in `folder`. */
export async function openPglite(folder: string): Promise<Database> {
  const db = await PGlite.create(folder, { parsers: { [types.INT8]: (value) => Number(value) } })
  const on = (runner: Pick<PGlite, 'query' | 'exec'>): Sql => ({
    query: async <T extends Row>(statement: string, parameters: readonly unknown[] = []) =>
      (await runner.query<T>(statement, [...parameters])).rows,
    script: async (statements) => void (await runner.exec(statements)),
  })
  return {
    ...on(db),
    transaction: (work) => db.transaction((transaction) => work(on(transaction))),
    close: () => db.close(),
  }
}
