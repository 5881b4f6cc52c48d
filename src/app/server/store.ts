import { join, resolve } from 'node:path'
import { jobSettings } from '../../store/jobs/settings'
import { StoreClient } from '../../store/worker/client'

/** The server that hosts this application closes what stands here before it stops, and stops when it is told to. */
const CLOSE = Symbol.for('paper-compass.close')
const LOST = Symbol.for('paper-compass.lost')
const OPEN = Symbol.for('paper-compass.store')
const HEALTH = Symbol.for('paper-compass.health')

interface Shared {
  [OPEN]?: Promise<StoreClient> | undefined
  [CLOSE]?: () => Promise<void>
  [LOST]?: (why: string) => void
  /** Whether the database answers. */
  [HEALTH]?: () => Promise<boolean>
}

/** The store of this process; opened once, whichever bundle asks first. */
export function store(): Promise<StoreClient> {
  const shared = globalThis as Shared
  shared[OPEN] ??= open().catch((error: unknown) => {
    // a failure must not be remembered as the store
    shared[OPEN] = undefined
    throw error
  })
  return shared[OPEN]
}

async function open(): Promise<StoreClient> {
  const at = (path: string) => join(/* turbopackIgnore: true */ process.cwd(), path)
  const jobs = jobSettings(process.env)
  if (!jobs.ok) throw new Error(jobs.error)
  const client = await StoreClient.open({
    data: resolve(/* turbopackIgnore: true */ process.env.PAPER_COMPASS_DATA || 'data'),
    server: process.env.PAPER_COMPASS_DATABASE_URL?.trim() || undefined,
    migrations: at('src/store/migrations'),
    samples: at('samples'),
    thread: at('dist/server/thread.mjs'),
    reader: at('dist/server/reader.mjs'),
    work: { ...jobs.value, heavy: at('dist/server/heavy.mjs') },
    ...reserve(),
  })
  const shared = globalThis as Shared
  shared[CLOSE] = () => client.close()
  shared[HEALTH] = () => client.ask('ping').then(() => true)
  void client.lost.then((why) => shared[LOST]?.(why))
  return client
}

/** What is kept free on the disk, set in megabytes. */
function reserve(): { reserve?: number } {
  const set = Number(process.env.PAPER_COMPASS_RESERVE_MB || NaN)
  return Number.isFinite(set) && set >= 0 ? { reserve: set * 1024 * 1024 } : {}
}
