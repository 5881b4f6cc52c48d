import { mkdir, readFile, rm, writeFile } from 'node:fs/promises'
import { join } from 'node:path'
import lockfile from 'proper-lockfile'
import { fail, ok, type Result } from '../core/base/result'

/** After this long without a sign of life a lock counts as left behind, in milliseconds. */
const STALE_MS = 30_000

/**
 * Locks a data folder for this process: two processes on one folder destroy each other's writes.
 * A lock whose process has died is taken over at once.
 */
export async function lockFolder(folder: string): Promise<Result<() => Promise<void>>> {
  await mkdir(folder, { recursive: true })
  const owner = join(folder, 'owner.pid')
  const lock = () =>
    lockfile.lock(folder, {
      stale: STALE_MS,
      lockfilePath: join(folder, 'lock'),
      onCompromised: (error) => console.error(error.message),
    })
  let release: () => Promise<void>
  try {
    release = await lock()
  } catch (error) {
    if ((error as { code?: string }).code !== 'ELOCKED') throw error
    const pid = Number(await readFile(owner, 'utf8').catch(() => ''))
    if (!Number.isInteger(pid) || pid <= 0 || isAlive(pid)) {
      return fail(
        `the data folder ${folder} is in use by another process${pid > 0 ? ` (${pid})` : ''}; stop that one, or set PAPER_COMPASS_DATA to another folder`,
      )
    }
    await rm(join(folder, 'lock'), { recursive: true, force: true })
    release = await lock()
  }
  await writeFile(owner, String(process.pid))
  return ok(async () => {
    await rm(owner, { force: true })
    await release()
  })
}

function isAlive(pid: number): boolean {
  if (pid === process.pid) return true
  try {
    process.kill(pid, 0)
    return true
  } catch (error) {
    return (error as { code?: string }).code === 'EPERM'
  }
}
