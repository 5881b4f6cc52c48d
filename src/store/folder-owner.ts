import { createHash, randomBytes } from 'node:crypto'
import { mkdir, readdir, readFile, realpath, rm, stat, symlink, writeFile } from 'node:fs/promises'
import { connect, createServer, type Server } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { setTimeout as sleep } from 'node:timers/promises'
import { fail, ok, type Result } from '../core/base/result'

/** This process's ownership of a data folder. */
export interface Ownership {
  release(): Promise<void>
  /** Says why, should the ownership be lost while the process lives. */
  readonly lost: Promise<string>
}

/** Longest path of a socket that every system takes, in bytes. */
const SOCKET_PATH_MAX = 100
/** How often one looks again when somebody else is looking too. */
const TRIES = 12
/** How often an owner looks whether its socket is still there, in milliseconds. */
const WATCH_MS = 1_000

/**
 * Makes this process the owner of a data folder: two processes on one folder destroy each other's writes.
 *
 * Whoever wants a folder first listens on a socket of its own in it, then looks whether anyone answers on another: of two
 * at the same time at least one sees the other, and steps back. The operating system closes a socket when its process
 * ends, however it ends, and answers for a process that is busy; so the ownership of a live process can't go stale, and
 * that of a dead one is free at once. Names of sockets are never used twice, so a dead one can be taken away.
 */
export async function ownFolder(folder: string, pid = process.pid): Promise<Result<Ownership>> {
  await mkdir(folder, { recursive: true })
  if (process.platform === 'win32') return ownPipe(folder, pid)
  let places = join(folder, 'owners')
  for (let tries = 0; ; tries += 1) {
    await mkdir(places, { recursive: true })
    const name = `${pid}-${randomBytes(6).toString('hex')}.sock`
    let server: Server
    try {
      server = await listen(places, name)
    } catch (error) {
      const { code } = error as { code?: string }
      const fallback = join(tmpdir(), `paper-compass-${digestOf(await realpath(folder))}`)
      if (places === fallback || !['EPERM', 'ENOTSUP', 'EOPNOTSUPP', 'EINVAL', 'ENOSYS'].includes(code ?? ''))
        return fail(`the data folder ${folder} can not be written: ${(error as Error).message}`)
      // a disk that holds no sockets: the owner is known on this machine only
      places = fallback
      continue
    }
    const others = await liveOthers(places, name)
    const leader = join(places, 'owner')
    if (others.length === 0) {
      await writeFile(leader, name)
      return ok(ownership(server, join(places, name)))
    }
    await closeAway(server, join(places, name))
    const owner = (await readFile(leader, 'utf8').catch(() => '')).trim()
    const found = others.find((other) => other === owner) ?? (tries >= TRIES ? others[0] : undefined)
    if (found !== undefined) return fail(inUse(folder, found.split('-')[0]))
    await sleep(20 + Math.random() * 100)
  }
}

function inUse(folder: string, pid: string | undefined): string {
  return `the data folder ${folder} is in use by another process${pid ? ` (${pid})` : ''}; stop that one, or set PAPER_COMPASS_DATA to another folder`
}

function digestOf(path: string): string {
  return createHash('sha256').update(path).digest('hex').slice(0, 16)
}

/** Listens on a socket in a folder, whose path may be longer than a socket's may. */
async function listen(folder: string, name: string): Promise<Server> {
  return withShortPath(folder, (short) => listenAt(join(short, name)))
}

function listenAt(path: string): Promise<Server> {
  return new Promise((resolve, reject) => {
    const server = createServer((socket) => socket.destroy())
    server.once('error', reject)
    server.listen(path, () => {
      server.unref()
      server.on('error', () => undefined)
      resolve(server)
    })
  })
}

async function withShortPath<T>(folder: string, work: (short: string) => Promise<T>): Promise<T> {
  if (Buffer.byteLength(folder) + 40 <= SOCKET_PATH_MAX) return work(folder)
  const link = join(tmpdir(), `pc-${randomBytes(6).toString('hex')}`)
  await symlink(await realpath(folder), link)
  try {
    return await work(link)
  } finally {
    await rm(link, { force: true })
  }
}

/** Names of the other sockets in a folder on which a process listens; the others are taken away. */
async function liveOthers(folder: string, own: string): Promise<string[]> {
  const live: string[] = []
  await withShortPath(folder, async (short) => {
    for (const name of await readdir(folder)) {
      if (!name.endsWith('.sock') || name === own) continue
      if (await isListening(join(short, name))) live.push(name)
      else await rm(join(folder, name), { force: true })
    }
  })
  return live
}

/** Anything but a clear no counts as a yes: a busy process may not take the connection at once. */
function isListening(path: string): Promise<boolean> {
  return new Promise((resolve) => {
    const socket = connect(path)
    const settle = (listening: boolean) => {
      socket.destroy()
      resolve(listening)
    }
    socket.setTimeout(2_000, () => settle(true))
    socket.once('connect', () => settle(true))
    socket.once('error', ({ code }: NodeJS.ErrnoException) => settle(code !== 'ECONNREFUSED' && code !== 'ENOENT'))
  })
}

function ownership(server: Server, path: string): Ownership {
  let watch: NodeJS.Timeout | undefined
  const lost = new Promise<string>((resolve) => {
    let first: number | undefined
    watch = setInterval(() => {
      stat(path).then(
        ({ ino }) => {
          first ??= ino
          if (ino !== first) resolve('another process has taken the data folder')
        },
        (error: NodeJS.ErrnoException) => {
          if (error.code === 'ENOENT') resolve('the data folder was taken away or given to another process')
        },
      )
    }, WATCH_MS)
    watch.unref()
  })
  return {
    lost,
    release: async () => {
      clearInterval(watch)
      await closeAway(server, path)
    },
  }
}

async function closeAway(server: Server, path: string): Promise<void> {
  await new Promise((closed) => server.close(closed))
  await rm(path, { force: true })
}

/** Where sockets are named pipes, only one process can listen on a name. */
async function ownPipe(folder: string, pid: number): Promise<Result<Ownership>> {
  const pipe = `\\\\.\\pipe\\paper-compass-${digestOf((await realpath(folder)).toLowerCase())}`
  try {
    const server = await listenAt(pipe)
    await writeFile(join(folder, 'owner'), String(pid))
    return ok({
      lost: new Promise(() => undefined),
      release: async () => void (await new Promise((closed) => server.close(closed))),
    })
  } catch {
    return fail(inUse(folder, await readFile(join(folder, 'owner'), 'utf8').catch(() => undefined)))
  }
}
