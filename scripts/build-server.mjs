import { join } from 'node:path'
import { bundle } from './bundle.mjs'
import { builtFrom, root } from './ensure.mjs'

const ENTRIES = {
  thread: 'src/store/worker/thread.ts',
  reader: 'src/store/worker/reader.ts',
  heavy: 'src/store/jobs/heavy.ts',
  worker: 'src/store/jobs/worker.ts',
  live: 'src/live/attach.ts',
}

/** Makes the database without tables of which each new one is a copy (`src/store/cluster.ts`). */
function ensureCluster() {
  return builtFrom(['package-lock.json'], join(root, 'dist', 'cluster'), async (folder) => {
    const { PGlite } = await import('@electric-sql/pglite')
    await (await PGlite.create(join(folder, 'db'))).close()
  })
}

/** Bundles the server's threads and its live line into dist/server when their sources have changed; gives the folder. */
export async function ensureServer() {
  await ensureCluster()
  const sources = ['src/core', 'src/store', 'src/live', 'scripts/bundle.mjs', 'package-lock.json']
  return builtFrom(sources, join(root, 'dist', 'server'), (outdir) =>
    bundle({
      entryPoints: Object.entries(ENTRIES).map(([out, file]) => ({ out, in: join(root, file) })),
      external: ['ws', 'pg-boss'],
      outdir,
    }),
  )
}
