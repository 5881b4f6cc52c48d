import { applyChange } from '../core/story/changes/apply'
import { basedOn } from '../core/story/changes/based'
import type { Change } from '../core/story/changes/types'
import type { Story } from '../core/story/types'
import type { Result } from '../core/base/result'
import type { ApiError } from './api'
import type { Opened, Saved, Told } from '../core/contract/answers'
import type { PendingChange, PendingStore, RefusedChange } from './pending'

/** A story as the server has it, whatever one may do with it. */
type Standing = Omit<Opened, 'role' | 'since' | 'released' | 'survey'>

/** Whether what one sees is on disk. */
export type Saving =
  { readonly kind: 'saved' } | { readonly kind: 'saving' } | { readonly kind: 'failed'; readonly message: string }

/** The document of one window, and how it stands with the server. */
export interface Synced {
  readonly story: Story
  readonly saving: Saving
  readonly canUndo: boolean
  readonly canRedo: boolean
  /** Edits that the server would not take. */
  readonly refused: readonly RefusedChange[]
}

/** What is asked of the server. */
export interface StoryServer {
  open(id: string): Promise<Result<Standing, ApiError>>
  change(id: string, change: Change, request: string): Promise<Result<Saved, ApiError>>
  travel(id: string, kind: 'undo' | 'redo', request: string, anyones: boolean): Promise<Result<Saved, ApiError>>
  returnTo(id: string, revision: number, request: string): Promise<Result<Saved, ApiError>>
}

export interface SyncListener {
  /** Part of what is known has changed. `by`: by one change of the story, or anew; absent: the story is as it was. */
  changed(part: Partial<Synced>, by?: Change | 'anew'): void
  /** `anyones`: the last step, whoever made it, can be taken back (brought back) on asking. */
  notice(message: string, anyones?: 'undo' | 'redo'): void
}

/** While the server is away, how long until it is asked again, in milliseconds. */
const RETRY_MS = 2_000
/** How long a change that others follow is waited for before the story is read anew, in milliseconds. */
const GAP_MS = 1_500
/** How often an edit is sent that the server fails at, before it is set aside and those after it are sent. */
const TRIES = 3

/**
 * One story kept in step with the server and with every other window on it. The window keeps the server's story as its
 * base and its own unconfirmed edits on top: what another window saved goes under them, in the order of the revisions.
 */
export class StorySync {
  private now: Synced
  private pending: PendingChange[]
  /** The story as the server has it, as far as this window has heard. */
  private base: { readonly story: Story; readonly revision: number }
  /** Changes that were heard of before the ones they follow. */
  private readonly early = new Map<number, Told>()
  /** Requests of this window whose change is in the story already. */
  private readonly mine = new Set<string>()
  private gap: ReturnType<typeof setTimeout> | undefined
  private retry: ReturnType<typeof setTimeout> | undefined
  private isSending = false
  /** How often the server has failed at the edit that is first in turn. */
  private failures = 0
  private sending: Promise<void> = Promise.resolve()
  private closed = false

  constructor(
    private readonly id: string,
    opened: Standing,
    private readonly server: StoryServer,
    private readonly pendingStore: PendingStore,
    private readonly listener: SyncListener,
  ) {
    this.pending = pendingStore.adopt()
    this.base = { story: opened.story, revision: opened.revision }
    for (const { request } of this.pending) this.mine.add(request)
    this.now = {
      // Edits that a closed page had not sent yet: they apply again, or are answered as known.
      story: this.rebased(),
      saving: { kind: this.pending.length === 0 ? 'saved' : 'saving' },
      canUndo: opened.canUndo,
      canRedo: opened.canRedo,
      refused: pendingStore.refused(),
    }
  }

  get state(): Synced {
    return this.now
  }

  /** The revision that the story is at; undefined while it is ahead of the server. */
  get revision(): number | undefined {
    return this.pending.length === 0 ? this.base.revision : undefined
  }

  close(): void {
    this.closed = true
    clearTimeout(this.retry)
    clearTimeout(this.gap)
  }

  /** Makes an edit here at once, and sends it. Says why when it can't be made. */
  edit(change: Change): string | undefined {
    const applied = applyChange(this.now.story, change)
    if (!applied.ok) {
      this.listener.notice(`This could not be done: ${applied.error}.`)
      return applied.error
    }
    const { story } = applied.value
    if (story === this.now.story) return undefined
    const request = crypto.randomUUID()
    this.mine.add(request)
    this.pending = [...this.pending, { request, change: basedOn(this.now.story, change) }]
    this.pendingStore.write(this.pending)
    this.set({ story, canUndo: true, canRedo: false, saving: { kind: 'saving' } }, change)
    void this.send()
    return undefined
  }

  /** Makes a refused edit once more, on the story as it is now. Says why when it can't be made. */
  tryAgain(request: string): string | undefined {
    const found = this.now.refused.find((one) => one.request === request)
    if (found === undefined) return undefined
    const trouble = this.edit(withoutBase(found.change))
    if (trouble === undefined) this.forget(request)
    return trouble
  }

  /** Lets a refused edit go. */
  forget(request: string): void {
    const refused = this.pendingStore.refused().filter((one) => one.request !== request)
    this.pendingStore.writeRefused(refused)
    this.set({ refused })
  }

  /** Takes back or makes again this window's own last edit, or the last one of all, once all that was typed is saved. */
  async travel(kind: 'undo' | 'redo', anyones = false): Promise<void> {
    if (!(await this.isAllSent())) return
    this.set({ saving: { kind: 'saving' } })
    this.settle(await this.server.travel(this.id, kind, crypto.randomUUID(), anyones), kind)
  }

  /** Makes the story what it was after a revision, as a new change. */
  async returnTo(revision: number): Promise<void> {
    if (!(await this.isAllSent())) return
    this.set({ saving: { kind: 'saving' } })
    this.settle(await this.server.returnTo(this.id, revision, crypto.randomUUID()))
  }

  /** False, and said, while edits wait for a server that is away. */
  private async isAllSent(): Promise<boolean> {
    await this.send()
    if (this.pending.length === 0) return true
    if (!this.closed) this.listener.notice('This waits until your edits are saved; the server is away.')
    return false
  }

  private settle(saved: Result<Saved, ApiError>, kind?: 'undo' | 'redo'): void {
    if (this.closed) return
    if (!saved.ok) {
      const isAway = saved.error.kind !== 'refused'
      this.set({ saving: isAway ? { kind: 'failed', message: saved.error.message } : { kind: 'saved' } })
      if (!isAway) this.listener.notice(saved.error.message, saved.error.anyones && kind)
      return
    }
    this.hear({ ...saved.value, request: '' })
    this.set({ canUndo: saved.value.canUndo, canRedo: saved.value.canRedo, saving: { kind: 'saved' } })
  }

  /** Sends what is pending, one edit after another; a call while that goes on waits for the same. */
  send(): Promise<void> {
    if (!this.isSending) {
      this.isSending = true
      this.sending = this.sendAll().catch((error: unknown) => this.listener.notice(String(error)))
    }
    return this.sending
  }

  private async sendAll(): Promise<void> {
    clearTimeout(this.retry)
    let away = await this.sendPending()
    // an edit may have come between the last look and this one; after this nothing is waited for
    while (away === undefined && this.pending.length > 0 && !this.closed) away = await this.sendPending()
    this.isSending = false
    if (this.closed) return
    if (away !== undefined) {
      const message = `Not saved: ${away} Your edits are kept here and sent when it answers again.`
      this.set({ saving: { kind: 'failed', message } })
      this.retry = setTimeout(() => void this.send(), RETRY_MS)
    } else this.set({ saving: { kind: 'saved' } })
  }

  /** Sends until nothing is left; gives the reason when the server is away. */
  private async sendPending(): Promise<string | undefined> {
    while (this.pending.length > 0 && !this.closed) {
      const { request, change } = this.pending[0]!
      const saved = await this.server.change(this.id, change, request)
      if (this.closed) break
      if (!saved.ok && saved.error.kind === 'away') return saved.error.message
      if (!saved.ok && saved.error.kind === 'failed' && (this.failures += 1) < TRIES) return saved.error.message
      this.failures = 0
      this.settlePending(request)
      if (!saved.ok) {
        const refused = [...this.pendingStore.refused(), { request, change, why: saved.error.message }]
        this.pendingStore.writeRefused(refused)
        this.set({ refused })
        await this.reload(`An edit was refused: ${saved.error.message}`)
        continue
      }
      this.hear({ ...saved.value, request })
      this.set({ canUndo: saved.value.canUndo || this.pending.length > 0, canRedo: saved.value.canRedo })
    }
    return undefined
  }

  /** A change that the server tells of, of this window or another. */
  told(told: Told): void {
    this.hear(told)
    if (told.revision === this.base.revision)
      this.set({ canUndo: told.canUndo || this.pending.length > 0, canRedo: told.canRedo })
  }

  /** A saved change, in whatever order it is heard of: own ones are in the story already, others are put under what is still pending. */
  private hear(told: Told): void {
    if (told.revision <= this.base.revision) return
    this.early.set(told.revision, told)
    const foreign: Change[] = []
    for (
      let next = this.early.get(this.base.revision + 1);
      next !== undefined;
      next = this.early.get(this.base.revision + 1)
    ) {
      this.early.delete(next.revision)
      const applied = applyChange(this.base.story, next.change)
      if (!applied.ok) return void this.reload('The story had changed elsewhere and was read again.')
      this.base = { story: applied.value.story, revision: next.revision }
      if (this.mine.has(next.request)) this.settlePending(next.request)
      else foreign.push(next.change)
    }
    if (foreign.length > 0) {
      const isAlone = foreign.length === 1 && this.pending.length === 0
      this.set({ story: this.rebased() }, isAlone ? foreign[0]! : 'anew')
    }
    if (this.early.size > 0) this.expect(Math.max(...this.early.keys()))
  }

  /** The server is at this revision: what does not come by itself is fetched. */
  expect(revision: number): void {
    clearTimeout(this.gap)
    if (revision <= this.base.revision) return
    this.gap = setTimeout(() => {
      if (this.base.revision < revision && !this.closed) void this.reload()
    }, GAP_MS)
  }

  private settlePending(request: string): void {
    this.pending = this.pending.filter((one) => one.request !== request)
    this.pendingStore.write(this.pending)
  }

  /** The server's story with the edits that it has not confirmed. */
  private rebased(): Story {
    let { story } = this.base
    for (const { change } of this.pending) {
      const applied = applyChange(story, change)
      // one that no longer applies is refused by the server, with the reason
      if (applied.ok) story = applied.value.story
    }
    return story
  }

  /** Takes the server's story, then makes the edits again that it has not seen. */
  private async reload(notice?: string): Promise<void> {
    const opened = await this.server.open(this.id)
    if (this.closed) return
    if (!opened.ok) {
      if (notice !== undefined) this.listener.notice(`${notice} ${opened.error.message}`)
      return
    }
    const { story, revision, canUndo, canRedo } = opened.value
    this.base = { story, revision }
    for (const known of [...this.early.keys()]) if (known <= revision) this.early.delete(known)
    this.set({ story: this.rebased(), canUndo, canRedo }, 'anew')
    if (notice !== undefined) this.listener.notice(notice)
  }

  private set(part: Partial<Synced>, by?: Change | 'anew'): void {
    this.now = { ...this.now, ...part }
    this.listener.changed(part, by)
  }
}

/** A change as if it were made now: what it was made on no longer counts. */
function withoutBase(change: Change): Change {
  if (change.op === 'batch') return { op: 'batch', changes: change.changes.map(withoutBase) }
  if (!('was' in change)) return change
  return { ...change, was: undefined }
}
