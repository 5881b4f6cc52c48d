import { createServer } from 'node:http'
import { setTimeout as sleep } from 'node:timers/promises'
import next from 'next'
import { root } from './ensure.mjs'
import { allowedHosts, refusal, setHeaders } from './guard.mjs'

/** Where the built application leaves what has to be closed; set in src/app/server/store.ts. */
const CLOSE = Symbol.for('paper-compass.close')

/** Serves the application until Ctrl+C or SIGTERM. */
export async function serve({ dev }) {
  const host = process.env.HOST || '127.0.0.1'
  const port = Number(process.env.PORT || 3000)
  if (!Number.isInteger(port) || port < 1 || port > 65535) {
    console.error(`PORT is "${process.env.PORT}"; expected a number from 1 to 65535.`)
    process.exit(1)
  }
  const hosts = allowedHosts(host, port)
  let handle = (_request, response) => {
    response.statusCode = 503
    response.end('Starting …')
  }
  const server = createServer((request, response) => {
    const refused = refusal(request, hosts)
    if (refused !== undefined) {
      response.writeHead(403, { 'Content-Type': 'text/plain; charset=utf-8' }).end(`${refused}\n`)
      return
    }
    setHeaders(request, response, { dev })
    handle(request, response)
  })
  server.on('error', (error) => {
    const why = error.code === 'EADDRINUSE' ? `port ${port} is taken; set PORT to another one` : error.message
    console.error(`Paper Compass can not listen on ${host}: ${why}.`)
    process.exit(1)
  })

  let stopping = false
  const stop = async () => {
    if (stopping) return
    stopping = true
    server.close()
    server.closeAllConnections()
    await globalThis[CLOSE]?.()
    process.exit(0)
  }
  process.on('SIGINT', stop)
  process.on('SIGTERM', stop)

  await new Promise((listening) => server.listen(port, host, listening))
  const app = next({ dev, dir: root, hostname: host, port })
  await app.prepare()
  handle = app.getRequestHandler()
  const shown = host.includes(':') ? `[${host}]` : host === '0.0.0.0' ? '127.0.0.1' : host
  const address = `http://${shown}:${port}`
  await firstPage(address)
  console.log(`Paper Compass is ready: ${address}`)
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
