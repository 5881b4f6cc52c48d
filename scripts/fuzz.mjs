import { join } from 'node:path'
import { bundle } from './bundle.mjs'
import { ensurePackages, root, run } from './ensure.mjs'
import { ensureBuild } from './start.mjs'

/** `npm run fuzz -- --minutes N --seed S`: made-up inputs for every part, on the built application. */
ensurePackages()
await ensureBuild()
const outfile = join(root, 'dist', 'fuzz', 'main.mjs')
await bundle({ entryPoints: [join(root, 'test/fuzz/main.ts')], outfile })
process.exit(run(process.execPath, [outfile, ...process.argv.slice(2)]))
