import {
  presenceSchema,
  type NewThread,
  type Presence,
  type Thread,
  type ThreadChange,
} from '../core/contract/comments'
import type { Result } from '../core/base/result'
import type { ApiError } from './api'
import { commentsApi } from './comments-api'
import { windowId } from './window-id'

/** What others in the same story do there, beside changing it. */
export interface TogetherState {
  /** What members say about the story; undefined until it was read, and without accounts. */
  readonly threads: readonly Thread[] | undefined
  /** Windows of others. */
  readonly here: readonly Presence[]
}

export const ALONE: TogetherState = { threads: undefined, here: [] }

/** After one came to a beat, until the others are told, in milliseconds. */
const TELL_MS = 800
/** Between two signs that one is still there, and until a window that gives none is taken for gone, in milliseconds. */
const BEAT_MS = 25_000
const GONE_MS = 70_000

/** Comments, who is here, and what one has seen, for one open story. */
export class Together {
  private state = ALONE
  private readonly seen = new Map<string, number>()
  private telling: ReturnType<typeof setTimeout> | undefined
  private readonly beating: ReturnType<typeof setInterval>
  private beat: string | null = null
  private visited = -1
  private closed = false
  private readonly window = windowId()

  constructor(
    private readonly id: string,
    private readonly revision: () => number,
    private readonly changed: (state: TogetherState) => void,
  ) {
    void this.read()
    this.beating = setInterval(() => {
      this.forget()
      if (!document.hidden) this.tell()
      this.visit()
    }, BEAT_MS)
    document.addEventListener('visibilitychange', this.turn)
    window.addEventListener('pagehide', this.leave)
  }

  close(): void {
    this.leave()
    this.closed = true
    clearTimeout(this.telling)
    clearInterval(this.beating)
    document.removeEventListener('visibilitychange', this.turn)
    window.removeEventListener('pagehide', this.leave)
  }

  /** One is in this beat now. */
  goTo(beat: string | undefined): void {
    this.beat = beat ?? null
    clearTimeout(this.telling)
    this.telling = setTimeout(() => this.tell(), TELL_MS)
  }

  /** The server says that there is something new. */
  hear(event: 'comments' | 'here', data: string): void {
    if (event === 'comments') return void this.read()
    const found = presenceSchema.safeParse(JSON.parse(data))
    if (!found.success || found.data.window === this.window) return
    const isNew = !this.seen.has(found.data.window)
    if (found.data.isHere) this.seen.set(found.data.window, Date.now())
    else this.seen.delete(found.data.window)
    const others = this.state.here.filter(({ window: other }) => other !== found.data.window)
    this.set({ here: found.data.isHere ? [...others, found.data] : others })
    // whoever has just come does not know who is here
    if (isNew && found.data.isHere) this.goTo(this.beat ?? undefined)
  }

  begin(thread: NewThread): Promise<Result<unknown, ApiError>> {
    return this.after(commentsApi.begin(this.id, thread))
  }

  change(thread: string, change: ThreadChange): Promise<Result<unknown, ApiError>> {
    return this.after(commentsApi.change(this.id, thread, change))
  }

  remove(thread: string): Promise<Result<unknown, ApiError>> {
    return this.after(commentsApi.remove(this.id, thread))
  }

  private async after(work: Promise<Result<unknown, ApiError>>): Promise<Result<unknown, ApiError>> {
    const done = await work
    if (done.ok) await this.read()
    return done
  }

  private async read(): Promise<void> {
    const threads = await commentsApi.list(this.id)
    if (threads.ok && !this.closed) this.set({ threads: threads.value })
  }

  private tell(isHere = true): void {
    void commentsApi.here(this.id, { window: this.window, beat: this.beat, isHere })
  }

  /** What is there now was seen; noted only after a while, so that a page that is opened anew still tells what is new. */
  private visit(): void {
    const revision = this.revision()
    if (revision === this.visited || document.hidden) return
    this.visited = revision
    void commentsApi.visited(this.id, revision)
  }

  private readonly turn = (): void => {
    if (document.hidden) this.leave()
    else this.goTo(this.beat ?? undefined)
  }

  private readonly leave = (): void => {
    if (this.closed) return
    this.tell(false)
    this.visited = -1
    void commentsApi.visited(this.id, this.revision())
  }

  private forget(): void {
    const now = Date.now()
    for (const [window, at] of this.seen) if (now - at > GONE_MS) this.seen.delete(window)
    const here = this.state.here.filter(({ window }) => this.seen.has(window))
    if (here.length < this.state.here.length) this.set({ here })
  }

  private set(part: Partial<TogetherState>): void {
    this.state = { ...this.state, ...part }
    this.changed(this.state)
  }
}
