import { ensurePackages } from './ensure.mjs'

process.env.NEXT_TELEMETRY_DISABLED = '1'
ensurePackages()
const { serve } = await import('./serve.mjs')
await serve({ dev: true })
