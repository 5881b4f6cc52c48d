/** One row as the database gives it. */
export type Row = Readonly<Record<string, unknown>>

/** What statements run on: the database itself, or a transaction in it. */
export interface Sql {
  /** Runs one statement; `$1`, `$2` … stand for the parameters. */
  query<T extends Row = Row>(statement: string, parameters?: readonly unknown[]): Promise<T[]>
  /** Runs a script of several statements, as migrations are. */
  script(statements: string): Promise<void>
}

/** The database that the store works on: embedded today, a server later, through the same SQL. */
export interface Database extends Sql {
  /** All or nothing. */
  transaction<T>(work: (sql: Sql) => Promise<T>): Promise<T>
  close(): Promise<void>
}
