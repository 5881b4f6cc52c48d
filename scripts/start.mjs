import { join } from 'node:path'
import { ensurePage } from './build-page.mjs'
import { ensureServer } from './build-server.mjs'
import { ensurePackages, root, run, unlessStamped } from './ensure.mjs'

process.env.NEXT_TELEMETRY_DISABLED = '1'
process.env.NODE_ENV = 'production'

/** Builds the application when its sources have changed since the last build. */
export async function ensureBuild() {
  await ensureServer()
  await ensurePage()
  const sources = ['src', 'next.config.mjs', 'package-lock.json', 'tsconfig.json']
  await unlessStamped(join(root, '.next', 'stamp'), sources, () => {
    console.log('Building …')
    if (run(process.execPath, [join(root, 'node_modules/next/dist/bin/next'), 'build']) !== 0)
      throw new Error('the build failed; see above')
  })
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
