import type { Job, JobAsk, Jobs as Listed, Night } from '../../core/contract/jobs'
import { SHARE_PLAYS } from '../../core/simulate/simulation'
import { fail, ok, type Result } from '../../core/base/result'
import type { Sql } from '../database'
import { iso } from '../moment'
import { latestNight } from './nights'
import { releasedVersions } from '../versions'
import type { KeptAsk } from './claim'
import { Shares } from './shares'

/** Playthroughs of one share of a job, whole shares of the simulation. */
const PLAYS_AT_ONCE = 5 * SHARE_PLAYS
/** Of one story so many jobs are under way at most. */
const UNDER_WAY_MAX = 5
/** Jobs of a story that are kept, and nights. */
const KEPT = 20
const NIGHTS_KEPT = 14
/** Whoever works was heard of within so many seconds. */
const SEEN_S = 30

/** Heavy work: what is asked for, how far it is, and what it came to. One operation is one transaction. */
export class Jobs extends Shares {
  private isHere = false

  /** Asks for something of a story as it is now; or why it can't be done: it is not there, has no released version, has much under way already. */
  async begin(
    story: string,
    ask: JobAsk,
    member?: string,
  ): Promise<Result<string, 'unknown' | 'not released' | 'too much'>> {
    await this.queue.start()
    const begun = await this.database.transaction(async (sql) => {
      const [found] = await sql.query<{ revision: number }>(
        'select revision from story where id = $1 and deleted_at is null and ready for update',
        [story],
      )
      if (found === undefined) return fail('unknown' as const)
      const under = await sql.query("select 1 from job where story_id = $1 and state in ('waiting', 'running')", [
        story,
      ])
      if (under.length >= UNDER_WAY_MAX) return fail('too much' as const)
      const kept: KeptAsk = ask.kind === 'carry' ? { ...ask, versions: await releasedVersions(sql, story) } : ask
      const totals = sharesOf(kept)
      if (totals.length === 0) return fail('not released' as const)
      const [row] = await sql.query<{ id: string }>(
        'insert into job (kind, story_id, revision, ask, member_id) values ($1, $2, $3, $4, $5) returning id',
        [ask.kind, story, found.revision, JSON.stringify(kept), member ?? null],
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
      return ok(row!.id)
    })
    if (begun.ok) {
      this.queue.wake()
      this.news(story, 'jobs', '')
    }
    return begun
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
    const jobs = rows.map((row) => ({ ...row, ask: askedFor(JSON.parse(row.ask) as KeptAsk) }))
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
}

/** How much each share of what is asked for has to do: playthroughs, versions; a survey does not know. */
function sharesOf(ask: KeptAsk): number[] {
  switch (ask.kind) {
    case 'survey':
      return [0]
    case 'simulate':
      return Array.from({ length: Math.ceil(ask.plays / PLAYS_AT_ONCE) }, (_, at) =>
        Math.min(PLAYS_AT_ONCE, ask.plays - at * PLAYS_AT_ONCE),
      )
    case 'carry':
      return ask.versions.map(() => 1)
  }
}

function askedFor(kept: KeptAsk): JobAsk {
  return kept.kind === 'carry' ? { kind: 'carry' } : kept
}

/** The first playthrough of a share. */
export function firstPlayOf(share: number): number {
  return share * PLAYS_AT_ONCE
}
