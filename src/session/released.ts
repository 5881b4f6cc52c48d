import type { Version } from '../core/contract/answers'
import type { Result } from '../core/base/result'
import type { Story } from '../core/story/types'
import type { Carried, FarCarried } from '../core/survey/carry/carried'
import { api } from './api'

/** A version that players have, and what becomes of their saves in the story as it is. */
export interface Released {
  readonly name: string
  readonly revision: number
  /** Undefined until it was looked at for the first time. */
  readonly carried: Carried | undefined
  /** It is of the story as it is now. */
  readonly isFresh: boolean
}

/** After an edit and its survey, until saves are looked at, in milliseconds; longer where that takes long. */
const QUIET_MS = 1_500
/** How much longer than the last look the next one is waited for. */
const TIMES = 2
/** Versions that are looked at, the latest first. */
const VERSIONS_MAX = 3

/** What is looked at: all of one moment. */
interface Standing {
  readonly story: Story
  /** Its survey is over. */
  readonly isSettled: boolean
}

/** Works out in the background what an edit does to players who are in the middle of a released version. */
export class ReleasedWatch {
  private readonly stories = new Map<number, Story>()
  private readonly known = new Map<number, { readonly carried: Carried; readonly of: Story }>()
  private timer: ReturnType<typeof setTimeout> | undefined
  private took = 0
  private isAsking = false
  /** It was to look while it still did. */
  private isMissed = false
  private closed = false

  constructor(
    private readonly id: string,
    private versions: readonly Version[],
    private readonly look: () => Standing,
    private readonly ask: (before: Story, after: Story) => Promise<Result<Carried>>,
    private readonly changed: (released: readonly Released[]) => void,
    private readonly server: Pick<typeof api, 'history' | 'at'> = api,
  ) {
    this.take(versions)
  }

  close(): void {
    this.closed = true
    clearTimeout(this.timer)
  }

  /** Reads anew which versions are released. */
  async read(): Promise<void> {
    // only the versions are wanted of it
    const history = await this.server.history(this.id, 1)
    if (!history.ok || this.closed) return
    this.take(history.value.versions.filter(({ releasedAt }) => releasedAt !== null))
  }

  private take(versions: readonly Version[]): void {
    this.versions = versions.slice(0, VERSIONS_MAX)
    for (const revision of this.known.keys())
      if (!this.versions.some((version) => version.revision === revision)) this.known.delete(revision)
    this.say()
    this.touch()
  }

  /** What was worked out elsewhere holds for this story. */
  know(far: readonly FarCarried[], of: Story): void {
    for (const { revision, carried } of far) this.known.set(revision, { carried, of })
    this.say()
  }

  /** Something has changed that may do something to them. */
  touch(): void {
    if (this.versions.length === 0 || this.closed) return
    this.say()
    clearTimeout(this.timer)
    this.timer = setTimeout(() => void this.work(), Math.max(QUIET_MS, TIMES * this.took))
  }

  private async work(): Promise<void> {
    const { story, isSettled } = this.look()
    // it comes again when the survey is over
    if (!isSettled) return
    if (this.isAsking) {
      this.isMissed = true
      return
    }
    this.isAsking = true
    this.isMissed = false
    const begun = performance.now()
    for (const { revision } of this.versions) {
      if (this.known.get(revision)?.of === story || this.closed) continue
      const before = await this.storyAt(revision)
      if (before === undefined) continue
      const carried = await this.ask(before, story)
      if (carried.ok) this.known.set(revision, { carried: carried.value, of: story })
      this.say()
      if (this.look().story !== story) break
    }
    this.took = performance.now() - begun
    this.isAsking = false
    if (this.isMissed || this.look().story !== story) this.touch()
  }

  private async storyAt(revision: number): Promise<Story | undefined> {
    const known = this.stories.get(revision)
    if (known !== undefined) return known
    const read = await this.server.at(this.id, revision)
    if (!read.ok) return undefined
    this.stories.set(revision, read.value.story)
    return read.value.story
  }

  private say(): void {
    if (this.closed) return
    const { story } = this.look()
    this.changed(
      this.versions.map(({ name, revision }) => {
        const known = this.known.get(revision)
        return { name, revision, carried: known?.carried, isFresh: known?.of === story }
      }),
    )
  }
}
