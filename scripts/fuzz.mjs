import { join } from 'node:path'
import { ensurePackages, root, run } from './ensure.mjs'
import { ensureBuild } from './start.mjs'

/** `npm run fuzz -- --minutes N --seed S`: made-up inputs for every part, on the built application. */
ensurePackages()
await ensureBuild()
const { build } = await import('esbuild')
const outfile = join(root, 'dist', 'fuzz', 'main.mjs')
await build({
  entryPoints: [join(root, 'test/fuzz/main.ts')],
  outfile,
  bundle: true,
  platform: 'node',
  mainFields: ['module', 'main'],
  format: 'esm',
  target: 'node20',
  logLevel: 'warning',
  external: ['@electric-sql/pglite', '@electric-sql/pglite/*'],
})
process.exit(run(process.execPath, [outfile, ...process.argv.slice(2)]))
