import type { Database, Sql } from '../database'
import { NEWS } from '../keys'
import type { Claim } from './claim'
import { folded } from './fold'
import { keptNight } from './nights'
import type { Queue } from './queue'

/** A share that nobody came to the end of is not begun more often than this. */
const ATTEMPTS_MAX = 3

/** Shares of jobs as they are worked on: claimed, with signs of life, and entered once. One operation is one transaction. */
export class Shares {
  constructor(
    protected readonly database: Database,
    protected readonly queue: Queue,
  ) {}

  /** Hears that something of a story is new for its windows: set by whoever hands it on. */
  news: (story: string, event: string, data: string) => void = () => undefined

  /** Takes a share to work on; undefined where there is nothing to do on it any more. */
  async claim(job: string, share: number): Promise<Claim | undefined> {
    return this.database.transaction(async (sql) => {
      const [row] = await sql.query<{
        attempt: number
        ask: string
        story: string
        revision: number | null
        total: number
        isFirst: boolean
      }>(
        `update job_share s set state = 'running', attempt = s.attempt + 1, beat_at = now(), done = 0
         from job j where j.id = s.job_id and s.job_id = $1 and s.share = $2 and s.state = 'waiting'
           and j.state in ('waiting', 'running')
         returning s.attempt, j.ask, coalesce(j.story_id, s.story_id) as story, j.revision, s.total, j.state = 'waiting' as "isFirst"`,
        [job, share],
      )
      if (row === undefined) return undefined
      if (row.isFirst) {
        await sql.query("update job set state = 'running' where id = $1 and state = 'waiting'", [job])
        await this.say(sql, row.story)
      }
      const revision = row.revision ?? (await revisionOf(sql, row.story))
      return { job, share, ...row, revision, ask: JSON.parse(row.ask) as Claim['ask'] }
    })
  }

  /** Says how far it is; false where it is not to be gone on with. */
  async beat({ job, share, attempt }: Claim, done: number): Promise<boolean> {
    const rows = await this.database.query(
      `update job_share s set beat_at = now(), done = $4 from job j
       where j.id = s.job_id and s.job_id = $1 and s.share = $2 and s.attempt = $3 and s.state = 'running'
         and j.state = 'running' returning 1`,
      [job, share, attempt, Math.round(done)],
    )
    return rows.length > 0
  }

  /** Enters what a share came to, once; false where somebody else has it now, or nobody wants it any more. */
  async finish(claim: Claim, came: string): Promise<boolean> {
    const { ask, revision } = claim
    return this.enter(claim, came, ask.kind === 'night' ? keptNight(revision, came) : null)
  }

  private async enter({ job, share, attempt, story, ask }: Claim, came: string, kept: string | null): Promise<boolean> {
    const isDone = await this.database.transaction(async (sql) => {
      // shares of one job are entered one after another
      const [held] = await sql.query<{ result: string | null }>(
        "select result from job where id = $1 and state = 'running' for update",
        [job],
      )
      if (held === undefined) return false
      const entered = await sql.query(
        `update job_share set state = 'done', beat_at = null, result = $4, done = greatest(done, total)
         where job_id = $1 and share = $2 and attempt = $3 and state = 'running' returning 1`,
        [job, share, attempt, kept],
      )
      if (entered.length === 0) return false
      const left = await sql.query(
        "select 1 from job_share where job_id = $1 and state not in ('done', 'failed') limit 1",
        [job],
      )
      const isLast = left.length === 0
      await sql.query(
        `update job set result = $2, state = case when $3 then 'done' else state end, ended_at = case when $3 then now() end
         where id = $1`,
        [job, folded(ask, held.result ?? undefined, came, isLast), isLast],
      )
      if (isLast) await this.say(sql, story)
      return true
    })
    if (isDone) this.news(story, 'jobs', '')
    return isDone
  }

  /** Enters that a share can't be done: of a night only the story, of everything else the whole. */
  async fail(claim: Claim, failure: string): Promise<void> {
    if (claim.ask.kind === 'night') return void (await this.enter(claim, '', JSON.stringify({ failure })))
    const { job, share, attempt, story } = claim
    await this.database.transaction(async (sql) => {
      const rows = await sql.query(
        `update job_share set state = 'failed', beat_at = null
         where job_id = $1 and share = $2 and attempt = $3 and state = 'running' returning 1`,
        [job, share, attempt],
      )
      if (rows.length > 0) await this.failJob(sql, job, story, failure)
    })
    this.news(story, 'jobs', '')
  }

  private async failJob(sql: Sql, job: string, story: string | null, failure: string): Promise<void> {
    await sql.query(
      `update job set state = 'failed', failure = $2, ended_at = now() where id = $1 and state in ('waiting', 'running')`,
      [job, failure],
    )
    if (story !== null) await this.say(sql, story)
  }

  /** Puts a share back for somebody else: whoever has it stops. */
  async giveBack({ job, share, attempt }: Claim): Promise<void> {
    await this.database.transaction(async (sql) => {
      const rows = await sql.query(
        `update job_share set state = 'waiting', attempt = attempt - 1, beat_at = null
         where job_id = $1 and share = $2 and attempt = $3 and state = 'running' returning 1`,
        [job, share, attempt],
      )
      if (rows.length > 0) await this.queue.send(sql, [{ job, share }], true)
    })
  }

  /** Puts back what those have who were not heard of for so many seconds; gives how many. */
  async sweep(lostS: number): Promise<number> {
    // whoever took the last messages may have ended before they claimed anything
    const isEmpty = await this.queue.isEmpty()
    const count = await this.database.transaction(async (sql) => {
      const unsaid = !isEmpty
        ? []
        : await sql.query<{ job: string; share: number }>(
            `select s.job_id as job, s.share from job_share s join job j on j.id = s.job_id
             where s.state = 'waiting' and j.state in ('waiting', 'running')`,
          )
      // said twice is claimed once
      await this.queue.send(sql, unsaid, true)
      const rows = await sql.query<{ job: string; share: number; attempt: number; story: string | null }>(
        `update job_share s set state = 'waiting', beat_at = null from job j
         where j.id = s.job_id and s.state = 'running' and s.beat_at < now() - make_interval(secs => $1)
           and j.state in ('waiting', 'running')
         returning s.job_id as job, s.share, s.attempt, j.story_id as story`,
        [lostS],
      )
      for (const { job, share, attempt, story } of rows) {
        if (attempt < ATTEMPTS_MAX) {
          await this.queue.send(sql, [{ job, share }], true)
          continue
        }
        const failure = `whoever worked on it ended in the middle, ${ATTEMPTS_MAX} times: it may take more memory than there is`
        await sql.query("update job_share set state = 'failed', result = $3 where job_id = $1 and share = $2", [
          job,
          share,
          story === null ? JSON.stringify({ failure }) : null,
        ])
        if (story !== null) await this.failJob(sql, job, story, failure)
        else await endNight(sql, job)
      }
      return rows.length + unsaid.length
    })
    if (count > 0) this.queue.wake()
    return count
  }

  protected async say(sql: Sql, story: string): Promise<void> {
    await this.database.others?.say(sql, `${NEWS} ${story} jobs `)
  }
}

async function revisionOf(sql: Sql, story: string): Promise<number> {
  const [row] = await sql.query<{ revision: number }>('select revision from story where id = $1', [story])
  return row!.revision
}

/** A night in which the last story failed is over all the same. */
async function endNight(sql: Sql, job: string): Promise<void> {
  await sql.query(
    `update job set state = 'done', ended_at = now() where id = $1 and state = 'running' and not exists
       (select 1 from job_share where job_id = $1 and state in ('waiting', 'running'))`,
    [job],
  )
}
