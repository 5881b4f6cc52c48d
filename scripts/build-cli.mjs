import { existsSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { ensurePackages, fingerprint, root } from './ensure.mjs'

/** Bundles the command line into dist/cli when its sources have changed; gives the bundle's path. */
export async function ensureCli() {
  const bundle = join(root, 'dist', 'cli', 'main.mjs')
  const stamp = join(root, 'dist', 'cli', 'stamp')
  const now = fingerprint(['src/core', 'src/cli', 'src/store', 'package-lock.json'])
  if (existsSync(bundle) && existsSync(stamp) && readFileSync(stamp, 'utf8') === now) return bundle
  ensurePackages({ quiet: true })
  rmSync(join(root, 'dist', 'cli'), { recursive: true, force: true })
  const { build } = await import('esbuild')
  await build({
    entryPoints: [join(root, 'src/cli/main.ts')],
    outdir: join(root, 'dist', 'cli'),
    outExtension: { '.js': '.mjs' },
    // so that the database is loaded only where it is needed
    splitting: true,
    bundle: true,
    platform: 'node',
    mainFields: ['module', 'main'],
    format: 'esm',
    target: 'node20',
    // it looks for its files beside itself
    external: ['@electric-sql/pglite', '@electric-sql/pglite/*'],
    logLevel: 'warning',
    banner: {
      js: "import { createRequire as makeRequire } from 'node:module'; const require = makeRequire(import.meta.url);",
    },
  })
  writeFileSync(stamp, now)
  return bundle
}
