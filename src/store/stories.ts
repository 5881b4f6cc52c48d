import type { Card, Cards, Facts, History, Hit, KeptPlaytest, Order } from '../core/contract/answers'
import { greater, type Role } from '../core/contract/access'
import type { Since } from '../core/contract/comments'
import { isUuid } from '../core/base/ids'
import type { PlayRecord } from '../core/formats/playtest/read'
import type { Story } from '../core/story/types'
import type { KeptSurvey } from '../core/survey/kept-survey'
import { findWords } from './find-words'
import type { Held } from './held-stories'
import { keepable, keepableJson, readHistory, undoInfo, type UndoInfo } from './journal'
import { iso } from './moment'
import { inSlices } from './pause'
import { readPieces, ROWS_AT_ONCE, writePieces } from './piece-rows'
import { enter, type Doer } from './audit'
import { giveRole, NEWS, shownTo } from './keys'
import { PieceKeys, type Piece } from './pieces'
import { addPlaytest, listPlaytests, removePlaytest } from './playtests'
import { countsOf, StoryEdits } from './story-edits'
import { addVersion, listVersions, releasedVersions, releaseVersion, removeVersion } from './versions'

/** Steps of a history that are given at once. */
const STEPS = 100
/** Cards of the library that are given at once. */
const CARDS = 50
/** What is still not all there after so many hours will never be. */
const IMPORT_HOURS = 2
/** Most that one search gives. */
export const HITS_MAX = 200
const ORDERED: Readonly<Record<Order, string>> = {
  changed: 'changed_at desc',
  title: 'lower(title)',
  errors: `coalesce((facts->>'errors')::int, 0) desc`,
  todos: `coalesce((facts->>'todos')::int, 0) desc`,
  words: `coalesce((facts->>'words')::int, 0) desc`,
}
export interface Listed {
  readonly text?: string
  readonly from?: number
  readonly order?: Order
  /** Only what this member may read, where there are accounts; and only this story, where one is named. */
  readonly member?: string
  readonly story?: string
}

/** A member who makes a story, and so owns it. */
export type Maker = Doer & { readonly id: string }

/** A story's pieces, some at a time, and how many beats and scenes they make. */
export interface Incoming {
  readonly title: string
  readonly language: string
  readonly scenes: number
  readonly beats: number
  readonly pieces: AsyncIterable<readonly Piece[]> | Iterable<readonly Piece[]>
}

/**
 * All stories in the database. One operation is one transaction; operations on one story follow one another, those on
 * different stories do not wait for each other.
 */
export class Stories extends StoryEdits {
  /** Cards in an order, the latest change first by itself, from the card after `from`, of titles with `text` in them. */
  async list({ text = '', from = 0, order = 'changed', member, story }: Listed = {}): Promise<Cards> {
    const shown = `deleted_at is null and ready and ($1 = '' or strpos(lower(title), lower($1)) > 0)
      and ${shownTo('$2', 'story', 'own')}
      and ($3::uuid is null or story.id = $3)`
    const which = `from story left join story_role own on own.story_id = story.id and own.member_id = $2 where ${shown}`
    const parameters = [keepable(text), member ?? null, story ?? null]
    const [counted] = await this.database.query<{ total: number }>(`select count(*)::int as total ${which}`, parameters)
    const found = await this.database.query<
      Omit<Card, 'role'> & { own: Role | null; everyone: Role | null; looksAfter: boolean | null }
    >(
      `select story.id, title, ${iso('changed_at')} as "changedAt", sample is not null as sample, scenes, beats,
         facts, coalesce(facts_revision = revision, false) as "isSurveyed", own.role as own, everyone,
         (select is_owner from member where id = $2) as "looksAfter",
         (select count(*)::int from thread where story_id = story.id and done_at is null and (given_to = $2
            or exists (select 1 from comment where thread_id = thread.id and $2 = any (mentions)))) as "forMe"
       ${which} order by ${ORDERED[order]}, changed_at desc, story.id limit ${CARDS} offset $4`,
      [...parameters, from],
    )
    const cards = found.map(({ own, everyone, looksAfter, ...card }) => ({
      ...card,
      role: member === undefined || looksAfter ? 'owner' : greater(own ?? undefined, everyone ?? undefined)!,
    }))
    return { cards, total: counted!.total }
  }

  /** Keeps what a survey said of a story as it was after a revision; what is older than what is known is let go. */
  async keepFacts(id: string, revision: number, facts: Facts, survey?: KeptSurvey): Promise<void> {
    if (!isUuid(id)) return
    await this.database.query(
      `update story set facts = $3, facts_revision = $2
       where id = $1 and revision >= $2 and coalesce(facts_revision, -1) <= $2`,
      [id, revision, JSON.stringify(facts)],
    )
    if (survey === undefined) return
    await this.database.query(
      `insert into story_survey (story_id, revision, said) select id, $2, $3 from story where id = $1 and revision >= $2
       on conflict (story_id) do update set revision = excluded.revision, said = excluded.said
       where story_survey.revision <= excluded.revision`,
      [id, revision, JSON.stringify(survey)],
    )
  }

  /** True while nothing was ever put into the database. */
  async isEmpty(): Promise<boolean> {
    return (await this.database.query('select 1 from story limit 1')).length === 0
  }

  create(story: Story, sample?: string, maker?: Maker): Promise<string> {
    const { begun } = new PieceKeys().first(story)
    return this.createFrom(
      { ...countsOf(story), title: story.title, language: story.language, pieces: [begun] },
      sample,
      maker,
    )
  }

  /** Puts a story in as its pieces come; it is shown once all are there. Samples are there for everyone to read. */
  async createFrom(
    { title, language, scenes, beats, pieces }: Incoming,
    sample?: string,
    maker?: Maker,
  ): Promise<string> {
    const [row] = await this.database.query<{ id: string }>(
      `insert into story (title, language, scenes, beats, sample, ready, everyone)
       values ($1, $2, $3, $4, $5, false, $6) returning id`,
      [keepable(title), keepable(language), scenes, beats, sample ?? null, sample === undefined ? null : 'reader'],
    )
    const { id } = row!
    try {
      for await (const some of pieces) {
        for (let from = 0; from < some.length; from += ROWS_AT_ONCE)
          await writePieces(this.database, id, 0, some.slice(from, from + ROWS_AT_ONCE))
      }
      await this.database.transaction(async (sql) => {
        await sql.query('update story set ready = true, changed_at = now() where id = $1', [id])
        if (maker === undefined) return
        await giveRole(sql, id, maker.id, 'owner')
        await enter(sql, maker, 'began a story', `“${title}”`, id)
      })
    } catch (error) {
      await this.database.query('delete from story where id = $1', [id]).catch(() => undefined)
      throw error
    }
    this.written += 1 + Math.ceil(beats / 100)
    return id
  }

  /** Takes away what a process that died had begun to put in; others may be putting something in now. */
  async sweep(): Promise<void> {
    const hours = this.database.others === undefined ? 0 : IMPORT_HOURS
    await this.database.query(
      "delete from story where not ready and created_at <= now() - $1::int * interval '1 hour'",
      [hours],
    )
  }

  /** A copy of a story, without its history. */
  duplicate(id: string, maker?: Maker): Promise<string | undefined> {
    return this.inTurn(id, async () => {
      const held = await this.hold(id)
      if (held === undefined) return undefined
      const { language } = held.story
      const title = `${held.story.title} (copy)`
      const read = () => readPieces(this.database, id)
      async function* pieces(): AsyncGenerator<Piece[]> {
        const all = await read()
        yield all.map((piece) =>
          piece.key === 0
            ? { ...piece, body: JSON.stringify({ ...(JSON.parse(piece.body) as object), title }) }
            : piece,
        )
      }
      const incoming = { ...countsOf(held.story), title, language, pieces: pieces() }
      const copy = await this.createFrom(incoming, undefined, maker)
      // a survey of the one is a survey of the other
      await this.database.query(
        `update story set facts = of.facts, facts_revision = 0 from story of
         where story.id = $1 and of.id = $2 and of.facts_revision = of.revision`,
        [copy, id],
      )
      await this.database.query(
        `insert into story_survey (story_id, revision, said) select $1, 0, said from story_survey of
         where of.story_id = $2 and of.revision = $3`,
        [copy, id, held.revision],
      )
      return copy
    })
  }

  open(id: string): Promise<(UndoInfo & Pick<Held, 'sample' | 'story' | 'revision'> & { id: string }) | undefined> {
    return this.inTurn(id, async () => {
      const held = await this.hold(id)
      if (held === undefined) return undefined
      return { id, sample: held.sample, story: held.story, revision: held.revision, ...undoInfo(held) }
    })
  }

  /** What a page opens a story with, as JSON text. */
  async openText(id: string, role: Role = 'owner', since?: Since): Promise<string | undefined> {
    const opened = await this.open(id)
    if (opened === undefined) return undefined
    const { story, ...rest } = opened
    const released = (await listVersions(this.database, id)).filter(({ releasedAt }) => releasedAt !== null)
    const [kept] = await this.database.query<{ said: string }>(
      'select said from story_survey where story_id = $1 and revision = $2',
      [id, opened.revision],
    )
    const head = JSON.stringify({ ...rest, role, since: since ?? null, released }).slice(0, -1)
    return `${head},"survey":${kept?.said ?? 'null'},"story":${await this.textOf(story, 0)}}`
  }

  /** The story's file, and its title. */
  async exportText(id: string): Promise<{ title: string; text: string } | undefined> {
    const opened = await this.open(id)
    return opened && { title: opened.story.title, text: await this.textOf(opened.story, 2) }
  }

  /** The story after a revision, as JSON text. */
  async textAt(id: string, revision: number): Promise<string | undefined> {
    const story = await this.at(id, revision)
    return story && this.textOf(story, 0)
  }

  released(id: string): ReturnType<typeof releasedVersions> {
    return releasedVersions(this.database, id)
  }

  /** The title of a story, without all that is in it. */
  async titleOf(id: string): Promise<string | undefined> {
    if (!isUuid(id)) return undefined
    const [row] = await this.database.query<{ title: string }>(
      'select title from story where id = $1 and deleted_at is null and ready',
      [id],
    )
    return row?.title
  }

  /** The story as it was after a revision; undefined where there was none. */
  at(id: string, revision: number): Promise<Story | undefined> {
    return this.inTurn(id, async () => {
      const held = await this.hold(id)
      if (held === undefined || revision < 0 || revision > held.revision) return undefined
      return revision === held.revision ? held.story : this.storyAt(id, revision)
    })
  }

  /** The steps before a revision, and the named versions. */
  async history(id: string, before: number = Number.MAX_SAFE_INTEGER): Promise<History | undefined> {
    const revision = await this.revisionOf(id)
    if (revision === undefined) return undefined
    return {
      steps: await readHistory(this.database, id, before, STEPS),
      versions: await listVersions(this.database, id),
      revision,
    }
  }

  async nameVersion(id: string, name: string): Promise<boolean> {
    return this.inTurn(id, async () => {
      const held = await this.hold(id)
      if (held === undefined) return false
      await addVersion(this.database, id, held.revision, keepable(name))
      return true
    })
  }

  async releaseVersion(id: string, version: string, isReleased: boolean): Promise<boolean> {
    if (!isUuid(id)) return false
    const isDone = await this.database.transaction(async (sql) => {
      const released = await releaseVersion(sql, id, version, isReleased)
      if (released) await this.database.others?.say(sql, `${NEWS} ${id} released `)
      return released
    })
    // other windows hold edits against it as well
    if (isDone) this.news(id, 'released', '')
    return isDone
  }

  async forgetVersion(id: string, version: string): Promise<void> {
    if (isUuid(id)) await removeVersion(this.database, id, version)
  }

  async playtests(id: string): Promise<KeptPlaytest[] | undefined> {
    return (await this.revisionOf(id)) === undefined ? undefined : listPlaytests(this.database, id)
  }

  /** Whether it was not there before; undefined where there is no such story. */
  async addPlaytest(id: string, name: string, record: PlayRecord): Promise<boolean | undefined> {
    if ((await this.revisionOf(id)) === undefined) return undefined
    return addPlaytest(this.database, id, keepable(name), keepableJson(record) as PlayRecord)
  }

  async removePlaytest(id: string, playtest: string): Promise<void> {
    if (isUuid(id)) await removePlaytest(this.database, id, playtest)
  }

  /** Everything in the story that has all these words. */
  async search(id: string, text: string): Promise<Hit[] | undefined> {
    const held = await this.inTurn(id, () => this.hold(id))
    return held && inSlices(findWords(held.story, text, HITS_MAX))
  }

  remove(id: string, doer?: Doer): Promise<boolean> {
    return this.inTurn(id, async () => {
      const is = 'deleted_at = now() where id = $1 and deleted_at is null and ready'
      const done = isUuid(id) && (await this.mark(id, is, 'deleted a story', doer))
      this.held.delete(id)
      return done
    })
  }

  async restore(id: string, doer?: Doer): Promise<boolean> {
    return isUuid(id) && this.mark(id, 'deleted_at = null where id = $1', 'brought a story back', doer)
  }

  private mark(id: string, is: string, deed: string, doer: Doer | undefined): Promise<boolean> {
    return this.database.transaction(async (sql) => {
      const [row] = await sql.query<{ title: string }>(`update story set ${is} returning title`, [id])
      if (row !== undefined && doer !== undefined) await enter(sql, doer, deed, `“${row.title}”`, id)
      return row !== undefined
    })
  }

  /** When nothing is under way any more. */
  idle(): Promise<void> {
    return this.queues.idle()
  }
}
