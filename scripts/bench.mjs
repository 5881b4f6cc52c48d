import { existsSync } from 'node:fs'
import { join } from 'node:path'
import { ensureServer } from './build-server.mjs'
import { bundle } from './bundle.mjs'
import { ensurePackages, root, run } from './ensure.mjs'
import { ensureBuild } from './start.mjs'

/** `npm run bench` prints everything; `-- desk` only the Desk, `-- atlas` only the Atlas, `-- store` only the store, `-- team` only many people on one server, `-- faults` what is left of their edits when things go wrong (never by themselves: they take minutes and need PostgreSQL); any other word, the families whose name has it. */
ensurePackages()
const only = process.argv[2]
const bench = async (name, external = []) => {
  const outfile = join(root, 'dist', 'bench', `${name}.mjs`)
  await bundle({ entryPoints: [join(root, `bench/${name}.ts`)], outfile, external })
  return run(process.execPath, [outfile, ...process.argv.slice(2)])
}
let status = ['desk', 'atlas', 'store', 'team', 'faults'].includes(only) ? 0 : await bench('survey')
if (only === 'team' || only === 'faults') {
  await ensureBuild()
  status ||= await bench(only)
}
if (only === 'store' || only === undefined) {
  await ensureServer()
  status ||= await bench('store')
}
for (const name of ['desk', 'atlas'])
  if (only === name || (only === undefined && existsSync('/usr/bin/chromium-headless-shell')))
    status ||= await bench(name, ['@playwright/test'])
process.exit(status)
