import { randomBytes } from 'node:crypto'
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs'
import type { IncomingMessage, Server } from 'node:http'
import { join } from 'node:path'
import type { Duplex } from 'node:stream'
import { WebSocketServer } from 'ws'
import { Hub, type LiveStore } from './hub'
import { LIVE_LIMITS } from './limits'

interface Around {
  /** The store, once it is open. */
  readonly store: () => Promise<LiveStore> | undefined
  /** Where the secret of the keys is kept, so that they stay the same. */
  readonly data: string
  /** The secret that all processes on one database have, as base64; none where the folder keeps it. */
  readonly secret: (() => Promise<string>) | undefined
  /** Whether a page with these headers may read a story. */
  readonly mayRead: (headers: Headers, story: string) => Promise<boolean>
  /** Under which names this server answers. */
  readonly hosts: ReadonlySet<string>
  /** From where a request comes; says in it which name was asked for, where a proxy is believed. */
  readonly clientOf: (request: IncomingMessage) => string
  /** Whether games on other machines may join. */
  readonly remote: boolean
}

const PATH = '/live'

/**
 * Takes WebSockets at /live. A page of this application says so by its origin, and reads what its member may; everybody else
 * is a game, which needs a key, and is refused from other machines unless that is set.
 */
export function attachLive(server: Server, { store, data, secret, mayRead, hosts, clientOf, remote }: Around): void {
  const sockets = new WebSocketServer({ noServer: true, maxPayload: LIVE_LIMITS.messageBytes })
  let hub: Hub | undefined
  server.on('upgrade', (request: IncomingMessage, socket: Duplex, head: Buffer) => {
    // whoever goes away in the middle of it disturbs nobody
    socket.on('error', () => socket.destroy())
    const refuse = (status: string) => socket.end(`HTTP/1.1 ${status}\r\nConnection: close\r\n\r\n`)
    const client = clientOf(request)
    if ((request.url ?? '').split('?')[0] !== PATH) return refuse('404 Not Found')
    if (!hosts.has((request.headers.host ?? '').toLowerCase())) return refuse('403 Forbidden')
    const origin = /^https?:\/\/(.+)$/.exec((request.headers.origin ?? '').toLowerCase())?.[1]
    const isWindow = origin !== undefined && hosts.has(origin)
    if (!isWindow && !remote && !isHere(client)) return refuse('403 Forbidden')
    const opened = store()
    if (opened === undefined) return refuse('503 Service Unavailable')
    const opening = opened.then(async (keeper) => {
      const known = secret === undefined ? secretIn(data) : Buffer.from(await secret(), 'base64')
      return (hub ??= new Hub(keeper, known))
    })
    void opening.then(
      (known) => {
        const headers = new Headers()
        for (const [name, value] of Object.entries(request.headers))
          for (const one of [value ?? []].flat()) headers.append(name, one)
        sockets.handleUpgrade(request, socket, head, (made) =>
          isWindow ? known.joinWindow(made, (story) => mayRead(headers, story)) : known.joinGame(made),
        )
      },
      () => refuse('503 Service Unavailable'),
    )
  })
}

function isHere(address: string): boolean {
  return /^(::1$|127\.)/.test(address)
}

function secretIn(data: string): Buffer {
  const file = join(data, 'live-secret')
  if (existsSync(file)) return Buffer.from(readFileSync(file, 'utf8'), 'base64')
  const secret = randomBytes(32)
  mkdirSync(data, { recursive: true })
  writeFileSync(file, secret.toString('base64'), { mode: 0o600 })
  return secret
}
