import { existsSync, readFileSync, writeFileSync } from 'node:fs'
import { basename, join } from 'node:path'
import { bundle } from './bundle.mjs'
import { fingerprint, root } from './ensure.mjs'

/** Bundles the server's threads into dist/server when their sources have changed; gives the folder. */
export async function ensureServer() {
  const folder = join(root, 'dist', 'server')
  const stamp = join(folder, 'stamp')
  const now = fingerprint(['src/core', 'src/store', 'src/live', 'package-lock.json'])
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === now) return folder
  await bundle({
    entryPoints: [
      ...['thread', 'reader'].map((name) => join(root, `src/store/worker/${name}.ts`)),
      { in: join(root, 'src/live/attach.ts'), out: 'live' },
    ].map((entry) => (typeof entry === 'string' ? { in: entry, out: basename(entry, '.ts') } : entry)),
    external: ['ws'],
    outdir: folder,
  })
  writeFileSync(stamp, now)
  return folder
}
