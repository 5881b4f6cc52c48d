import { createHmac, randomBytes, randomUUID } from 'node:crypto'
import { greater, type Deed, type Member, type Role, type StoryMembers } from '../core/contract/access'
import { isUuid } from '../core/base/ids'
import { enter, readDeeds, type Doer } from './audit'
import type { Sql } from './database'
import { giveRole, Keys, MEMBER, titleOf } from './keys'

/** Names the lock under which the owners of the server and of a story are counted. */
const OWNERS_LOCK = 7_241_002

/** Who works here, and what each may do with which story. What is done to either is entered in the audit. */
export class Members extends Keys {
  /** Something that all processes have in common and nobody else knows, as bytes in base64; made the first time. */
  async secret(name: string): Promise<string> {
    await this.database.query('insert into setting (name, value) values ($1, $2) on conflict do nothing', [
      name,
      randomBytes(32).toString('base64'),
    ])
    const [row] = await this.database.query<{ value: string }>('select value from setting where name = $1', [name])
    return row!.value
  }

  /** The key by which the first owner comes in; undefined once there is one. */
  async firstKey(): Promise<string | undefined> {
    const [found] = await this.database.query('select 1 from member where is_owner limit 1')
    return found === undefined ? keyedBy(await this.secret('sign-in'), 'first owner') : undefined
  }

  async find(id: string): Promise<Member | undefined> {
    return (await this.membersWhere('m.id = $1 and m.left_at is null', [id]))[0]
  }

  members(): Promise<Member[]> {
    return this.membersWhere('m.left_at is null', [])
  }

  private membersWhere(which: string, parameters: readonly unknown[]): Promise<Member[]> {
    return this.database.query<Member & Record<string, unknown>>(
      `select ${MEMBER} from member m where ${which} order by lower(m.name), m.id`,
      parameters,
    )
  }

  /** What a member is in a story: by a role of their own, by what everybody has, or as one who looks after all. */
  async roleOf(member: string, story: string): Promise<Role | undefined> {
    if (!isUuid(story)) return undefined
    const [row] = await this.database.query<{ own: Role | null; everyone: Role | null; isOwner: boolean }>(
      `select r.role as own, s.everyone, m.is_owner as "isOwner" from story s join member m on m.id = $1 and m.left_at is null
       left join story_role r on r.story_id = s.id and r.member_id = m.id where s.id = $2`,
      [member, story],
    )
    if (row === undefined) return undefined
    return row.isOwner ? 'owner' : greater(row.own ?? undefined, row.everyone ?? undefined)
  }

  async storyMembers(story: string): Promise<StoryMembers> {
    const members = await this.database.query<StoryMembers['members'][number] & Record<string, unknown>>(
      `select m.id, m.name, m.email, r.role from story_role r join member m on m.id = r.member_id
       where r.story_id = $1 and m.left_at is null order by lower(m.name), m.id`,
      [story],
    )
    const [row] = await this.database.query<{ everyone: StoryMembers['everyone'] }>(
      'select everyone from story where id = $1',
      [story],
    )
    return { members, everyone: row?.everyone ?? null }
  }

  /** Gives a member a role in a story, or takes it. Refused where nobody would own the story then; gives why. */
  async setRole(doer: Doer, story: string, member: string, role: Role | null): Promise<string | undefined> {
    return this.changing(member, async (sql, name) => {
      const [had] = await sql.query<{ role: Role }>(
        'select role from story_role where story_id = $1 and member_id = $2',
        [story, member],
      )
      if (role === null)
        await sql.query('delete from story_role where story_id = $1 and member_id = $2', [story, member])
      else await giveRole(sql, story, member, role)
      const [owner] = await sql.query(`select 1 from story_role where story_id = $1 and role = 'owner' limit 1`, [
        story,
      ])
      if (owner === undefined && had?.role === 'owner')
        throw new Refused('A story needs an owner: make somebody else its owner first.')
      const deed = role === null ? 'took a role from' : `gave the role of ${role} to`
      await enter(sql, doer, deed, `${name}, in “${await titleOf(sql, story)}”`, story)
    })
  }

  /** What everybody here may do with a story from now on. */
  async setEveryone(doer: Doer, story: string, role: StoryMembers['everyone']): Promise<void> {
    await this.database.transaction(async (sql) => {
      await sql.query('update story set everyone = $2 where id = $1', [story, role])
      await enter(
        sql,
        doer,
        role === null ? 'closed to all but its members' : `gave everybody the role of ${role} in`,
        `“${await titleOf(sql, story)}”`,
        story,
      )
      await this.say(sql, '*')
    })
    this.told('*')
  }

  /** Makes a new member the server's owner, if they are the first. */
  async beFirst(doer: Doer & { readonly id: string }): Promise<boolean> {
    return this.database.transaction(async (sql) => {
      await countingOwners(sql)
      const [other] = await sql.query('select 1 from member where is_owner limit 1')
      if (other !== undefined) return false
      await sql.query('update member set is_owner = true where id = $1', [doer.id])
      await enter(sql, doer, 'became the owner of this server')
      return true
    })
  }

  /** Makes a member one who looks after the server, or no longer; gives why that is refused. */
  setOwner(doer: Doer, member: string, isOwner: boolean): Promise<string | undefined> {
    return this.changing(member, async (sql, name) => {
      await sql.query('update member set is_owner = $2 where id = $1', [member, isOwner])
      await needsOwner(sql)
      await enter(sql, doer, isOwner ? 'gave the server to' : 'took the server from', name)
    })
  }

  /** Lets a member go: nothing of theirs opens anything any more; their name stays where they did something. */
  leave(doer: Doer, member: string): Promise<string | undefined> {
    return this.changing(member, async (sql, name) => {
      for (const table of ['member_session', 'member_token', 'story_role'])
        await sql.query(`delete from ${table} where member_id = $1`, [member])
      // an account with a provider stays theirs, so that it makes no new member
      await sql.query('delete from member_account where member_id = $1 and password is not null', [member])
      await sql.query('delete from invitation where used_at is null and (member_id = $1 or made_by = $1)', [member])
      await sql.query(
        `update member set left_at = now(), is_owner = false, email = id || '@left.invalid', email_verified = false where id = $1`,
        [member],
      )
      await needsOwner(sql)
      await enter(sql, doer, 'let go of', name)
    })
  }

  /** Changes what a member may do, while nobody else changes who owns what; gives why that is refused. */
  private async changing(member: string, work: (sql: Sql, name: string) => Promise<void>): Promise<string | undefined> {
    const trouble = await this.database
      .transaction(async (sql) => {
        await countingOwners(sql)
        const [who] = await sql.query<{ name: string }>('select name from member where id = $1 and left_at is null', [
          member,
        ])
        if (who === undefined) throw new Refused('There is no such member.')
        await work(sql, who.name)
        await this.say(sql, member)
        return undefined
      })
      .catch(asTrouble)
    if (trouble === undefined) this.told(member)
    return trouble
  }

  /** Tells everywhere that a member's sessions have changed. */
  async sayChanged(member: string): Promise<void> {
    await this.database.transaction((sql) => this.say(sql, member))
    this.told(member)
  }

  /** Counts a try of something within so many seconds; false where it was tried too often. */
  async mayTry(what: string, seconds: number, most: number): Promise<boolean> {
    const [row] = await this.database.query<{ count: number }>(
      `insert into attempt (id, key, count, last_request) values ($1, $2, 1, extract(epoch from now()) * 1000)
       on conflict (key) do update set
         count = case when attempt.last_request < extract(epoch from now()) * 1000 - $3::int * 1000 then 1 else attempt.count + 1 end,
         last_request = case when attempt.last_request < extract(epoch from now()) * 1000 - $3::int * 1000
           then extract(epoch from now()) * 1000 else attempt.last_request end
       returning count`,
      [randomUUID(), what, seconds],
    )
    return row!.count <= most
  }

  enter(doer: Doer, deed: string, about?: string): Promise<void> {
    return enter(this.database, doer, deed, about)
  }

  deeds(before?: string, story?: string): Promise<Deed[]> {
    return readDeeds(this.database, before, story)
  }
}

class Refused extends Error {}

async function needsOwner(sql: Sql): Promise<void> {
  const [owner] = await sql.query('select 1 from member where is_owner and left_at is null limit 1')
  if (owner === undefined) throw new Refused('The server needs an owner: make somebody else one first.')
}

function asTrouble(error: unknown): string {
  if (error instanceof Refused) return error.message
  throw error
}

/** Until the transaction is over nobody else changes who owns what. */
async function countingOwners(sql: Sql): Promise<void> {
  await sql.query('select pg_advisory_xact_lock($1)', [OWNERS_LOCK])
}

/** A key for something that follows from a secret. */
function keyedBy(secret: string, what: string): string {
  return createHmac('sha256', Buffer.from(secret, 'base64')).update(what).digest('base64url').slice(0, 32)
}
