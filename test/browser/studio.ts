import { expect } from '@playwright/test'
import { mkdtemp, rm } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { PostgresServer } from '../postgres'
import { App, freePort } from './app'

/** By which somebody asks over HTTP: a cookie, a token, or nothing. */
export type Headers = Readonly<Record<string, string>>

/** The application of a studio, with accounts, on a PostgreSQL server of its own. */
export class Studio {
  private constructor(
    readonly app: App,
    private readonly server: PostgresServer,
    private readonly folder: string,
  ) {}

  static async open(settings: Readonly<Record<string, string>> = {}, port?: number): Promise<Studio> {
    const server = await PostgresServer.start()
    const folder = await mkdtemp(join(tmpdir(), 'paper-compass-studio-'))
    const url = await server.database('studio')
    const app = new App(folder, port ?? (await freePort()), { PAPER_COMPASS_DATABASE_URL: url, ...settings })
    if (!(await app.start()).ready) throw new Error(app.output)
    return new Studio(app, server, folder)
  }

  async close(): Promise<void> {
    await this.app.stop()
    await this.server.remove()
    await rm(this.folder, { recursive: true, force: true })
  }

  /** The link by which the first owner comes in, as the server printed it. */
  get firstLink(): string {
    return /http:\S+\/begin\?key=\S+/.exec(this.app.output)![0]
  }

  get firstKey(): string {
    return new URL(this.firstLink).searchParams.get('key')!
  }

  ask(method: string, path: string, body?: unknown, headers: Headers = {}): Promise<Response> {
    return fetch(this.app.address + path, {
      method,
      redirect: 'manual',
      headers: { ...(body === undefined ? {} : { 'Content-Type': 'application/json' }), ...headers },
      ...(body === undefined ? {} : { body: JSON.stringify(body) }),
    })
  }

  /** Asks for something that is done, and gives what is answered. */
  async done<T>(method: string, path: string, body?: unknown, headers: Headers = {}): Promise<T> {
    const answer = await this.ask(method, path, body, headers)
    expect([path, answer.status]).toEqual([path, 200])
    return (await answer.json()) as T
  }

  /** Comes in by a link, or as the first; gives by what one asks from then on. */
  async come(path: '/api/begin' | '/api/join', key: string, name: string): Promise<Headers> {
    const made = { key, name, email: `${name.toLowerCase()}@studio.example`, password: passwordOf(name) }
    const answer = await this.ask('POST', path, made)
    expect([name, answer.status]).toEqual([name, 200])
    return cookieOf(answer)
  }
}

export function passwordOf(name: string): string {
  return `the long words of ${name}`
}

export function cookieOf(answer: Response): Headers {
  return {
    Cookie: answer.headers
      .getSetCookie()
      .map((cookie) => cookie.split(';')[0])
      .join('; '),
  }
}
