import { createServer } from 'node:http'
import { resolve } from 'node:path'
import { setTimeout as sleep } from 'node:timers/promises'
import next from 'next'
import { root } from './ensure.mjs'
import { observe } from './observe.mjs'
import { allowedHosts, isHere, listed, refusal, setClient, setHeaders } from './guard.mjs'

/** What the built application leaves here, and hears from here; see src/app/server/store.ts. */
const CLOSE = Symbol.for('paper-compass.close')
const LOST = Symbol.for('paper-compass.lost')
const STORE = Symbol.for('paper-compass.store')
/** Who may read a story; see src/app/server/access.ts. */
const ACCESS = Symbol.for('paper-compass.access')

/** What one client, or many, can take of the server; docs/operating.md tells of them. */
const LIMITS = {
  connections: Number(process.env.PAPER_COMPASS_CONNECTIONS) || 512,
  /** For a request's head, its whole, and to be idle between two, in milliseconds. */
  headMs: 10_000,
  requestMs: 120_000,
  idleMs: 65_000,
  /** How long a client may read nothing of what it is sent, in milliseconds. */
  unreadMs: 20_000,
  /** Until everything has ended after it was told to, in milliseconds. */
  stopMs: 4_500,
}

const EVERYWHERE = ['0.0.0.0', '::']

/** Serves the application until Ctrl+C or SIGTERM. */
export async function serve({ dev }) {
  const host = process.env.HOST || '127.0.0.1'
  const port = Number(process.env.PORT || 3000)
  if (!Number.isInteger(port) || port < 1 || port > 65535) {
    console.error(`PORT is "${process.env.PORT}"; expected a number from 1 to 65535.`)
    process.exit(1)
  }
  const isShared = (process.env.PAPER_COMPASS_DATABASE_URL ?? '').trim() !== ''
  const hasAccounts = isShared && (process.env.PAPER_COMPASS_ACCOUNTS ?? '').trim() !== 'off'
  if (!isHere(host) && !hasAccounts) {
    console.error(
      `HOST is ${host}, so that other machines can come in, and there are no accounts: whoever does could change everything. ` +
        (isShared
          ? 'Take PAPER_COMPASS_ACCOUNTS=off away.'
          : 'Set PAPER_COMPASS_DATABASE_URL to a database of a PostgreSQL server, which keeps accounts; see docs/operating.md.'),
    )
    process.exit(1)
  }
  if (EVERYWHERE.includes(host) && !(process.env.PAPER_COMPASS_HOSTS ?? '').trim() && !process.env.PAPER_COMPASS_URL) {
    console.error(
      `HOST is ${host}, so that other machines can come in; say under which address with PAPER_COMPASS_URL, for example PAPER_COMPASS_URL=https://desk.example.`,
    )
    process.exit(1)
  }
  let observed
  try {
    observed = observe()
  } catch (error) {
    console.error(error.message)
    process.exit(1)
  }
  const hosts = allowedHosts(host, port)
  const proxies = new Set(listed(process.env.PAPER_COMPASS_PROXIES))
  let handle = (_request, response) => {
    response.statusCode = 503
    response.end('Starting …')
  }
  const server = createServer((request, response) => {
    setClient(request, proxies)
    observed.note(request, response)
    const refused = refusal(request, hosts, { dev })
    if (refused !== undefined) {
      response.writeHead(refused.status, { 'Content-Type': 'text/plain; charset=utf-8', Connection: 'close' })
      response.end(`${refused.why}\n`)
      return
    }
    setHeaders(request, response, { dev })
    handle(request, response)
  })
  server.maxConnections = LIMITS.connections
  server.headersTimeout = LIMITS.headMs
  server.requestTimeout = LIMITS.requestMs
  server.keepAliveTimeout = LIMITS.idleMs
  cutUnread(server)
  if (!dev) {
    const { attachLive } = await import('../dist/server/live.mjs')
    attachLive(server, {
      store: () => globalThis[STORE],
      data: resolve(process.env.PAPER_COMPASS_DATA || 'data'),
      secret: isShared ? async () => (await globalThis[STORE]).ask('secret', 'live') : undefined,
      mayRead: (headers, story) => globalThis[ACCESS](headers, story),
      hosts,
      clientOf: (request) => setClient(request, proxies),
      remote: process.env.PAPER_COMPASS_LIVE === 'anywhere',
    })
  }
  server.on('connect', (_request, socket) => socket.destroy())
  server.on('error', (error) => {
    const why = error.code === 'EADDRINUSE' ? `port ${port} is taken; set PORT to another one` : error.message
    console.error(`Paper Compass can not listen on ${host}: ${why}.`)
    process.exit(1)
  })

  let stopping = false
  const stop = async (code) => {
    if (stopping) return
    stopping = true
    server.close()
    server.closeAllConnections()
    // whatever does not end by itself ends with the process
    setTimeout(() => process.exit(code), LIMITS.stopMs)
    await globalThis[CLOSE]?.().catch((error) => console.error(`The store did not close: ${error.message}`))
    process.exit(code)
  }
  process.on('SIGINT', () => stop(0))
  process.on('SIGTERM', () => stop(0))
  globalThis[LOST] = (why) => {
    console.error(`Paper Compass stops: ${why}.`)
    void stop(1)
  }

  await new Promise((listening) => server.listen(port, host, listening))
  observed.listen()
  const app = next({ dev, dir: root, hostname: host, port })
  await app.prepare()
  handle = app.getRequestHandler()
  const shown = EVERYWHERE.includes(host) ? '127.0.0.1' : host.includes(':') ? `[${host}]` : host
  const address = `http://${shown}:${port}`
  await firstPage(address)
  console.log(`Paper Compass is ready: ${address}`)
}

/** Cuts connections whose other end takes nothing of what waits for it. */
function cutUnread(server) {
  const sockets = new Map()
  server.on('connection', (socket) => {
    sockets.set(socket, 0)
    socket.on('close', () => sockets.delete(socket))
  })
  setInterval(() => {
    for (const [socket, written] of sockets) {
      // what was handed to the system, without what still waits here
      const now = socket.bytesWritten - socket.writableLength
      if (socket.writableLength > 0 && now === written) socket.destroy()
      else sockets.set(socket, now)
    }
  }, LIMITS.unreadMs).unref()
}

/** Waits until the first page can be opened. */
async function firstPage(address) {
  for (;;) {
    const answer = await fetch(address).catch(() => undefined)
    if (answer?.ok) return
    if (answer !== undefined && answer.status >= 500 && answer.status !== 503)
      throw new Error(`the first page answers with ${answer.status}`)
    await sleep(100)
  }
}
