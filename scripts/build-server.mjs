import { join } from 'node:path'
import { pathToFileURL } from 'node:url'
import { bundle } from './bundle.mjs'
import { builtFrom, root, surveyor } from './ensure.mjs'

const ENTRIES = {
  thread: 'src/store/worker/thread.ts',
  reader: 'src/store/worker/reader.ts',
  heavy: 'src/store/jobs/heavy.ts',
  worker: 'src/store/jobs/worker.ts',
  live: 'src/live/attach.ts',
  tables: 'src/store/make-tables.ts',
}
const MIGRATIONS = 'src/store/migrations'

/** Makes the database without tables of which new ones are copies (`src/store/cluster.ts`). */
function ensureCluster() {
  return builtFrom(['package-lock.json'], join(root, 'dist', 'cluster'), async (folder) => {
    const { PGlite } = await import('@electric-sql/pglite')
    await (await PGlite.create(join(folder, 'db'))).close()
  })
}

/** Bundles the server's threads and its live line into dist/server when their sources have changed; gives the folder. */
export async function ensureServer() {
  await ensureCluster()
  const sources = ['src/core', 'src/workers', 'src/store', 'src/live', 'scripts/bundle.mjs', 'package-lock.json']
  const server = await builtFrom(sources, join(root, 'dist', 'server'), (outdir) =>
    bundle({
      entryPoints: Object.entries(ENTRIES).map(([out, file]) => ({ out, in: join(root, file) })),
      external: ['ws', 'pg-boss'],
      define: { 'process.env.SURVEYOR': JSON.stringify(surveyor()) },
      outdir,
    }),
  )
  await ensureTables(server)
  await ensureSamples(server, sources)
  return server
}

/** Makes the database with tables, without stories. */
function ensureTables(server) {
  const sources = ['package-lock.json', MIGRATIONS, 'src/store/migrate.ts', 'src/store/rows']
  return builtFrom(sources, join(root, 'dist', 'tables'), async (folder) => {
    const { makeTables } = await import(pathToFileURL(join(server, 'tables.mjs')).href)
    await makeTables(join(folder, 'db'), join(root, MIGRATIONS))
  })
}

/** Makes the database with the samples, surveyed, of which each new data folder is a copy. */
function ensureSamples(server, sources) {
  return builtFrom([...sources, 'samples'], join(root, 'dist', 'samples'), async (folder) => {
    const { makeSamples } = await import(pathToFileURL(join(server, 'tables.mjs')).href)
    await makeSamples(join(folder, 'db'), { migrations: join(root, MIGRATIONS), samples: join(root, 'samples') })
  })
}
