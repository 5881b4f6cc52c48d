import { existsSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { fingerprint, root } from './ensure.mjs'

/** Bundles the server's threads into dist/server when their sources have changed; gives the folder. */
export async function ensureServer() {
  const folder = join(root, 'dist', 'server')
  const stamp = join(folder, 'stamp')
  const now = fingerprint(['src/core', 'src/store', 'package-lock.json'])
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === now) return folder
  const { build } = await import('esbuild')
  await build({
    entryPoints: ['thread', 'reader'].map((name) => join(root, `src/store/worker/${name}.ts`)),
    outdir: folder,
    outExtension: { '.js': '.mjs' },
    bundle: true,
    platform: 'node',
    mainFields: ['module', 'main'],
    format: 'esm',
    target: 'node20',
    // it looks for its files beside itself
    external: ['@electric-sql/pglite', '@electric-sql/pglite/*'],
    logLevel: 'warning',
  })
  writeFileSync(stamp, now)
  return folder
}
