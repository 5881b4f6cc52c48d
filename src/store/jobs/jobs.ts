import type { Job, JobAsk, Jobs as Listed, Night } from '../../core/contract/jobs'
import { SHARE_PLAYS } from '../../core/simulate/simulation'
import type { Database, Sql } from '../database'
import { NEWS } from '../keys'
import { iso } from '../moment'
import { folded } from './fold'
import { keptNight, latestNight } from './nights'
import type { Queue } from './queue'

/** Playthroughs of one share of a job, whole shares of the simulation. */
const PLAYS_AT_ONCE = 5 * SHARE_PLAYS
/** Jobs of a story that are kept, and nights. */
const KEPT = 20
const NIGHTS_KEPT = 14
/** A share that nobody came to the end of is not begun more often than this. */
export const ATTEMPTS_MAX = 3
/** Whoever works was heard of within so many seconds. */
export const SEEN_S = 30

/** A share that is being worked on. */
export interface Claim {
  readonly job: string
  readonly share: number
  readonly attempt: number
  readonly ask: JobAsk | { readonly kind: 'night' }
  readonly story: string
  readonly revision: number
  readonly total: number
}

/** Heavy work: what is asked for, how far it is, and what it came to. One operation is one transaction. */
export class Jobs {
  constructor(
    private readonly database: Database,
    private readonly queue: Queue,
  ) {}

  private isHere = false

  /** Hears that something of a story is new for its windows: set by whoever hands it on. */
  news: (story: string, event: string, data: string) => void = () => undefined

  /** Asks for something of a story as it is now; undefined where there is none such, or it has nothing that this could be done with. */
  async begin(story: string, ask: JobAsk, member?: string): Promise<string | undefined> {
    await this.queue.start()
    const id = await this.database.transaction(async (sql) => {
      const [found] = await sql.query<{ revision: number }>(
        'select revision from story where id = $1 and deleted_at is null and ready',
        [story],
      )
      if (found === undefined) return undefined
      const totals = await sharesOf(sql, story, ask)
      if (totals.length === 0) return undefined
      const [row] = await sql.query<{ id: string }>(
        'insert into job (kind, story_id, revision, ask, member_id) values ($1, $2, $3, $4, $5) returning id',
        [ask.kind, story, found.revision, JSON.stringify(ask), member ?? null],
      )
      await this.addShares(
        sql,
        row!.id,
        totals.map((total) => ({ total })),
        true,
      )
      await sql.query(
        `delete from job where story_id = $1 and state not in ('waiting', 'running') and id not in
           (select id from job where story_id = $1 order by made_at desc limit ${KEPT})`,
        [story],
      )
      await this.say(sql, story)
      return row!.id
    })
    if (id !== undefined) {
      this.queue.wake()
      this.news(story, 'jobs', '')
    }
    return id
  }

  /** Begins the survey of all stories; undefined where one is under way. */
  async beginNight(member?: string): Promise<string | undefined> {
    await this.queue.start()
    const id = await this.database.transaction(async (sql) => {
      // two workers' clocks may strike at once
      await sql.query('select pg_advisory_xact_lock(7241002)')
      const under = await sql.query("select 1 from job where kind = 'night' and state in ('waiting', 'running')")
      if (under.length > 0) return undefined
      const stories = await sql.query<{ id: string }>(
        'select id from story where deleted_at is null and ready order by changed_at desc',
      )
      const [row] = await sql.query<{ id: string }>(
        `insert into job (kind, ask, member_id, state, ended_at) values ('night', '{"kind":"night"}', $1, $2, $3) returning id`,
        [member ?? null, stories.length === 0 ? 'done' : 'waiting', stories.length === 0 ? new Date() : null],
      )
      await this.addShares(
        sql,
        row!.id,
        stories.map(({ id }) => ({ total: 1, story: id })),
        false,
      )
      await sql.query(
        `delete from job where kind = 'night' and id not in
           (select id from job where kind = 'night' order by made_at desc limit ${NIGHTS_KEPT})`,
      )
      return row!.id
    })
    if (id !== undefined) this.queue.wake()
    return id
  }

  private async addShares(
    sql: Sql,
    job: string,
    shares: readonly { readonly total: number; readonly story?: string }[],
    isUrgent: boolean,
  ): Promise<void> {
    for (const [share, { total, story }] of shares.entries())
      await sql.query('insert into job_share (job_id, share, total, story_id) values ($1, $2, $3, $4)', [
        job,
        share,
        total,
        story ?? null,
      ])
    await this.queue.send(
      sql,
      shares.map((_, share) => ({ job, share })),
      isUrgent,
    )
  }

  /** What was asked for of a story, the latest first. */
  async list(story: string): Promise<Listed> {
    const rows = await this.database.query<Omit<Job, 'ask'> & { ask: string }>(
      `select j.id, j.ask, j.revision, j.state, m.name as by, ${iso('j.made_at')} as "madeAt",
         ${iso('j.ended_at')} as "endedAt", j.failure,
         (select coalesce(sum(s.done), 0)::bigint from job_share s where s.job_id = j.id) as done,
         (select coalesce(sum(s.total), 0)::bigint from job_share s where s.job_id = j.id) as total
       from job j left join member m on m.id = j.member_id
       where j.story_id = $1 order by j.made_at desc limit ${KEPT}`,
      [story],
    )
    const jobs = rows.map((row) => ({
      ...row,
      ask: JSON.parse(row.ask) as JobAsk,
      done: Number(row.done),
      total: Number(row.total),
    }))
    return { jobs, workers: await this.workers() }
  }

  /** What a job came to, as JSON text; undefined where it is not done. */
  async result(story: string, job: string): Promise<string | undefined> {
    const [row] = await this.database.query<{ result: string }>(
      "select result from job where id = $1 and story_id = $2 and state = 'done'",
      [job, story],
    )
    return row?.result
  }

  /** Ends what is asked for before it is done; false where it is not under way. `story` is undefined for a night. */
  async cancel(story: string | undefined, job: string): Promise<boolean> {
    const rows = await this.database.transaction(async (sql) => {
      const ended = await sql.query(
        `update job set state = 'cancelled', ended_at = now()
         where id = $1 and story_id is not distinct from $2::uuid and state in ('waiting', 'running') returning id`,
        [job, story ?? null],
      )
      if (ended.length > 0 && story !== undefined) await this.say(sql, story)
      return ended
    })
    if (rows.length > 0 && story !== undefined) this.news(story, 'jobs', '')
    return rows.length > 0
  }

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
      return { job, share, ...row, total: Number(row.total), revision, ask: JSON.parse(row.ask) as Claim['ask'] }
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
    const count = await this.database.transaction(async (sql) => {
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
      return rows.length
    })
    if (count > 0) this.queue.wake()
    return count
  }

  /** The latest night, of the stories that a member may read, or of all. */
  night(member?: string): Promise<Night | undefined> {
    return latestNight(this.database, member)
  }

  /** Notes that somebody is there to work, and who was not heard of is not. */
  async seen(worker: string): Promise<void> {
    this.isHere = true
    // nobody else asks
    if (this.database.others === undefined) return
    await this.database.query('insert into worker (id) values ($1) on conflict (id) do update set seen_at = now()', [
      worker,
    ])
    await this.database.query("delete from worker where seen_at < now() - interval '1 hour'")
  }

  async gone(worker: string): Promise<void> {
    if (this.database.others === undefined) return
    await this.database.query('delete from worker where id = $1', [worker])
  }

  async workers(): Promise<number> {
    if (this.database.others === undefined) return this.isHere ? 1 : 0
    const [row] = await this.database.query<{ count: number }>(
      `select count(*)::int as count from worker where seen_at > now() - interval '${SEEN_S} seconds'`,
    )
    return row!.count
  }

  /** How much waits and is worked on, and by how many. */
  async load(): Promise<{ readonly waiting: number; readonly running: number; readonly workers: number }> {
    const [row] = await this.database.query<{ waiting: number; running: number }>(
      `select count(*) filter (where s.state = 'waiting')::int as waiting, count(*) filter (where s.state = 'running')::int as running
       from job_share s join job j on j.id = s.job_id where j.state in ('waiting', 'running')`,
    )
    return { ...row!, workers: await this.workers() }
  }

  private async say(sql: Sql, story: string): Promise<void> {
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

/** How much each share of what is asked for has to do: playthroughs, versions; a survey does not know. */
async function sharesOf(sql: Sql, story: string, ask: JobAsk): Promise<number[]> {
  if (ask.kind === 'survey') return [0]
  if (ask.kind === 'simulate')
    return Array.from({ length: Math.ceil(ask.plays / PLAYS_AT_ONCE) }, (_, at) =>
      Math.min(PLAYS_AT_ONCE, ask.plays - at * PLAYS_AT_ONCE),
    )
  const released = await sql.query('select 1 from version where story_id = $1 and released_at is not null', [story])
  return released.map(() => 1)
}

/** The first playthrough of a share. */
export function firstPlayOf(share: number): number {
  return share * PLAYS_AT_ONCE
}
