import { join } from 'node:path'
import { openStore } from '../open'
import { Runner } from './runner'
import { jobSettings } from './settings'

/** A process that does heavy work for the servers on one database, until SIGTERM or Ctrl+C. */
export async function work(root: string): Promise<void> {
  const server = process.env.PAPER_COMPASS_DATABASE_URL?.trim()
  if (!server)
    throw new Error(
      'set PAPER_COMPASS_DATABASE_URL to the database of the servers that it works for; with the database in a data folder the server itself does this',
    )
  const settings = jobSettings(process.env)
  if (!settings.ok) throw new Error(settings.error)
  const store = await openStore(
    { data: '', server, migrations: join(root, 'src/store/migrations'), samples: join(root, 'samples'), works: true },
    new Date(),
  )
  const runner = await Runner.start(store, {
    ...settings.value,
    heavy: join(root, 'dist/server/heavy.mjs'),
    trouble: (what) => console.error(what),
  })
  console.log('A worker is ready.')
  let isStopping = false
  const stop = async () => {
    if (isStopping) return
    isStopping = true
    setTimeout(() => process.exit(0), 4_500).unref()
    await runner.stop().catch(() => undefined)
    await store.close().catch(() => undefined)
    process.exit(0)
  }
  process.on('SIGTERM', () => void stop())
  process.on('SIGINT', () => void stop())
}
