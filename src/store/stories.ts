import type { Card, History, Hit, Opened, Saved, Told } from '../core/contract/answers'
import { applyChange } from '../core/story/changes/apply'
import { summarise } from '../core/story/changes/summary'
import { describeChange } from '../core/story/compare/describe-change'
import type { Change } from '../core/story/changes/types'
import { fail, ok, type Result } from '../core/base/result'
import type { Story } from '../core/story/types'
import type { Database, Sql } from './database'
import {
  appendEntry,
  readEntry,
  readHistory,
  readInverses,
  readUndoState,
  revisionOfRequest,
  type JournalKind,
} from './journal'
import { persistChange } from './persist-change'
import { readLists } from './read-rows'
import { searchStory } from './search'
import { LISTS, type ListName } from './shapes'
import { checkStorable } from './storable'
import { addVersion, listVersions, removeVersion } from './versions'
import { writeObjects } from './write-rows'

/** Steps of a history that are given at once. */
const STEPS = 100

export type Refusal = { readonly kind: 'unknown' | 'conflict' | 'unstorable'; readonly message: string }

const HEADER = ['title', 'language', 'start', 'notes'] as const

interface Held {
  readonly sample: boolean
  story: Story
  revision: number
  undo: readonly number[]
  redo: readonly number[]
}

/** All stories in the database. One operation is one transaction; operations follow one another. */
export class Stories {
  private readonly held = new Map<string, Held>()
  private readonly listeners = new Map<string, Set<(told: Told) => void>>()
  private queue: Promise<unknown> = Promise.resolve()

  constructor(private readonly database: Database) {}

  async list(): Promise<Card[]> {
    return this.database.query<Card & Record<string, unknown>>(
      `select id, title, changed_at::text as "changedAt", sample is not null as sample,
         (select count(*)::int from scene where story_id = story.id) as scenes,
         (select count(*)::int from beat where story_id = story.id) as beats
       from story where deleted_at is null order by changed_at desc, title`,
    )
  }

  /** True while nothing was ever put into the database. */
  async isEmpty(): Promise<boolean> {
    return (await this.database.query('select 1 from story limit 1')).length === 0
  }

  create(story: Story, sample?: string): Promise<Result<string, Refusal>> {
    return this.inTurn(async () => {
      const storable = checkStorable(story)
      if (!storable.ok) return fail({ kind: 'unstorable', message: storable.error })
      return ok(await this.database.transaction((sql) => insertStory(sql, story, sample)))
    })
  }

  open(id: string): Promise<Opened | undefined> {
    return this.inTurn(async () => {
      const held = await this.hold(id)
      if (held === undefined) return undefined
      const { sample, story, revision, undo, redo } = held
      return { id, sample, story, revision, canUndo: undo.length > 0, canRedo: redo.length > 0 }
    })
  }

  /** Carries out an edit. A request that was carried out before is answered again, not repeated. */
  change(id: string, change: Change, requestId: string): Promise<Result<Saved, Refusal>> {
    return this.inTurn(async () => {
      const held = await this.hold(id)
      if (held === undefined) return fail(unknown(id))
      const before = await revisionOfRequest(this.database, id, requestId)
      if (before !== undefined) return ok({ ...saved(held, change, summarise(change)), revision: before })
      const storable = checkStorable(change)
      if (!storable.ok) return fail({ kind: 'unstorable', message: storable.error })
      return this.carryOut(id, held, change, 'edit', null, requestId)
    })
  }

  /** Takes the last edit back, or brings the last one taken back again. */
  travel(id: string, kind: 'undo' | 'redo', requestId: string): Promise<Result<Saved, Refusal>> {
    return this.inTurn(async () => {
      const held = await this.hold(id)
      if (held === undefined) return fail(unknown(id))
      const target = (kind === 'undo' ? held.undo : held.redo).at(-1)
      if (target === undefined)
        return fail({
          kind: 'conflict',
          message: kind === 'undo' ? 'there is nothing to undo' : 'there is nothing to redo',
        })
      const entry = (await readEntry(this.database, id, target))!
      return this.carryOut(id, held, entry.inverse, kind, target, requestId)
    })
  }

  /** The story as it was after a revision; undefined where there was none. */
  at(id: string, revision: number): Promise<Story | undefined> {
    return this.inTurn(async () => {
      const held = await this.hold(id)
      if (held === undefined || revision < 0 || revision > held.revision) return undefined
      return this.storyAt(id, held, revision)
    })
  }

  /** Makes the story what it was after a revision, as a new change that can be taken back like any other. */
  returnTo(id: string, revision: number, requestId: string): Promise<Result<Saved, Refusal>> {
    return this.inTurn(async () => {
      const held = await this.hold(id)
      if (held === undefined) return fail(unknown(id))
      if (revision < 0 || revision >= held.revision)
        return fail({ kind: 'conflict', message: 'the story is at this point already' })
      const changes = await readInverses(this.database, id, revision)
      return this.carryOut(id, held, { op: 'batch', changes }, 'edit', null, requestId, `returned to step ${revision}`)
    })
  }

  /** The steps before a revision, and the named versions. */
  async history(id: string, before: number = Number.MAX_SAFE_INTEGER): Promise<History | undefined> {
    const held = await this.inTurn(() => this.hold(id))
    if (held === undefined) return undefined
    return {
      steps: await readHistory(this.database, id, before, STEPS),
      versions: await listVersions(this.database, id),
      revision: held.revision,
    }
  }

  async nameVersion(id: string, name: string): Promise<boolean> {
    const held = await this.inTurn(() => this.hold(id))
    if (held === undefined) return false
    await addVersion(this.database, id, held.revision, name)
    return true
  }

  async forgetVersion(id: string, version: string): Promise<void> {
    await removeVersion(this.database, id, version)
  }

  /** Everything in the story that has all these words. */
  async search(id: string, text: string): Promise<Hit[] | undefined> {
    if ((await this.inTurn(() => this.hold(id))) === undefined) return undefined
    return searchStory(this.database, id, text)
  }

  /** Hears of every change to a story from now on; gives what stops it. */
  listen(id: string, hear: (told: Told) => void): () => void {
    const all = this.listeners.get(id) ?? new Set()
    this.listeners.set(id, all)
    all.add(hear)
    return () => {
      all.delete(hear)
      if (all.size === 0) this.listeners.delete(id)
    }
  }

  async remove(id: string): Promise<boolean> {
    const rows = await this.database.query(
      'update story set deleted_at = now() where id = $1 and deleted_at is null returning id',
      [id],
    )
    this.held.delete(id)
    return rows.length > 0
  }

  async restore(id: string): Promise<boolean> {
    return (await this.database.query('update story set deleted_at = null where id = $1 returning id', [id])).length > 0
  }

  private async carryOut(
    id: string,
    held: Held,
    change: Change,
    kind: JournalKind,
    target: number | null,
    requestId: string,
    named?: string,
  ): Promise<Result<Saved, Refusal>> {
    const applied = applyChange(held.story, change)
    if (!applied.ok) return fail({ kind: 'conflict', message: applied.error })
    const revision = held.revision + 1
    const { inverse, story } = applied.value
    const summary = named ?? describeChange(held.story, story, change)
    await this.database.transaction(async (sql) => {
      await persistChange(sql, id, held.story, change)
      await sql.query('update story set revision = $2, changed_at = now() where id = $1', [id, revision])
      await appendEntry(sql, id, { revision, kind, target, requestId, summary, change, inverse })
    })
    held.story = story
    held.revision = revision
    if (kind === 'edit') {
      held.undo = [...held.undo, revision]
      held.redo = []
    } else if (kind === 'undo') {
      held.undo = held.undo.slice(0, -1)
      held.redo = [...held.redo, revision]
    } else {
      held.redo = held.redo.slice(0, -1)
      held.undo = [...held.undo, revision]
    }
    const answer = saved(held, change, summary)
    for (const hear of this.listeners.get(id) ?? []) hear({ ...answer, request: requestId })
    return ok(answer)
  }

  private async storyAt(id: string, held: Held, revision: number): Promise<Story> {
    let { story } = held
    for (const inverse of await readInverses(this.database, id, revision)) {
      const applied = applyChange(story, inverse)
      if (!applied.ok) throw new Error(`the journal of ${id} does not lead back to ${revision}: ${applied.error}`)
      story = applied.value.story
    }
    return story
  }

  private async hold(id: string): Promise<Held | undefined> {
    const known = this.held.get(id)
    if (known !== undefined) return known
    const row = await readHeader(this.database, id)
    if (row === undefined) return undefined
    const story = { ...row.header, ...(await readLists(this.database, id)) } as Story
    const held: Held = {
      sample: row.sample,
      story: { ...story, scenes: story.scenes ?? [] },
      revision: row.revision,
      ...(await readUndoState(this.database, id)),
    }
    this.held.set(id, held)
    return held
  }

  private inTurn<T>(work: () => Promise<T>): Promise<T> {
    const next = this.queue.then(work, work)
    this.queue = next.catch(() => undefined)
    return next
  }
}

function saved(held: Held, change: Change, summary: string): Saved {
  return { revision: held.revision, change, summary, canUndo: held.undo.length > 0, canRedo: held.redo.length > 0 }
}

function unknown(id: string): Refusal {
  return { kind: 'unknown', message: `there is no story ${id}; it may have been deleted` }
}

async function insertStory(sql: Sql, story: Story, sample: string | undefined): Promise<string> {
  const extra: Record<string, unknown> = {}
  for (const [key, value] of Object.entries(story)) {
    const known = key === 'paperCompass' || key in LISTS || (HEADER as readonly string[]).includes(key)
    if (!known) extra[key] = value
  }
  const [row] = await sql.query<{ id: string }>(
    'insert into story (title, language, start, notes, extra, sample) values ($1, $2, $3, $4, $5::jsonb, $6) returning id',
    [story.title, story.language, story.start, story.notes ?? null, JSON.stringify(extra), sample ?? null],
  )
  const { id } = row!
  for (const name of Object.keys(LISTS) as ListName[])
    await writeObjects(sql, LISTS[name], story[name] ?? [], { story: id })
  return id
}

async function readHeader(
  sql: Sql,
  id: string,
): Promise<{ header: Partial<Story>; revision: number; sample: boolean } | undefined> {
  if (!/^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$/.test(id)) return undefined
  const [row] = await sql.query(
    'select title, language, start, notes, extra, revision, sample is not null as sample from story where id = $1 and deleted_at is null',
    [id],
  )
  if (row === undefined) return undefined
  const header: Record<string, unknown> = { paperCompass: 1 }
  for (const key of HEADER) if (row[key] !== null) header[key] = row[key]
  return {
    header: { ...header, ...(row.extra as object) },
    revision: row.revision as number,
    sample: row.sample as boolean,
  }
}
