import { fsyncSync } from 'node:fs'
import { PGlite, types } from '@electric-sql/pglite'
import { NodeFS } from '@electric-sql/pglite/nodefs'
import { layCluster, type Prepared } from './cluster'
import type { Database, Row, Sql } from './database'
import { pause } from './pause'

interface Stream {
  readonly nfd?: number
}

/** Makes PostgreSQL's files in a folder; what it wants on disk is there when it goes on. */
class DurableFolder extends NodeFS {
  constructor(
    folder: string,
    private readonly sync: (descriptor: number) => void,
  ) {
    super(folder)
  }

  override async init(...[pg, options]: Parameters<NodeFS['init']>): ReturnType<NodeFS['init']> {
    const ready = await super.init(pg, options)
    ready.emscriptenOpts.preRun?.push((module) => {
      // the file system that PGlite brings along takes "to disk" for done
      const { NODEFS } = module as unknown as { NODEFS: { stream_ops: { fsync?: (stream: Stream) => number } } }
      NODEFS.stream_ops.fsync = ({ nfd }) => {
        if (nfd !== undefined) this.sync(nfd)
        return 0
      }
    })
    return ready
  }
}

/** PGlite starts PostgreSQL with `-F`, which turns writing to disk off; its `fdatasync` does nothing, its `fsync` does. */
const START = [
  ...PGlite.defaultStartParams.filter((parameter) => parameter !== '-F'),
  ...['-c', 'fsync=on', '-c', 'wal_sync_method=fsync', '-c', 'synchronous_commit=on'],
  // what the log of writes may hold before it is used anew
  ...['-c', 'max_wal_size=48MB', '-c', 'min_wal_size=32MB'],
  // each file that may be open is tried at the start, and memory for pages is taken; more of either only makes that longer
  ...['-c', 'max_files_per_process=200', '-c', 'shared_buffers=32MB'],
]

/** PostgreSQL embedded in this process, its files in `folder`, where there are none as they were `prepared`. A transaction that is done is on disk. */
export async function openPglite(
  folder: string,
  { sync = fsyncSync, prepared = 'bare' }: { sync?: (descriptor: number) => void; prepared?: Prepared } = {},
): Promise<Database> {
  await layCluster(folder, prepared)
  const db = await PGlite.create({
    fs: new DurableFolder(folder, sync),
    startParams: START,
    parsers: { [types.INT8]: (value) => Number(value) },
  })
  const on = (runner: Pick<PGlite, 'query' | 'exec'>): Sql => ({
    query: async <T extends Row>(statement: string, parameters: readonly unknown[] = []) => {
      const { rows } = await runner.query<T>(statement, [...parameters])
      // an answer comes at once, so a row of statements would let nobody else be heard
      await pause()
      return rows
    },
    script: async (statements) => void (await runner.exec(statements)),
  })
  const transaction = <T>(work: (sql: Sql) => Promise<T>) => db.transaction((inside) => work(on(inside)))
  return {
    ...on(db),
    transaction,
    snapshot: transaction,
    // the folder has one owner
    alone: (work) => work(),
    close: () => db.close(),
  }
}
