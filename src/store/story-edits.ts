import type { Saved } from '../core/contract/answers'
import { fail, ok, type Result } from '../core/base/result'
import { applyChange } from '../core/story/changes/apply'
import { basedOn } from '../core/story/changes/based'
import { differenceOf } from '../core/story/changes/difference'
import { getList } from '../core/story/changes/list'
import type { Change } from '../core/story/changes/types'
import { describeChange } from '../core/story/compare/describe-change'
import type { Story } from '../core/story/types'
import { HeldStories, type Held } from './held-stories'
import {
  advance,
  appendEntry,
  entryOfRequest,
  isOwn,
  keepable,
  summaryOf,
  undoInfo,
  type NewEntry,
  type UndoStep,
} from './journal'
import { NEWS } from './keys'
import { followThreads } from './threads'
import { endPieces, writePieces } from './piece-rows'

/** The latest changes of a story of which is kept how they are taken back; others are worked out from the pieces. */
const INVERSES_MAX = 200

export interface Refusal {
  readonly kind: 'unknown' | 'conflict'
  readonly message: string
  /** The last change, whoever made it, can be taken back (brought back) on asking. */
  readonly anyones?: true
}

/** A member by their name. */
export interface Named {
  readonly id: string
  readonly name: string
}

/** Which window asks, and whether it wants the last step whoever made it. */
export interface Whose {
  readonly author?: string | undefined
  readonly anyones?: boolean | undefined
  /** The member who asks, where there are accounts. */
  readonly by?: Named | undefined
}

/** How a change is entered in the journal. */
interface Carried extends Pick<NewEntry, 'kind' | 'requestId'> {
  readonly target?: number | null
  readonly author?: string | null | undefined
  readonly by?: Named | undefined
}

/** Edits of stories, taking them back, and returning to what was. One operation is one transaction. */
export class StoryEdits extends HeldStories {
  /** Carries out an edit. A request that was carried out before is answered again, not repeated. */
  change(id: string, change: Change, requestId: string, { author, by }: Whose = {}): Promise<Result<Saved, Refusal>> {
    return this.once(id, requestId, (held) => this.carryOut(id, held, change, { kind: 'edit', requestId, author, by }))
  }

  /**
   * Takes the window's own last edit back, or brings its last one taken back again; with `anyones` the last one of all.
   * One that others have built on since is refused.
   */
  travel(
    id: string,
    kind: 'undo' | 'redo',
    requestId: string,
    { author, anyones = false, by }: Whose = {},
  ): Promise<Result<Saved, Refusal>> {
    return this.once(id, requestId, async (held) => {
      const steps = held[kind]
      const last = steps.at(-1)
      if (last === undefined) return fail({ kind: 'conflict', message: `There is nothing to ${kind}.` })
      const step = anyones ? last : steps.findLast((one) => isOwn(one, { author, member: by?.id }))
      const named = await summaryOf(this.database, id, (step ?? last).revision)
      if (step === undefined) {
        const message = `There is nothing of ${by === undefined ? "this window's own" : 'your own'} to ${kind}. The last step was made elsewhere: ${named}.`
        return fail({ kind: 'conflict', message, anyones: true })
      }
      const entry = { kind, target: step.revision, requestId, author, by }
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

  /** Makes the story what it was after a revision, as a new change that can be taken back like any other. */
  returnTo(
    id: string,
    revision: number,
    requestId: string,
    { author, by }: Whose = {},
  ): Promise<Result<Saved, Refusal>> {
    return this.once(id, requestId, async (held) => {
      if (revision < 0 || revision >= held.revision)
        return fail({ kind: 'conflict', message: 'the story is at this point already' })
      const change = differenceOf(held.story, await this.storyAt(id, revision))
      return this.carryOut(id, held, change, { kind: 'edit', requestId, author, by }, `returned to step ${revision}`)
    })
  }

  private async carryOut(
    id: string,
    held: Held,
    wanted: Change,
    { kind, requestId, target = null, author = null, by }: Carried,
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
    let haveMoved = false
    await this.database.transaction(async (sql) => {
      // whoever is first holds the row until this is done; others find another revision then
      const mine = await sql.query(
        `update story set revision = $2, title = $3, language = $4, scenes = $5, beats = $6, changed_at = now()
         where id = $1 and revision = $2 - 1 and deleted_at is null returning id`,
        [id, revision, keepable(story.title), keepable(story.language), scenes, beats],
      )
      if (mine.length === 0) throw new Overtaken()
      await endPieces(sql, id, revision, step.ended)
      await writePieces(sql, id, revision, step.begun)
      await this.database.others?.say(sql, `${id} ${revision}`)
      haveMoved = await followThreads(sql, id, held.story, story)
      if (haveMoved) await this.database.others?.say(sql, `${NEWS} ${id} comments `)
      await appendEntry(sql, id, { revision, kind, target, requestId, summary, author, member: by?.id })
    })
    step.keep()
    this.written += 1
    held.story = story
    held.revision = revision
    advance(held, { revision, kind, target, author, member: by?.id })
    held.inverses.set(revision, inverse)
    if (held.inverses.size > INVERSES_MAX) held.inverses.delete(held.inverses.keys().next().value!)
    const saved: Saved = { revision, change, summary, ...undoInfo(held) }
    this.tell(id, { ...saved, request: requestId, by: by === undefined ? null : { id: by.id, name: by.name } })
    if (haveMoved) this.news(id, 'comments', '')
    return ok(saved)
  }

  /** Carries a request out, or, when that was done before, says again what it did. */
  private once(
    id: string,
    requestId: string,
    work: (held: Held) => Promise<Result<Saved, Refusal>>,
  ): Promise<Result<Saved, Refusal>> {
    return this.inTurn(id, async () => {
      for (;;) {
        const done = await this.tryOnce(id, requestId, work).catch((error: unknown) => {
          if (error instanceof Overtaken) return undefined
          throw error
        })
        if (done !== undefined) return done
      }
    })
  }

  private async tryOnce(
    id: string,
    requestId: string,
    work: (held: Held) => Promise<Result<Saved, Refusal>>,
  ): Promise<Result<Saved, Refusal>> {
    const held = await this.hold(id)
    if (held === undefined)
      return fail({ kind: 'unknown', message: `there is no story ${id}; it may have been deleted` })
    const before = await entryOfRequest(this.database, id, requestId)
    if (before === undefined) return work(held)
    const { revision, summary } = before
    const from = await this.storyAt(id, revision - 1)
    const to = revision === held.revision ? held.story : await this.storyAt(id, revision)
    return ok({ revision, change: differenceOf(from, to), summary, ...undoInfo(held) })
  }
}

/** Another process was first: what was worked out is of a story that is no longer. */
class Overtaken extends Error {}

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

export function countsOf({ scenes }: Story): { scenes: number; beats: number } {
  return { scenes: scenes.length, beats: scenes.reduce((sum, { beats }) => sum + beats.length, 0) }
}
