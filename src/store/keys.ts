import { createHash, randomBytes, randomUUID } from 'node:crypto'
import { greater, type Invitation, type Invited, type Member, type Role, type Token } from '../core/contract/access'
import { enter, type Doer } from './audit'
import type { Database, Sql } from './database'
import { keepable } from './journal'
import { iso } from './moment'

/** How long a link can be used, in days. */
const JOIN_DAYS = 7
const PASSWORD_DAYS = 1
/** Uses of a token are noted no closer than this, in minutes. */
const NOTED_MINUTES = 5

export const MEMBER = `m.id, m.name, m.email, m.is_owner as "isOwner", ${iso('m.created_at')} as since`

/**
 * Whether a story is shown to a member, or to whoever works alone: SQL, of the parameter with the member's id, the story's
 * table and that of the member's role in it.
 */
export const shownTo = (member: string, story: string, role: string) =>
  `(${member}::text is null or ${story}.everyone is not null or ${role}.role is not null
    or (select is_owner from member where id = ${member}))`

/** With what a message to other processes begins that is of a member, not of a story. */
export const ACCESS = 'access'
/** And one that is news of a story for its windows: its id, the event and what there is to it. */
export const NEWS = 'news'

export interface Asked {
  readonly kind: 'join' | 'password'
  readonly note?: string | undefined
  /** Whose new password it is for. */
  readonly member?: string | undefined
  readonly story?: string | undefined
  readonly role?: Role | undefined
  readonly asOwner?: boolean | undefined
}

export interface AskedToken {
  readonly name: string
  readonly mayWrite: boolean
  readonly story?: string | undefined
  readonly days: number
}

/** Whoever a token speaks for, and how far. */
export interface Bearer {
  readonly member: Member
  readonly mayWrite: boolean
  readonly story: string | null
}

/** What somebody opens a link for. */
export interface Opened extends Invited {
  readonly id: string
  readonly member: string | null
  readonly storyId: string | null
  readonly asOwner: boolean
}

/** Links by which people come in, and tokens by which programs do. */
export class Keys {
  constructor(protected readonly database: Database) {}

  /** Hears that what a member may do has changed, or `*` where that may be so of all: set by whoever hands it on. */
  told: (member: string) => void = () => undefined

  /** A new link's key. */
  async invite(doer: Doer & { readonly id: string }, asked: Asked): Promise<string> {
    const key = randomBytes(24).toString('base64url')
    await this.database.transaction(async (sql) => {
      await sql.query(
        `insert into invitation (digest, kind, note, made_by, ends_at, member_id, story_id, role, as_owner)
         values ($1, $2, $3, $4, now() + $5::int * interval '1 day', $6, $7, $8, $9)`,
        [
          digestOf(key),
          asked.kind,
          keepable(asked.note ?? ''),
          doer.id,
          asked.kind === 'join' ? JOIN_DAYS : PASSWORD_DAYS,
          asked.member ?? null,
          asked.story ?? null,
          asked.role ?? null,
          asked.asOwner ?? false,
        ],
      )
      const [whose] = await sql.query<{ name: string }>('select name from member where id = $1', [asked.member ?? null])
      const deed = asked.kind === 'join' ? 'made an invitation for' : 'made a link for a new password for'
      await enter(sql, doer, deed, whose?.name ?? asked.note, asked.story)
    })
    return key
  }

  /** Links that can still be used: all, or those into one story. */
  async invitations(story?: string): Promise<Invitation[]> {
    const rows = await this.database.query<
      Omit<Invitation, 'story'> & { storyId: string | null; title: string | null; role: Role | null }
    >(
      `select i.id, i.kind, i.note, b.name as by, f.name as of, ${iso('i.made_at')} as "madeAt", ${iso('i.ends_at')} as "endsAt",
         i.as_owner as "asOwner", s.id as "storyId", s.title, i.role
       from invitation i join member b on b.id = i.made_by left join member f on f.id = i.member_id
       left join story s on s.id = i.story_id
       where i.used_at is null and i.ends_at > now() and ($1::uuid is null or i.story_id = $1::uuid)
       order by i.made_at desc, i.id`,
      [story ?? null],
    )
    return rows.map(({ storyId, title, role, ...rest }) => ({
      ...rest,
      story: storyId === null ? null : { id: storyId, title: title!, role: role! },
    }))
  }

  /** Takes a link back: one of a story where one is named. */
  async withdraw(doer: Doer, id: string, story?: string): Promise<boolean> {
    return this.database.transaction(async (sql) => {
      const gone = await sql.query<{ note: string }>(
        `delete from invitation where id = $1 and used_at is null and ($2::uuid is null or story_id = $2::uuid) returning note`,
        [id, story ?? null],
      )
      if (gone.length > 0) await enter(sql, doer, 'took a link back', gone[0]!.note, story)
      return gone.length > 0
    })
  }

  /** What a link is for; undefined where it is unknown, was used or is over. */
  async open(key: string): Promise<Opened | undefined> {
    const [row] = await this.database.query<Opened & Record<string, unknown>>(
      `select i.id, i.kind, b.name as by, s.title as story, i.story_id as "storyId", i.role, f.email, i.member_id as member,
         i.as_owner as "asOwner"
       from invitation i join member b on b.id = i.made_by left join member f on f.id = i.member_id
       left join story s on s.id = i.story_id
       where i.digest = $1 and i.used_at is null and i.ends_at > now()`,
      [digestOf(key)],
    )
    return row
  }

  /** Uses a link up for a member: gives what it promised. False where somebody was first. */
  async use(id: string, doer: Doer & { readonly id: string }): Promise<boolean> {
    const used = await this.database.transaction(async (sql) => {
      const [row] = await sql.query<{ kind: string; story: string | null; role: Role | null; asOwner: boolean }>(
        `update invitation set used_at = now(), member_id = $2 where id = $1 and used_at is null and ends_at > now()
         returning kind, story_id as story, role, as_owner as "asOwner"`,
        [id, doer.id],
      )
      if (row === undefined) return false
      if (row.asOwner) await sql.query('update member set is_owner = true where id = $1', [doer.id])
      if (row.story !== null) {
        const [had] = await sql.query<{ role: Role }>(
          'select role from story_role where story_id = $1 and member_id = $2',
          [row.story, doer.id],
        )
        await giveRole(sql, row.story, doer.id, greater(had?.role, row.role!)!)
      }
      const into = row.story === null ? '' : `“${await titleOf(sql, row.story)}” as ${row.role}`
      await enter(
        sql,
        doer,
        row.kind === 'join' ? 'used an invitation' : 'set a new password by a link',
        into,
        row.story ?? undefined,
      )
      await this.say(sql, doer.id)
      return true
    })
    if (used) this.told(doer.id)
    return used
  }

  protected async say(sql: Sql, member: string): Promise<void> {
    await this.database.others?.say(sql, `${ACCESS} ${member}`)
  }

  /** A new token, which is shown once. */
  async makeToken(doer: Doer & { readonly id: string }, asked: AskedToken): Promise<string> {
    const key = `pc_${randomBytes(32).toString('base64url')}`
    await this.database.transaction(async (sql) => {
      await sql.query(
        `insert into member_token (id, member_id, digest, name, may_write, story_id, ends_at)
         values ($1, $2, $3, $4, $5, $6, now() + $7::int * interval '1 day')`,
        [randomUUID(), doer.id, digestOf(key), keepable(asked.name), asked.mayWrite, asked.story ?? null, asked.days],
      )
      await enter(sql, doer, 'made a token', asked.name, asked.story)
    })
    return key
  }

  async tokens(member: string): Promise<Token[]> {
    const rows = await this.database.query<Omit<Token, 'story'> & { storyId: string | null; title: string | null }>(
      `select t.id, t.name, t.may_write as "mayWrite", ${iso('t.made_at')} as "madeAt", ${iso('t.ends_at')} as "endsAt",
         ${iso('t.used_at')} as "usedAt", s.id as "storyId", s.title
       from member_token t left join story s on s.id = t.story_id where t.member_id = $1 order by t.made_at desc, t.id`,
      [member],
    )
    return rows.map(({ storyId, title, ...rest }) => ({
      ...rest,
      story: storyId === null ? null : { id: storyId, title: title! },
    }))
  }

  async endToken(doer: Doer & { readonly id: string }, id: string): Promise<boolean> {
    const ended = await this.database.transaction(async (sql) => {
      const gone = await sql.query<{ name: string }>(
        'delete from member_token where id = $1 and member_id = $2 returning name',
        [id, doer.id],
      )
      if (gone.length === 0) return false
      await enter(sql, doer, 'ended a token', gone[0]!.name)
      await this.say(sql, doer.id)
      return true
    })
    if (ended) this.told(doer.id)
    return ended
  }

  /** For whom a token speaks; undefined where it is unknown or has ended. */
  async bearer(key: string): Promise<Bearer | undefined> {
    const [row] = await this.database.query<Member & { mayWrite: boolean; story: string | null; isStale: boolean }>(
      `select ${MEMBER}, t.may_write as "mayWrite", t.story_id as story,
         coalesce(t.used_at < now() - interval '${NOTED_MINUTES} minutes', true) as "isStale"
       from member_token t join member m on m.id = t.member_id
       where t.digest = $1 and t.ends_at > now() and m.left_at is null`,
      [digestOf(key)],
    )
    if (row === undefined) return undefined
    if (row.isStale)
      await this.database.query('update member_token set used_at = now() where digest = $1', [digestOf(key)])
    const { id, name, email, isOwner, since, mayWrite, story } = row
    return { member: { id, name, email, isOwner, since }, mayWrite, story }
  }
}

/** Makes a member who has made a story, or is given it, what they are in it. */
export async function giveRole(sql: Sql, story: string, member: string, role: Role): Promise<void> {
  await sql.query(
    `insert into story_role (story_id, member_id, role) values ($1, $2, $3)
     on conflict (story_id, member_id) do update set role = $3`,
    [story, member, role],
  )
}

export async function titleOf(sql: Sql, story: string): Promise<string> {
  const [row] = await sql.query<{ title: string }>('select title from story where id = $1', [story])
  return row?.title ?? ''
}

function digestOf(key: string): string {
  return createHash('sha256').update(key).digest('hex')
}
