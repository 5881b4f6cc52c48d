import { writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { ensurePage } from './build-page.mjs'
import { ensureServer } from './build-server.mjs'
import { ensurePackages, isStampOf, root, run, stampOf } from './ensure.mjs'

process.env.NEXT_TELEMETRY_DISABLED = '1'
process.env.NODE_ENV = 'production'

/** Builds the application when its sources have changed since the last build. */
export async function ensureBuild() {
  await ensureServer()
  await ensurePage()
  const stamp = join(root, '.next', 'stamp')
  const sources = ['src', 'next.config.mjs', 'package-lock.json', 'tsconfig.json']
  if (isStampOf(stamp, sources)) return
  const now = stampOf(sources)
  console.log('Building …')
  if (run(process.execPath, [join(root, 'node_modules/next/dist/bin/next'), 'build']) !== 0)
    throw new Error('the build failed; see above')
  writeFileSync(stamp, now)
}

if (process.argv[1] === import.meta.filename) {
  try {
    ensurePackages()
    await ensureBuild()
    const { serve } = await import('./serve.mjs')
    await serve({ dev: false })
  } catch (error) {
    console.error(`Paper Compass could not start: ${error.message}`)
    process.exit(1)
  }
}
