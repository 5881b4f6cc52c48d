import PgBoss from 'pg-boss'
import type { Database, Sql } from '../database'

/** A share of a job that somebody is to work on. */
export interface Message {
  readonly job: string
  readonly share: number
}

/** Its tables are in a schema of their own. */
const SCHEMA = 'paper_compass_queue'
const SHARES = 'shares'
const NIGHTS = 'nights'
/** A message is given up after so long, in seconds: whoever had it was noticed to be gone long before. */
const EXPIRE_S = 23 * 60 * 60
/** Between two looks at the queue, in seconds: another process does not say when something is in it. */
const LOOK_S = 1
/** And where this process alone puts something in. */
const OWN_LOOK_S = 60
/** Between two looks whether it is time for what is done at a time of day, in seconds. */
const CRON_S = 30

/** pg-boss on the store's own connections, embedded or a server's: it hands each message to one of those who work. */
export class Queue {
  private started: Promise<PgBoss> | undefined
  private readonly wakers: (() => void)[] = []

  constructor(
    private readonly database: Database,
    private readonly isForWorkers = false,
  ) {}

  /** Makes the queue where it is not there yet. */
  start(): Promise<PgBoss> {
    this.started ??= this.begin().catch((error: unknown) => {
      this.started = undefined
      throw error
    })
    return this.started
  }

  private async begin(): Promise<PgBoss> {
    const boss = new PgBoss({
      schema: SCHEMA,
      db: on(this.database),
      supervise: this.isForWorkers,
      schedule: this.isForWorkers,
      cronMonitorIntervalSeconds: CRON_S,
      cronWorkerIntervalSeconds: CRON_S,
      archiveCompletedAfterSeconds: 60 * 60,
      deleteAfterHours: 1,
    })
    // what can't be done now is tried again at the next look
    boss.on('error', () => undefined)
    await this.database.alone(async () => {
      await boss.start()
      for (const name of [SHARES, NIGHTS]) await boss.createQueue(name, { name, retryLimit: 0 })
    })
    return boss
  }

  /** Puts messages in, within a transaction. The queue has to be started before that is begun. */
  async send(sql: Sql, messages: readonly Message[], isUrgent: boolean): Promise<void> {
    const boss = await this.start()
    const priority = isUrgent ? 1 : 0
    for (const message of messages)
      await boss.send(SHARES, message, { db: on(sql), priority, expireInSeconds: EXPIRE_S, retryLimit: 0 })
  }

  /** Whether no message waits; one that somebody has taken does not. */
  async isEmpty(): Promise<boolean> {
    return (await (await this.start()).getQueueSize(SHARES)) === 0
  }

  /** Something was put in by this process: who works looks at once. */
  wake(): void {
    for (const wake of this.wakers) wake()
  }

  /** Works on what comes, one after another; at `cron` a night begins. */
  async work(doShare: (message: Message) => Promise<void>, beginNight: () => Promise<void>, cron: string | undefined) {
    const boss = await this.start()
    const options = { pollingIntervalSeconds: this.database.others === undefined ? OWN_LOOK_S : LOOK_S, batchSize: 1 }
    const id = await boss.work<Message>(SHARES, options, async ([message]) => {
      if (message !== undefined) await doShare(message.data)
      // there may be more: without it the next look is as far away as where there was nothing
      wake()
    })
    const wake = () => boss.notifyWorker(id)
    this.wakers.push(wake)
    await boss.work(NIGHTS, { ...options, pollingIntervalSeconds: CRON_S }, beginNight)
    if (cron === undefined) await boss.unschedule(NIGHTS)
    else await boss.schedule(NIGHTS, cron, {}, { tz: 'UTC' })
  }

  async stop(): Promise<void> {
    const boss = await this.started?.catch(() => undefined)
    await boss?.stop({ graceful: false, close: false, wait: false }).catch(() => undefined)
  }
}

/** What pg-boss asks, asked of the store's database. */
function on(sql: Sql): PgBoss.Db {
  return {
    async executeSql(text, values = []) {
      if (values.length > 0 || !/^\s*begin\b/i.test(text)) return { rows: await sql.query(text, values) }
      // a script, of which nothing comes back
      await sql.script(text)
      return { rows: [] }
    },
  }
}
