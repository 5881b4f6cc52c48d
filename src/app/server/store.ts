import { join, resolve } from 'node:path'
import { openStore, type Store } from '../../store/open'

/** The server that hosts this application closes what stands here before it stops. */
const CLOSE = Symbol.for('paper-compass.close')
const OPEN = Symbol.for('paper-compass.store')

interface Shared {
  [OPEN]?: Promise<Store> | undefined
  [CLOSE]?: () => Promise<void>
}

/** The store of this process; opened once, whichever bundle asks first. */
export function store(): Promise<Store> {
  const shared = globalThis as Shared
  shared[OPEN] ??= open().catch((error: unknown) => {
    // a failure must not be remembered as the store
    shared[OPEN] = undefined
    throw error
  })
  return shared[OPEN]
}

async function open(): Promise<Store> {
  const opened = await openStore({
    data: resolve(/* turbopackIgnore: true */ process.env.PAPER_COMPASS_DATA || 'data'),
    migrations: join(/* turbopackIgnore: true */ process.cwd(), 'src/store/migrations'),
    samples: join(/* turbopackIgnore: true */ process.cwd(), 'samples'),
  })
  if (!opened.ok) throw new Error(opened.error)
  const shared = globalThis as Shared
  shared[CLOSE] = () => opened.value.close()
  return opened.value
}
