import { join } from 'node:path'
import { ensurePackages, root, run } from './ensure.mjs'

ensurePackages()
const { build } = await import('esbuild')
const outfile = join(root, 'dist', 'bench', 'survey.mjs')
await build({ entryPoints: [join(root, 'bench/survey.ts')], outfile, bundle: true, platform: 'node', format: 'esm', target: 'node20', logLevel: 'warning' })
process.exit(run(process.execPath, [outfile, ...process.argv.slice(2)]))
