import { execFileSync, spawn, type ChildProcess } from 'node:child_process'
import { chownSync, mkdtempSync, readdirSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import pg from 'pg'
import { freePort } from './free-port'

const VERSIONS = '/usr/lib/postgresql'

/** A PostgreSQL server of a test's own, its files in a folder that goes with it. */
export class PostgresServer {
  private process: ChildProcess | undefined

  private constructor(
    private readonly folder: string,
    private readonly port: number,
  ) {}

  static async start(): Promise<PostgresServer> {
    const folder = mkdtempSync(join(tmpdir(), 'paper-compass-postgres-'))
    const { uid, gid } = user()
    if (uid !== undefined) chownSync(folder, uid, gid!)
    const server = new PostgresServer(folder, await freePort())
    server.program('initdb', [
      '--pgdata',
      join(folder, 'data'),
      '--username',
      'compass',
      '--auth',
      'trust',
      '--encoding',
      'UTF8',
      '--locale',
      'C.UTF-8',
      '--no-sync',
    ])
    await server.begin()
    return server
  }

  /** The address of an empty database. */
  async database(name: string, how = ''): Promise<string> {
    await this.ask(`create database ${name} ${how}`)
    return this.at(name)
  }

  /** The address of a database on it. */
  at(name: string): string {
    return `postgres://compass@127.0.0.1:${this.port}/${name}`
  }

  /** Ends all connections to its databases, as a fault of the network would. */
  async cut(): Promise<void> {
    await this.ask("select pg_terminate_backend(pid) from pg_stat_activity where application_name = 'paper-compass'")
  }

  async ask(statement: string): Promise<void> {
    const client = new pg.Client(this.at('postgres'))
    await client.connect()
    try {
      await client.query(statement)
    } finally {
      await client.end()
    }
  }

  /** Starts it, on the files that are there; gives when it answers. */
  async begin(): Promise<void> {
    const { folder, port } = this
    const started = spawn(
      join(bin(), 'postgres'),
      ['-D', join(folder, 'data'), '-p', String(port), '-c', 'listen_addresses=127.0.0.1', '-k', folder],
      { stdio: 'ignore', ...user() },
    )
    this.process = started
    for (;;) {
      if (started.exitCode !== null) throw new Error(`the server ended with ${started.exitCode}`)
      try {
        return await this.ask('select 1')
      } catch {
        await new Promise((resolve) => setTimeout(resolve, 50))
      }
    }
  }

  /** Ends it: at once without a word, as a crash would, or as it is told to. */
  async end(signal: 'SIGKILL' | 'SIGINT' = 'SIGINT'): Promise<void> {
    const { process } = this
    if (process === undefined || process.exitCode !== null || process.signalCode !== null) return
    const gone = new Promise((resolve) => process.once('exit', resolve))
    process.kill(signal)
    await gone
  }

  async remove(): Promise<void> {
    await this.end()
    rmSync(this.folder, { recursive: true, force: true })
  }

  private program(name: string, args: readonly string[]): void {
    execFileSync(join(bin(), name), args, { stdio: 'pipe', cwd: this.folder, ...user() })
  }
}

/** The programs of the latest version that is installed. */
function bin(): string {
  const versions = readdirSync(VERSIONS).sort((a, b) => Number(a) - Number(b))
  return join(VERSIONS, versions.at(-1)!, 'bin')
}

/** PostgreSQL does not run as root: where the tests do, it runs as the user that its package makes. */
function user(): { uid?: number; gid?: number } {
  if (process.getuid?.() !== 0) return {}
  const of = (flag: string) => Number(execFileSync('id', [flag, 'postgres'], { encoding: 'utf8' }))
  return { uid: of('-u'), gid: of('-g') }
}
