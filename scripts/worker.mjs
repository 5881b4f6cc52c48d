import { ensureServer } from './build-server.mjs'
import { ensurePackages, root } from './ensure.mjs'

/** `npm run worker`: does the heavy work of a studio, on as many machines as one likes. */
try {
  ensurePackages()
  await ensureServer()
  const { work } = await import('../dist/server/worker.mjs')
  await work(root)
} catch (error) {
  console.error(`The worker could not start: ${error.message}`)
  process.exit(1)
}
