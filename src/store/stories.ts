import type { Card, Cards, Facts, History, Hit, KeptPlaytest, Order, Saved, Told } from '../core/contract/answers'
import type { PlayRecord } from '../core/formats/playtest/read'
import { isUuid } from '../core/base/ids'
import { Queues } from '../core/base/queues'
import { fail, ok, type Result } from '../core/base/result'
import { applyChange } from '../core/story/changes/apply'
import { basedOn } from '../core/story/changes/based'
import { differenceOf } from '../core/story/changes/difference'
import { describeChange } from '../core/story/compare/describe-change'
import { getList } from '../core/story/changes/list'
import type { Change } from '../core/story/changes/types'
import { findWords } from './find-words'
import type { Story } from '../core/story/types'
import { writeStoryInParts } from '../core/story/write'
import type { Database } from './database'
import {
  advance,
  appendEntry,
  entryOfRequest,
  isOwn,
  keepable,
  keepableJson,
  readHistory,
  readUndoState,
  summaryOf,
  type NewEntry,
  type UndoState,
  type UndoStep,
} from './journal'
import { endPieces, nextPieceKey, readPieces, ROWS_AT_ONCE, writePieces } from './piece-rows'
import { PieceKeys, type Piece } from './pieces'
import { inSlices, pause } from './pause'
import { addPlaytest, listPlaytests, removePlaytest } from './playtests'
import { addVersion, listVersions, removeVersion } from './versions'

/** Steps of a history that are given at once. */
const STEPS = 100
/** Cards of the library that are given at once. */
const CARDS = 50
/** Most that one search gives. */
export const HITS_MAX = 200
/** Stories that are kept in memory. */
const HELD_MAX = 24
/** The latest changes of a story of which is kept how they are taken back; others are worked out from the pieces. */
const INVERSES_MAX = 200
const ORDERED: Readonly<Record<Order, string>> = {
  changed: 'changed_at desc',
  title: 'lower(title)',
  errors: `coalesce((facts->>'errors')::int, 0) desc`,
  todos: `coalesce((facts->>'todos')::int, 0) desc`,
  words: `coalesce((facts->>'words')::int, 0) desc`,
}
/** Parts of a text that are written before others get their turn. */
const PARTS_AT_ONCE = 2_000

export interface Listed {
  readonly text?: string
  readonly from?: number
  readonly order?: Order
}

export interface Refusal {
  readonly kind: 'unknown' | 'conflict'
  readonly message: string
  /** The last change, whoever made it, can be taken back (brought back) on asking. */
  readonly anyones?: true
}

/** Which window asks, and whether it wants the last step whoever made it. */
export interface Whose {
  readonly author?: string | undefined
  readonly anyones?: boolean | undefined
}

/** A story and how it stands, and what of it can be taken back and brought back. */
interface Held extends UndoState {
  readonly sample: boolean
  story: Story
  revision: number
  readonly keys: PieceKeys
  readonly inverses: Map<number, Change>
}

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
export class Stories {
  private readonly held = new Map<string, Held>()
  private readonly queues = new Queues()
  /** Changes written since it was last looked at. */
  written = 0

  constructor(private readonly database: Database) {}

  /** Cards in an order, the latest change first by itself, from the card after `from`, of titles with `text` in them. */
  async list({ text = '', from = 0, order = 'changed' }: Listed = {}): Promise<Cards> {
    const shown = `deleted_at is null and ready and ($1 = '' or strpos(lower(title), lower($1)) > 0)`
    const [counted] = await this.database.query<{ total: number }>(
      `select count(*)::int as total from story where ${shown}`,
      [keepable(text)],
    )
    const cards = await this.database.query<Card & Record<string, unknown>>(
      `select id, title, to_char(changed_at at time zone 'utc', 'YYYY-MM-DD"T"HH24:MI:SS.MS"Z"') as "changedAt", sample is not null as sample, scenes, beats,
         facts, coalesce(facts_revision = revision, false) as "isSurveyed"
       from story where ${shown} order by ${ORDERED[order]}, changed_at desc, id limit ${CARDS} offset $2`,
      [keepable(text), from],
    )
    return { cards, total: counted!.total }
  }

  /** Keeps what a survey said of a story as it was after a revision; what is older than what is known is let go. */
  async keepFacts(id: string, revision: number, facts: Facts): Promise<void> {
    if (!isUuid(id)) return
    await this.database.query(
      `update story set facts = $3, facts_revision = $2
       where id = $1 and revision >= $2 and coalesce(facts_revision, -1) <= $2`,
      [id, revision, JSON.stringify(facts)],
    )
  }

  /** True while nothing was ever put into the database. */
  async isEmpty(): Promise<boolean> {
    return (await this.database.query('select 1 from story limit 1')).length === 0
  }

  create(story: Story, sample?: string): Promise<string> {
    const { begun } = new PieceKeys().first(story)
    return this.createFrom(
      { ...countsOf(story), title: story.title, language: story.language, pieces: [begun] },
      sample,
    )
  }

  /** Puts a story in as its pieces come; it is shown once all are there. */
  async createFrom({ title, language, scenes, beats, pieces }: Incoming, sample?: string): Promise<string> {
    const [row] = await this.database.query<{ id: string }>(
      'insert into story (title, language, scenes, beats, sample, ready) values ($1, $2, $3, $4, $5, false) returning id',
      [keepable(title), keepable(language), scenes, beats, sample ?? null],
    )
    const { id } = row!
    try {
      for await (const some of pieces) {
        for (let from = 0; from < some.length; from += ROWS_AT_ONCE)
          await writePieces(this.database, id, 0, some.slice(from, from + ROWS_AT_ONCE))
      }
      await this.database.query('update story set ready = true, changed_at = now() where id = $1', [id])
    } catch (error) {
      await this.database.query('delete from story where id = $1', [id]).catch(() => undefined)
      throw error
    }
    this.written += 1 + Math.ceil(beats / 100)
    return id
  }

  /** Takes away what a process that died had begun to put in. */
  async sweep(): Promise<void> {
    await this.database.query('delete from story where not ready')
  }

  /** A copy of a story, without its history. */
  duplicate(id: string): Promise<string | undefined> {
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
      const copy = await this.createFrom({ ...countsOf(held.story), title, language, pieces: pieces() })
      // a survey of the one is a survey of the other
      await this.database.query(
        `update story set facts = of.facts, facts_revision = 0 from story of
         where story.id = $1 and of.id = $2 and of.facts_revision = of.revision`,
        [copy, id],
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
  async openText(id: string): Promise<string | undefined> {
    const opened = await this.open(id)
    if (opened === undefined) return undefined
    const { story, ...rest } = opened
    return `${JSON.stringify(rest).slice(0, -1)},"story":${await this.textOf(story, 0)}}`
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

  /** The title of a story, without all that is in it. */
  async titleOf(id: string): Promise<string | undefined> {
    if (!isUuid(id)) return undefined
    const [row] = await this.database.query<{ title: string }>(
      'select title from story where id = $1 and deleted_at is null and ready',
      [id],
    )
    return row?.title
  }

  /** Carries out an edit. A request that was carried out before is answered again, not repeated. */
  change(id: string, change: Change, requestId: string, author?: string): Promise<Result<Saved, Refusal>> {
    return this.once(id, requestId, (held) => this.carryOut(id, held, change, { kind: 'edit', requestId, author }))
  }

  /**
   * Takes the window's own last edit back, or brings its last one taken back again; with `anyones` the last one of all.
   * One that others have built on since is refused.
   */
  travel(
    id: string,
    kind: 'undo' | 'redo',
    requestId: string,
    { author, anyones = false }: Whose = {},
  ): Promise<Result<Saved, Refusal>> {
    return this.once(id, requestId, async (held) => {
      const steps = held[kind]
      const last = steps.at(-1)
      if (last === undefined) return fail({ kind: 'conflict', message: `There is nothing to ${kind}.` })
      const step = anyones ? last : steps.findLast((one) => isOwn(one, author ?? null))
      const named = await summaryOf(this.database, id, (step ?? last).revision)
      if (step === undefined) {
        const message = `There is nothing of this window's own to ${kind}. The last step was made elsewhere: ${named}.`
        return fail({ kind: 'conflict', message, anyones: true })
      }
      const entry = { kind, target: step.revision, requestId, author }
      const inverse = await this.inverseOf(id, held, step)
      if (step.after === held.content) return this.carryOut(id, held, inverse, entry)
      const after = await this.storyAt(id, step.revision)
      const trouble = builtOn(inverse, after, held.story)
      const done =
        trouble === undefined
          ? await this.carryOut(id, held, basedOn(after, inverse), entry)
          : fail({ kind: 'conflict' as const, message: trouble })
      if (done.ok) return done
      const message = `Changed meanwhile elsewhere, so that it stays: ${named}. ${done.error.message}`
      return fail({ kind: 'conflict', message, anyones: true })
    })
  }

  /** What takes a step back. */
  private async inverseOf(id: string, held: Held, { revision }: UndoStep): Promise<Change> {
    const known = held.inverses.get(revision)
    if (known !== undefined) return known
    const after = revision === held.revision ? held.story : await this.storyAt(id, revision)
    return differenceOf(after, await this.storyAt(id, revision - 1))
  }

  /** The story as it was after a revision; undefined where there was none. */
  at(id: string, revision: number): Promise<Story | undefined> {
    return this.inTurn(id, async () => {
      const held = await this.hold(id)
      if (held === undefined || revision < 0 || revision > held.revision) return undefined
      return revision === held.revision ? held.story : this.storyAt(id, revision)
    })
  }

  /** Makes the story what it was after a revision, as a new change that can be taken back like any other. */
  returnTo(id: string, revision: number, requestId: string, author?: string): Promise<Result<Saved, Refusal>> {
    return this.once(id, requestId, async (held) => {
      if (revision < 0 || revision >= held.revision)
        return fail({ kind: 'conflict', message: 'the story is at this point already' })
      const change = differenceOf(held.story, await this.storyAt(id, revision))
      return this.carryOut(id, held, change, { kind: 'edit', requestId, author }, `returned to step ${revision}`)
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
      const revision = await this.revisionOf(id)
      if (revision === undefined) return false
      await addVersion(this.database, id, revision, keepable(name))
      return true
    })
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

  /** Hears of every change to any story from now on: set by whoever hands them on. */
  tell: (id: string, told: Told) => void = () => undefined

  remove(id: string): Promise<boolean> {
    return this.inTurn(id, async () => {
      if (!isUuid(id)) return false
      const rows = await this.database.query(
        'update story set deleted_at = now() where id = $1 and deleted_at is null and ready returning id',
        [id],
      )
      this.held.delete(id)
      return rows.length > 0
    })
  }

  async restore(id: string): Promise<boolean> {
    if (!isUuid(id)) return false
    return (await this.database.query('update story set deleted_at = null where id = $1 returning id', [id])).length > 0
  }

  /** When nothing is under way any more. */
  idle(): Promise<void> {
    return this.queues.idle()
  }

  private async carryOut(
    id: string,
    held: Held,
    wanted: Change,
    { kind, requestId, target = null, author = null }: Carried,
    named?: string,
  ): Promise<Result<Saved, Refusal>> {
    // what is put in is an object of its own wherever it stands: pieces are told apart by their objects
    const applied = applyChange(held.story, JSON.parse(JSON.stringify(wanted)) as Change)
    if (!applied.ok) return fail({ kind: 'conflict', message: applied.error })
    const revision = held.revision + 1
    const { inverse, story, change } = applied.value
    const summary = named ?? describeChange(held.story, story, change)
    const step = held.keys.step(held.story, story)
    const { scenes, beats } = countsOf(story)
    await this.database.transaction(async (sql) => {
      await endPieces(sql, id, revision, step.ended)
      await writePieces(sql, id, revision, step.begun)
      await sql.query(
        'update story set revision = $2, title = $3, language = $4, scenes = $5, beats = $6, changed_at = now() where id = $1',
        [id, revision, keepable(story.title), keepable(story.language), scenes, beats],
      )
      await appendEntry(sql, id, { revision, kind, target, requestId, summary, author })
    })
    step.keep()
    this.written += 1
    held.story = story
    held.revision = revision
    advance(held, { revision, kind, target, author })
    held.inverses.set(revision, inverse)
    if (held.inverses.size > INVERSES_MAX) held.inverses.delete(held.inverses.keys().next().value!)
    const saved: Saved = { revision, change, summary, ...undoInfo(held) }
    this.tell(id, { ...saved, request: requestId })
    return ok(saved)
  }

  /** Carries a request out, or, when that was done before, says again what it did. */
  private once(
    id: string,
    requestId: string,
    work: (held: Held) => Promise<Result<Saved, Refusal>>,
  ): Promise<Result<Saved, Refusal>> {
    return this.inTurn(id, async () => {
      const held = await this.hold(id)
      if (held === undefined)
        return fail({ kind: 'unknown', message: `there is no story ${id}; it may have been deleted` })
      const before = await entryOfRequest(this.database, id, requestId)
      if (before === undefined) return work(held)
      const { revision, summary } = before
      const from = await this.storyAt(id, revision - 1)
      const to = revision === held.revision ? held.story : await this.storyAt(id, revision)
      return ok({ revision, change: differenceOf(from, to), summary, ...undoInfo(held) })
    })
  }

  private async storyAt(id: string, revision: number): Promise<Story> {
    return (await inSlices(PieceKeys.composing(await readPieces(this.database, id, revision)))).story
  }

  /** The revision that a story is at. */
  async revisionOf(id: string): Promise<number | undefined> {
    if (!isUuid(id)) return undefined
    const [row] = await this.database.query<{ revision: number }>(
      'select revision from story where id = $1 and deleted_at is null and ready',
      [id],
    )
    return row?.revision
  }

  private async hold(id: string): Promise<Held | undefined> {
    const known = this.held.get(id)
    if (known !== undefined) {
      // the one that was used last is the last to go
      this.held.delete(id)
      this.held.set(id, known)
      return known
    }
    if (!isUuid(id)) return undefined
    const [row] = await this.database.query<{ revision: number; sample: boolean }>(
      'select revision, sample is not null as sample from story where id = $1 and deleted_at is null and ready',
      [id],
    )
    if (row === undefined) return undefined
    const pieces = await readPieces(this.database, id)
    const { story, keys } = await inSlices(PieceKeys.composing(pieces, await nextPieceKey(this.database, id)))
    const held: Held = { ...row, story, keys, inverses: new Map(), ...(await readUndoState(this.database, id)) }
    this.held.set(id, held)
    if (this.held.size > HELD_MAX) this.held.delete(this.held.keys().next().value!)
    return held
  }

  private async textOf(story: Story, indent: 0 | 2): Promise<string> {
    const parts: string[] = []
    for (const part of writeStoryInParts(story, indent)) {
      parts.push(part)
      if (parts.length % PARTS_AT_ONCE === 0) await pause()
    }
    return parts.join('')
  }

  private inTurn<T>(id: string, work: () => Promise<T>): Promise<T> {
    return this.queues.run(id, work)
  }
}

/** How a change is entered in the journal. */
interface Carried extends Pick<NewEntry, 'kind' | 'requestId'> {
  readonly target?: number | null
  readonly author?: string | null | undefined
}

/** What others have done to an item that a change would take away: its words would go with it, unseen. */
function builtOn(change: Change, then: Story, now: Story): string | undefined {
  if (change.op === 'batch')
    return change.changes.map((one) => builtOn(one, then, now)).find((one) => one !== undefined)
  if (change.op !== 'remove') return undefined
  const [before, after] = [then, now].map((story) => {
    const list = getList(story, change.in)
    return list.ok ? list.value.find(({ id }) => id === change.id) : undefined
  })
  return JSON.stringify(before) === JSON.stringify(after) ? undefined : `Someone has worked on it since.`
}

interface UndoInfo {
  readonly canUndo: boolean
  readonly canRedo: boolean
}

function undoInfo({ undo, redo }: UndoState): UndoInfo {
  return { canUndo: undo.length > 0, canRedo: redo.length > 0 }
}

export function countsOf({ scenes }: Story): { scenes: number; beats: number } {
  return { scenes: scenes.length, beats: scenes.reduce((sum, { beats }) => sum + beats.length, 0) }
}
