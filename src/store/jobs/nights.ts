import type { Night, NightStory } from '../../core/contract/jobs'
import type { Sql } from '../database'
import { shownTo } from '../keys'
import { iso } from '../moment'
import type { NightSurvey } from './work'

interface Row {
  readonly story: string
  readonly title: string
  readonly revision: number
  readonly result: string
  readonly before: string | null
}

/** What stands in a share of a night: a survey with the revision that it is of, or why there is none. */
type Kept = { readonly revision: number; readonly survey: NightSurvey } | { readonly failure: string }

export function keptNight(revision: number, came: string): string {
  return `{"revision":${revision},"survey":${came}}`
}

/** The latest night, as far as it is, of the stories that a member may read, or of all; what differs from the night before first. */
export async function latestNight(sql: Sql, member?: string): Promise<Night | undefined> {
  const [night] = await sql.query<
    Pick<Night, 'id' | 'state' | 'madeAt' | 'endedAt' | 'done' | 'total'> & Record<string, unknown>
  >(
    `select j.id, j.state, ${iso('j.made_at')} as "madeAt", ${iso('j.ended_at')} as "endedAt",
       (select count(*)::int from job_share s where s.job_id = j.id and s.state in ('done', 'failed')) as done,
       (select count(*)::int from job_share s where s.job_id = j.id) as total
     from job j where j.kind = 'night' order by j.made_at desc limit 1`,
  )
  if (night === undefined) return undefined
  const rows = await sql.query<Row & Record<string, unknown>>(
    `select s.story_id as story, st.title, st.revision, s.result,
       (select b.result from job_share b join job n on n.id = b.job_id
        where b.story_id = s.story_id and n.kind = 'night' and n.made_at < j.made_at and b.result like '{"revision"%'
        order by n.made_at desc limit 1) as before
     from job_share s join job j on j.id = s.job_id join story st on st.id = s.story_id
       left join story_role own on own.story_id = st.id and own.member_id = $2
     where s.job_id = $1 and s.result is not null and st.deleted_at is null
       and ${shownTo('$2', 'st', 'own')}
     order by st.changed_at desc`,
    [night.id, member ?? null],
  )
  const stories = rows.map(told)
  const weight = ({ came, went, stranded, failure }: NightStory) =>
    failure !== null || came.length > 0 || stranded.some(({ findings }) => findings > 0) ? 2 : went.length > 0 ? 1 : 0
  return { ...night, stories: stories.sort((a, b) => weight(b) - weight(a)) }
}

function told({ story, title, revision, result, before }: Row): NightStory {
  const kept = JSON.parse(result) as Kept
  const none = { reached: 0, of: 0 }
  const nothing = {
    complete: false,
    endings: none,
    stages: none,
    errors: 0,
    warnings: 0,
    stranded: [],
    came: [],
    went: [],
  }
  if ('failure' in kept) return { story, title, revision, ...nothing, before: null, failure: kept.failure }
  const { complete, facts, findings, stranded } = kept.survey
  const earlier = before === null ? undefined : (JSON.parse(before) as Extract<Kept, { survey: NightSurvey }>)
  const without = (some: NightSurvey['findings'], others: NightSurvey['findings']) => {
    const names = new Set(others.map(({ name }) => name))
    return some.filter(({ name }) => !names.has(name)).map(({ level, message }) => ({ level, message }))
  }
  return {
    story,
    title,
    revision: kept.revision,
    complete,
    endings: facts.endings,
    stages: facts.stages,
    errors: facts.errors,
    warnings: facts.warnings,
    stranded,
    before: earlier?.revision ?? null,
    came: earlier === undefined ? [] : without(findings, earlier.survey.findings),
    went: earlier === undefined ? [] : without(earlier.survey.findings, findings),
    failure: null,
  }
}
