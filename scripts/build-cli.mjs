import { join } from 'node:path'
import { bundle } from './bundle.mjs'
import { builtFrom, root } from './ensure.mjs'

/** Bundles the command line into dist/cli when its sources have changed; gives the bundle's path. */
export async function ensureCli() {
  const sources = ['src/core', 'src/cli', 'src/store', 'scripts/bundle.mjs', 'package-lock.json']
  const folder = await builtFrom(sources, join(root, 'dist', 'cli'), (outdir) =>
    bundle({
      entryPoints: [join(root, 'src/cli/main.ts')],
      outdir,
      // so that the database is loaded only where it is needed
      splitting: true,
      // large, and asked for seldom
      external: ['exceljs', 'docx', 'mammoth'],
      banner: {
        js: "import { createRequire as makeRequire } from 'node:module'; const require = makeRequire(import.meta.url);",
      },
    }),
  )
  return join(folder, 'main.mjs')
}
