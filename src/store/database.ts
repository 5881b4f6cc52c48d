/** One row as the database gives it. */
export type Row = Readonly<Record<string, unknown>>

/** What statements run on: the database itself, or a transaction in it. */
export interface Sql {
  /** Runs one statement; `$1`, `$2` … stand for the parameters. */
  query<T extends Row = Row>(statement: string, parameters?: readonly unknown[]): Promise<T[]>
  /** Runs a script of several statements, as migrations are. */
  script(statements: string): Promise<void>
}

/** The database that the store works on: embedded in this process, or a server's, through the same SQL. */
export interface Database extends Sql {
  /** All or nothing. */
  transaction<T>(work: (sql: Sql) => Promise<T>): Promise<T>
  /** Reads all as it is at one moment, whatever others write meanwhile. */
  snapshot<T>(work: (sql: Sql) => Promise<T>): Promise<T>
  /** Does something while no other process does anything alone. */
  alone<T>(work: () => Promise<T>): Promise<T>
  /** The other processes that work on it; none where it is this one's own. */
  readonly others?: Others
  close(): Promise<void>
}

/** What processes on one database tell each other: a text within a transaction, once that is done. */
export interface Others {
  say(sql: Sql, text: string): Promise<void>
  /** Hears what is said from now on. `missed`: what was said before it may have been lost. */
  hear(heard: (text: string) => void, missed: () => void): Promise<void>
}

/** The database does not answer; asking again may help. */
export class DatabaseAway extends Error {}

/** A transaction that is under way, for what wants a whole database. */
export function within(sql: Sql): Database {
  return {
    query: (statement, parameters) => sql.query(statement, parameters),
    script: (statements) => sql.script(statements),
    transaction: (work) => work(sql),
    snapshot: (work) => work(sql),
    alone: (work) => work(),
    close: () => Promise.resolve(),
  }
}
