import { isUuid } from '../core/base/ids'
import { Queues } from '../core/base/queues'
import type { Change } from '../core/story/changes/types'
import type { Story } from '../core/story/types'
import { writeStoryInParts } from '../core/story/write'
import type { Database } from './database'
import { readUndoState, type UndoState } from './journal'
import { inSlices, pause } from './pause'
import { nextPieceKey, readPieces } from './piece-rows'
import { PieceKeys } from './pieces'

/** Stories that are kept in memory. */
const HELD_MAX = 24
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

/** Stories of the database as they stand, some of them kept in memory; operations on one follow one another. */
export class HeldStories {
  protected readonly held = new Map<string, Held>()
  protected readonly queues = new Queues()
  /** Changes written since it was last looked at. */
  written = 0

  constructor(protected readonly database: Database) {}

  protected async storyAt(id: string, revision: number): Promise<Story> {
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

  protected async hold(id: string): Promise<Held | undefined> {
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
