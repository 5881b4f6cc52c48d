import { createServer } from 'node:http'
import pino from 'pino'
import { collectDefaultMetrics, Counter, Gauge, Histogram, Registry } from 'prom-client'

/** What the application leaves here for others to read, and hears from here; see src/app/server/log.ts, store.ts, and the route of events. */
const LOG = Symbol.for('paper-compass.log')
const STREAMS = Symbol.for('paper-compass.streams')
const HEALTH = Symbol.for('paper-compass.health')

const LEVELS = ['error', 'warn', 'info', 'debug', 'silent']
/** Seconds that an answer takes, in steps. */
const STEPS = [0.005, 0.01, 0.025, 0.05, 0.1, 0.25, 0.5, 1, 2.5, 5, 10, 30]
const UUID = /[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}/g

/** A path without what is one story's or one person's: what stands for an id is only its kind, and queries and files go. */
export function routeOf(url = '') {
  const path = url.split('?')[0]
  if (path.startsWith('/_next/')) return '/_next'
  const known =
    path === '/' || /^\/(api|auth|story|health|live|sign-in|begin|join|account|members|nights)(\/|$)/.test(path)
  return known
    ? path
        .replaceAll(UUID, ':id')
        .replace(/\/at\/\d+$/, '/at/:revision')
        .slice(0, 80)
    : 'other'
}

/** Where metrics are served, as `host:port` or a port of this machine; undefined where they are not. */
export function metricsAt(setting = '') {
  const text = setting.trim()
  if (text === '' || text === 'off') return undefined
  const [, host = '127.0.0.1', port] = /^(?:(.+):)?(\d{1,5})$/.exec(text) ?? []
  if (port === undefined || Number(port) < 1 || Number(port) > 65535)
    throw new Error(`PAPER_COMPASS_METRICS is "${setting}"; expected a port, or an address such as 10.0.0.5:9464`)
  return { host: host.replace(/^\[|\]$/g, ''), port: Number(port) }
}

/** Logs as lines of JSON, where a level is set: what was asked for and what came of it, never what stands in a story. */
function logger(level) {
  if (level === undefined) return undefined
  if (!LEVELS.includes(level)) throw new Error(`PAPER_COMPASS_LOG is "${level}"; expected one of ${LEVELS.join(', ')}`)
  return pino(
    { level, base: { pid: process.pid }, timestamp: pino.stdTimeFunctions.isoTime },
    pino.destination({ sync: false }),
  )
}

/** Counts and writes down what the server does. Throws with the reason where a setting is wrong. */
export function observe(env = process.env) {
  const log = logger(env.PAPER_COMPASS_LOG?.trim() || undefined)
  const at = metricsAt(env.PAPER_COMPASS_METRICS)
  globalThis[LOG] = log
  const registry = new Registry()
  registry.setContentType(Registry.OPENMETRICS_CONTENT_TYPE)
  const labels = ['method', 'route', 'status']
  const registers = [registry]
  const answers = new Histogram({
    name: 'paper_compass_answer_seconds',
    help: 'How long answers took, by method, route and status.',
    labelNames: labels,
    buckets: STEPS,
    registers,
  })
  const edits = new Counter({ name: 'paper_compass_edits', help: 'Edits that were saved.', registers })
  new Gauge({
    name: 'paper_compass_windows',
    help: 'Windows that listen to a story.',
    registers,
    collect() {
      this.set(globalThis[STREAMS]?.() ?? 0)
    },
  })
  new Gauge({
    name: 'paper_compass_database_up',
    help: 'Whether the database answers.',
    registers,
    async collect() {
      this.set((await globalThis[HEALTH]?.().catch(() => false)) ? 1 : 0)
    },
  })
  if (at !== undefined) collectDefaultMetrics({ register: registry, prefix: 'paper_compass_' })
  return {
    /** Notes a request, and its answer once it is over. */
    note(request, response) {
      const begun = performance.now()
      const { method = 'GET' } = request
      const route = routeOf(request.url)
      response.on('close', () => {
        const seconds = (performance.now() - begun) / 1000
        const status = response.writableFinished || response.headersSent ? response.statusCode : 499
        // a stream is open for as long as its window is
        if (!route.endsWith('/events')) answers.observe({ method, route, status }, seconds)
        if (method === 'POST' && status === 200 && /\/(changes|undo|redo|return)$/.test(route)) edits.inc()
        log?.[status >= 500 ? 'error' : 'info'](
          { method, route, status, ms: Math.round(seconds * 1000), from: request.headers['x-client-address'] },
          'answered',
        )
      })
    },
    /** Serves the metrics at an address of their own, so that who reads them needs no account, and others none of them. */
    listen() {
      if (at === undefined) return undefined
      const server = createServer((request, response) => {
        if (request.method !== 'GET' || request.url?.split('?')[0] !== '/metrics') {
          response.writeHead(404).end()
          return
        }
        registry.metrics().then(
          (text) => {
            response.writeHead(200, { 'Content-Type': registry.contentType })
            response.end(text)
          },
          () => response.writeHead(500).end(),
        )
      })
      server.on('error', (error) => console.error(`Metrics can not be served: ${error.message}.`))
      server.listen(at.port, at.host)
      server.unref()
      return server
    },
  }
}
