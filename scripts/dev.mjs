import { ensurePage } from './build-page.mjs'
import { ensureServer } from './build-server.mjs'
import { ensurePackages } from './ensure.mjs'

process.env.NEXT_TELEMETRY_DISABLED = '1'
ensurePackages()
await ensureServer()
await ensurePage()
const { serve } = await import('./serve.mjs')
await serve({ dev: true })
