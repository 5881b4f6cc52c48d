import type { Comment, NewThread, Since, Thread, ThreadChange } from '../core/contract/comments'
import { followTalk } from '../core/story/topic'
import type { Story } from '../core/story/types'
import type { Doer } from './audit'
import type { Database, Sql } from './database'
import { keepable } from './journal'
import { NEWS } from './keys'
import { iso } from './moment'

type Who = Doer & { readonly id: string }

/** Comments of a story's members, and what each has seen of it. */
export class Threads {
  constructor(private readonly database: Database) {}

  /** Hears that something of a story is new for its windows: set by whoever hands it on. */
  news: (story: string, event: string, data: string) => void = () => undefined

  async list(story: string): Promise<Thread[]> {
    const threads = await this.database.query<
      Omit<Thread, 'comments' | 'givenTo' | 'done'> & {
        givenId: string | null
        givenName: string | null
        doneBy: string | null
        doneAt: string | null
      }
    >(
      `select t.id, t.topic, t.quote, t.lost_topic is not null as "isLost", g.id as "givenId", g.name as "givenName",
         d.name as "doneBy", ${iso('t.done_at')} as "doneAt"
       from thread t left join member g on g.id = t.given_to left join member d on d.id = t.done_by
       where t.story_id = $1 order by t.made_at, t.id`,
      [story],
    )
    const comments = await this.database.query<Omit<Comment, 'by'> & { thread: string; byId: string; byName: string }>(
      `select c.id, c.thread_id as thread, m.id as "byId", m.name as "byName", ${iso('c.made_at')} as at, c.text, c.mentions
       from comment c join thread t on t.id = c.thread_id join member m on m.id = c.member_id
       where t.story_id = $1 order by c.made_at, c.id`,
      [story],
    )
    const of = new Map<string, Comment[]>()
    for (const { thread, byId, byName, ...rest } of comments)
      of.set(thread, [...(of.get(thread) ?? []), { ...rest, by: { id: byId, name: byName } }])
    return threads.map(({ givenId, givenName, doneBy, doneAt, ...rest }) => ({
      ...rest,
      givenTo: givenId === null ? null : { id: givenId, name: givenName! },
      done: doneBy === null ? null : { by: doneBy, at: doneAt! },
      comments: of.get(rest.id) ?? [],
    }))
  }

  async begin(story: string, who: Who, { topic, quote, text, givenTo }: NewThread): Promise<string> {
    const id = await this.database.transaction(async (sql) => {
      const [row] = await sql.query<{ id: string }>(
        'insert into thread (story_id, topic, quote, given_to) values ($1, $2, $3, $4) returning id',
        [story, topic, keepable(quote), givenTo],
      )
      await addComment(sql, row!.id, who, text)
      await this.say(sql, story)
      return row!.id
    })
    this.news(story, 'comments', '')
    return id
  }

  /** Answers, gives, or ends a thread, or takes it up again; false where there is none. */
  async change(story: string, thread: string, who: Who, { text, givenTo, isDone }: ThreadChange): Promise<boolean> {
    const isThere = await this.database.transaction(async (sql) => {
      const [row] = await sql.query('select 1 from thread where id = $1 and story_id = $2 for update', [thread, story])
      if (row === undefined) return false
      if (text !== undefined) await addComment(sql, thread, who, text)
      if (givenTo !== undefined) await sql.query('update thread set given_to = $2 where id = $1', [thread, givenTo])
      if (isDone !== undefined)
        await sql.query(
          'update thread set done_at = case when $2 then now() end, done_by = case when $2 then $3 end where id = $1',
          [thread, isDone, who.id],
        )
      await this.say(sql, story)
      return true
    })
    if (isThere) this.news(story, 'comments', '')
    return isThere
  }

  /** Takes a thread away: whoever began it may, and who owns the story. False where there is none that may go. */
  async remove(story: string, thread: string, who: Who, ownsStory: boolean): Promise<boolean> {
    const isGone = await this.database.transaction(async (sql) => {
      const gone = await sql.query(
        `delete from thread where id = $1 and story_id = $2 and ($3 or $4 =
           (select member_id from comment where thread_id = $1 order by made_at, id limit 1)) returning id`,
        [thread, story, ownsStory, who.id],
      )
      if (gone.length > 0) await this.say(sql, story)
      return gone.length > 0
    })
    if (isGone) this.news(story, 'comments', '')
    return isGone
  }

  /** Tells the windows of a story, in all processes, who is where in it. */
  async tellHere(story: string, data: string): Promise<void> {
    await this.database.others?.say(this.database, `${NEWS} ${story} here ${data}`)
    this.news(story, 'here', data)
  }

  /** Notes which revision a member has seen. */
  async visited(story: string, member: string, revision: number): Promise<void> {
    await this.database.query(
      `insert into visit (story_id, member_id, revision) values ($1, $2, $3)
       on conflict (story_id, member_id) do update set revision = greatest(visit.revision, $3), at = now()`,
      [story, member, revision],
    )
  }

  /** What others did to a story since a member was last at it; undefined where they never were. */
  async since(story: string, member: string): Promise<Since | undefined> {
    const [row] = await this.database.query<Since & Record<string, unknown>>(
      `select v.revision, ${iso('v.at')} as at,
         (select count(*)::int from journal j
          where j.story_id = $1 and j.revision > v.revision and j.member_id is distinct from $2) as steps,
         array(select distinct coalesce(m.name, 'somebody') from journal j left join member m on m.id = j.member_id
          where j.story_id = $1 and j.revision > v.revision and j.member_id is distinct from $2 order by 1) as by,
         (select count(*)::int from comment c join thread t on t.id = c.thread_id
          where t.story_id = $1 and c.made_at > v.at and c.member_id <> $2) as comments,
         (select count(*)::int from comment c join thread t on t.id = c.thread_id
          where t.story_id = $1 and c.made_at > v.at and c.member_id <> $2
            and ($2 = any (c.mentions) or t.given_to = $2)) as "forMe"
       from visit v where v.story_id = $1 and v.member_id = $2`,
      [story, member],
    )
    return row
  }

  private async say(sql: Sql, story: string): Promise<void> {
    await this.database.others?.say(sql, `${NEWS} ${story} comments `)
  }
}

/** Whose names stand in a text behind an @, the longest name first. */
async function addComment(sql: Sql, thread: string, who: Who, text: string): Promise<void> {
  const members = text.includes('@')
    ? await sql.query<{ id: string; name: string }>('select id, name from member where left_at is null')
    : []
  const lower = text.toLowerCase()
  const mentions = members.filter(({ name }) => lower.includes(`@${name.toLowerCase()}`)).map(({ id }) => id)
  await sql.query('insert into comment (thread_id, member_id, text, mentions) values ($1, $2, $3, $4)', [
    thread,
    who.id,
    keepable(text),
    mentions,
  ])
}

/** Makes what is talked about follow a change of the story, within its transaction; says whether any did. */
export async function followThreads(sql: Sql, story: string, before: Story, after: Story): Promise<boolean> {
  const rows = await sql.query<{ id: string; topic: string; lostTopic: string | null; lostText: string | null }>(
    'select id, topic, lost_topic as "lostTopic", lost_text as "lostText" from thread where story_id = $1',
    [story],
  )
  let any = false
  for (const { id, topic, lostTopic, lostText } of rows) {
    const lost = lostTopic === null ? undefined : { topic: lostTopic, text: lostText! }
    const now = followTalk(before, after, { topic, lost })
    if (now.topic === topic && now.lost?.topic === lost?.topic) continue
    any = true
    await sql.query('update thread set topic = $2, lost_topic = $3, lost_text = $4 where id = $1', [
      id,
      now.topic,
      now.lost?.topic ?? null,
      now.lost?.text ?? null,
    ])
  }
  return any
}
