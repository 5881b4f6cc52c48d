import { existsSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { bundle } from './bundle.mjs'
import { ensurePackages, fingerprint, root } from './ensure.mjs'

/** Bundles the command line into dist/cli when its sources have changed; gives the bundle's path. */
export async function ensureCli() {
  const main = join(root, 'dist', 'cli', 'main.mjs')
  const stamp = join(root, 'dist', 'cli', 'stamp')
  const now = fingerprint(['src/core', 'src/cli', 'src/store', 'package-lock.json'])
  if (existsSync(main) && existsSync(stamp) && readFileSync(stamp, 'utf8') === now) return main
  ensurePackages({ quiet: true })
  rmSync(join(root, 'dist', 'cli'), { recursive: true, force: true })
  await bundle({
    entryPoints: [join(root, 'src/cli/main.ts')],
    outdir: join(root, 'dist', 'cli'),
    // so that the database is loaded only where it is needed
    splitting: true,
    banner: {
      js: "import { createRequire as makeRequire } from 'node:module'; const require = makeRequire(import.meta.url);",
    },
  })
  writeFileSync(stamp, now)
  return main
}
