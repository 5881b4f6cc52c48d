import { isUuid } from '../core/base/ids'
import { Queues } from '../core/base/queues'
import type { Told } from '../core/contract/answers'
import { differenceOf } from '../core/story/changes/difference'
import type { Change } from '../core/story/changes/types'
import type { Story } from '../core/story/types'
import { writeStoryInParts } from '../core/story/write'
import type { Database } from './database'
import { ACCESS, NEWS } from './keys'
import { advance, readEntries, readUndoState, undoInfo, type UndoState } from './journal'
import { inSlices, pause } from './pause'
import { nextPieceKey, readPieces, readSteps } from './piece-rows'
import { PieceKeys } from './pieces'

/** Stories that are kept in memory. */
const HELD_MAX = 24
/** Until what others did is looked for again when the database was away, in milliseconds. */
const AGAIN_MS = 500
/** Steps that others are ahead before a story is read anew, not followed step by step. */
const BEHIND_MAX = 200
/** Parts of a text that are written before others get their turn. */
const PARTS_AT_ONCE = 2_000

/** A story and how it stands, and what of it can be taken back and brought back. */
export interface Held extends UndoState {
  readonly sample: boolean
  story: Story
  revision: number
  readonly keys: PieceKeys
  readonly inverses: Map<number, Change>
}

/**
 * Stories of the database as they stand, some of them kept in memory; operations on one follow one another. What is kept
 * holds only as long as the database has the same revision.
 */
export class HeldStories {
  /** Stories that stay in memory, as somebody hears of their changes. */
  private readonly watched = new Set<string>()
  protected readonly held = new Map<string, Held>()
  protected readonly queues = new Queues()
  /** Changes written since it was last looked at. */
  written = 0

  constructor(protected readonly database: Database) {}

  /** Hears of every change to any story, in the order of its revisions: set by whoever hands them on. */
  tell: (id: string, told: Told) => void = () => undefined

  /** Hears that something else of a story is new for its windows: set by whoever hands it on. */
  news: (story: string, event: string, data: string) => void = () => undefined

  /** From now on the changes that other processes make are told of too, and what members may do to `access`. */
  async follow(access: (member: string) => void = () => undefined): Promise<void> {
    const { others } = this.database
    await others?.hear(
      (text) => {
        const [id = '', revision = ''] = text.split(' ')
        if (id === ACCESS) return access(revision)
        if (id === NEWS) {
          const [, story = '', event = '', data = ''] = /^\S+ (\S+) (\S+) (.*)$/s.exec(text) ?? []
          return this.news(story, event, data)
        }
        const held = this.held.get(id)
        if (held !== undefined && held.revision < Number(revision)) this.catchUpSoon(id)
      },
      () => {
        access('*')
        for (const id of this.held.keys()) this.catchUpSoon(id)
      },
    )
  }

  private catchUpSoon(id: string): void {
    this.inTurn(id, () => this.hold(id)).catch(() => {
      // nobody may ask before the database is back
      if (this.held.has(id)) setTimeout(() => this.catchUpSoon(id), AGAIN_MS).unref()
    })
  }

  /** Keeps a story in memory, so that what others do to it is told. */
  async watch(id: string): Promise<void> {
    this.watched.add(id)
    await this.inTurn(id, () => this.hold(id))
  }

  unwatch(id: string): void {
    this.watched.delete(id)
  }

  protected async storyAt(id: string, revision: number): Promise<Story> {
    return (await inSlices(PieceKeys.composing(await readPieces(this.database, id, revision)))).story
  }

  /** The revision that a story is at; of one that is watched all later ones are told after this. */
  async revisionOf(id: string): Promise<number | undefined> {
    if (this.watched.has(id)) return (await this.inTurn(id, () => this.hold(id)))?.revision
    return isUuid(id) ? (await this.standing(id))?.revision : undefined
  }

  protected async hold(id: string): Promise<Held | undefined> {
    if (!isUuid(id)) return undefined
    for (;;) {
      const row = await this.standing(id)
      if (row === undefined) {
        this.held.delete(id)
        return undefined
      }
      const known = this.held.get(id)
      const ahead = known === undefined ? NaN : row.revision - known.revision
      // less than none: an earlier state of the database was brought back
      const held = ahead >= 0 && ahead <= BEHIND_MAX ? known! : await this.read(id, row)
      if (held === known) await this.catchUp(id, held, row.revision)
      // read anew where more was written while it was being read
      else if ((await this.standing(id))?.revision !== row.revision) continue
      else if (ahead > 0) this.tellFar(id, known!, held)
      // the one that was used last is the last to go
      this.held.delete(id)
      this.held.set(id, held)
      if (this.held.size > HELD_MAX) this.letGo()
      return held
    }
  }

  private letGo(): void {
    const first = [...this.held.keys()].find((id) => !this.watched.has(id))
    if (first !== undefined) this.held.delete(first)
  }

  private async standing(id: string): Promise<{ revision: number; sample: boolean } | undefined> {
    const [row] = await this.database.query<{ revision: number; sample: boolean }>(
      'select revision, sample is not null as sample from story where id = $1 and deleted_at is null and ready',
      [id],
    )
    return row
  }

  private async read(id: string, row: { revision: number; sample: boolean }): Promise<Held> {
    const pieces = await readPieces(this.database, id)
    const { story, keys } = await inSlices(PieceKeys.composing(pieces, await nextPieceKey(this.database, id)))
    return { ...row, story, keys, inverses: new Map(), ...(await readUndoState(this.database, id)) }
  }

  /** Takes over what other processes did, one revision after another, and tells of each. */
  private async catchUp(id: string, held: Held, revision: number): Promise<void> {
    const from = held.revision
    if (from >= revision) return
    const versions = await readSteps(this.database, id, from, revision)
    const entries = await readEntries(this.database, id, from, revision)
    for (const entry of entries) {
      const before = held.story
      held.story = held.keys.take(
        before,
        versions.filter(({ until }) => until === entry.revision),
        versions.filter(({ since }) => since === entry.revision),
      )
      held.revision = entry.revision
      advance(held, entry)
      const change = differenceOf(before, held.story)
      const { summary, requestId, by } = entry
      this.tell(id, { revision: held.revision, change, summary, ...undoInfo(held), request: requestId, by })
    }
  }

  /** Tells of many steps as of one; whoever misses those before reads the story anew. */
  private tellFar(id: string, before: Held, held: Held): void {
    const change = differenceOf(before.story, held.story)
    this.tell(id, { revision: held.revision, change, summary: '', ...undoInfo(held), request: '' })
  }

  protected async textOf(story: Story, indent: 0 | 2): Promise<string> {
    const parts: string[] = []
    for (const part of writeStoryInParts(story, indent)) {
      parts.push(part)
      if (parts.length % PARTS_AT_ONCE === 0) await pause()
    }
    return parts.join('')
  }

  protected inTurn<T>(id: string, work: () => Promise<T>): Promise<T> {
    return this.queues.run(id, work)
  }
}
