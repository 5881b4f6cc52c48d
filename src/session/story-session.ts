import { applyChange } from '../core/story/changes/apply'
import type { Change } from '../core/story/changes/types'
import { linkStory } from '../core/story/link'
import type { LinkedStory } from '../core/story/linked'
import type { Setup } from '../core/play/step'
import type { Decision, Story } from '../core/story/types'
import { api, type OpenAnswer, type Told } from './api'
import { namingOf, type Naming } from './naming'
import { PendingStore, type PendingChange } from './pending'
import { SimulationHandle, type SimulationState, NO_SIMULATION } from './simulation-handle'
import { Trail } from './trail'
import { NO_SURVEY, SurveyHandle, type SurveyState } from './survey-handle'

/** Whether what one sees is on disk. */
export type Saving =
  { readonly kind: 'saved' } | { readonly kind: 'saving' } | { readonly kind: 'failed'; readonly message: string }

export interface SessionState {
  readonly story: Story
  readonly saving: Saving
  readonly canUndo: boolean
  readonly canRedo: boolean
  readonly survey: SurveyState
  /** The scene and beat that the views are about. */
  readonly scene: string | undefined
  readonly beat: string | undefined
  /** Grows each time the views are asked to show the beat, wherever they have been scrolled to. */
  readonly shown: number
  /** Beats that are chosen together. */
  readonly chosen: readonly string[]
  readonly rehearsal: Rehearsal
  /** What simulated players met. */
  readonly simulation: SimulationState
  /** Fields in which something was typed that is no edit yet. */
  readonly drafts: number
  /** The last thing that went wrong, until it is dismissed. */
  readonly notice: string | undefined
}

/** What is rehearsed: decisions from the start, or from values set by hand. */
export interface Rehearsal {
  readonly from: Setup | undefined
  readonly decisions: readonly Decision[]
  /** Every run that was tried from there, by the decisions up to each point, in the order of trying. */
  readonly tried: ReadonlySet<string>
}

/** While the server is away, how long until it is asked again, in milliseconds. */
const RETRY_MS = 2_000
/** How long a change that others follow is waited for before the story is read anew, in milliseconds. */
const GAP_MS = 1_500

/** By what a run is known among those that were tried. */
export function runName(decisions: readonly Decision[]): string {
  return JSON.stringify(decisions)
}

/** One open story on this page: the document, its edits on their way to the server, and its survey. */
export class StorySession {
  private state: SessionState
  private readonly listeners = new Set<() => void>()
  /** The survey's worker: what is asked of it is answered for the story as it is now. */
  readonly survey: SurveyHandle
  private readonly pendingStore: PendingStore
  private pending: PendingChange[]
  /** The story as the server has it, as far as this window has heard. */
  private base: { readonly story: Story; readonly revision: number }
  /** Changes that were heard of before the ones they follow. */
  private readonly early = new Map<number, Told>()
  /** Requests of this window whose change is in the story already. */
  private readonly mine = new Set<string>()
  private events: EventSource | undefined
  private readonly trail = new Trail()
  /** Simulated players, for as long as this page is open. */
  readonly players: SimulationHandle
  private gap: ReturnType<typeof setTimeout> | undefined
  private isSending = false
  private sending: Promise<void> = Promise.resolve()
  private closed = false
  private retry: ReturnType<typeof setTimeout> | undefined
  private named: { readonly story: Story; readonly naming: Naming } | undefined
  private linked: { readonly story: Story; readonly linked: LinkedStory } | undefined

  constructor(
    readonly id: string,
    opened: OpenAnswer,
  ) {
    this.pendingStore = new PendingStore(id)
    this.pending = this.pendingStore.adopt()
    this.base = { story: opened.story, revision: opened.revision }
    // Edits that a closed page had not sent yet: they apply again, or are answered as known.
    const story = this.rebased()
    const scene = story.scenes[0]
    this.state = {
      story,
      saving: { kind: this.pending.length === 0 ? 'saved' : 'saving' },
      canUndo: opened.canUndo,
      canRedo: opened.canRedo,
      survey: NO_SURVEY,
      scene: scene?.id,
      beat: scene?.beats[0] && `${scene.id}.${scene.beats[0].id}`,
      shown: 0,
      chosen: [],
      rehearsal: { from: undefined, decisions: [], tried: new Set() },
      simulation: NO_SIMULATION,
      drafts: 0,
      notice: undefined,
    }
    this.trail.remember(this.state.beat)
    this.players = new SimulationHandle((simulation) => this.set({ simulation }))
    this.survey = new SurveyHandle((survey) => this.set({ survey }))
    this.survey.open(story)
    this.survey.watch(this.state.beat)
    for (const { request } of this.pending) this.mine.add(request)
    this.listen()
    void this.send()
  }

  getState = (): SessionState => this.state

  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener)
    return () => this.listeners.delete(listener)
  }

  close(): void {
    this.closed = true
    clearTimeout(this.retry)
    clearTimeout(this.gap)
    this.events?.close()
    if (typeof document !== 'undefined') document.removeEventListener('visibilitychange', this.seen)
    this.survey.close()
    this.players.close()
  }

  /** Makes an edit here at once, and sends it. Says why when it can't be made. */
  edit(change: Change): string | undefined {
    const applied = applyChange(this.state.story, change)
    if (!applied.ok) {
      this.set({ notice: `This could not be done: ${applied.error}.` })
      return applied.error
    }
    if (applied.value.story === this.state.story) return undefined
    const request = crypto.randomUUID()
    this.mine.add(request)
    this.pending = [...this.pending, { request, change }]
    this.pendingStore.write(this.pending)
    this.set({ story: applied.value.story, canUndo: true, canRedo: false, saving: { kind: 'saving' } })
    this.survey.change(change)
    void this.send()
    return undefined
  }

  undo(): Promise<void> {
    return this.travel('undo')
  }

  redo(): Promise<void> {
    return this.travel('redo')
  }

  /** Turns every view to a beat and shows it. */
  goTo(address: string | undefined): void {
    this.enter(address)
    this.set({ shown: this.state.shown + 1 })
  }

  /** Chooses beats to be copied, moved or deleted together. */
  choose(beats: readonly string[]): void {
    this.set({ chosen: beats })
  }

  /** One is at a beat, seen already. */
  enter(address: string | undefined): void {
    if (address === undefined) return
    const [scene, beat] = address.split('.')
    const known = this.state.story.scenes.find((one) => one.id === scene)
    if (known === undefined) return
    const chosen = known.beats.some((one) => one.id === beat)
      ? `${scene}.${beat}`
      : known.beats[0] && `${scene}.${known.beats[0].id}`
    if (chosen === this.state.beat && scene === this.state.scene) return
    this.trail.remember(chosen)
    this.set({ scene, beat: chosen })
    this.survey.watch(chosen)
  }

  /** Back (−1) or forward (1) through the beats one has been at. */
  walkTrail(step: 1 | -1): void {
    const beat = this.trail.walk(step, (address) => {
      const [scene, id] = address.split('.')
      return this.state.story.scenes.some((one) => one.id === scene && one.beats.some((known) => known.id === id))
    })
    if (beat === undefined) return
    this.set({ scene: beat.split('.')[0], beat, shown: this.state.shown + 1 })
    this.survey.watch(beat)
  }

  /** Plays decisions in the rehearsal; what was tried before from the same beginning stays known. */
  rehearse(decisions: readonly Decision[], from?: Setup): void {
    const tried = new Set(from === this.state.rehearsal.from ? this.state.rehearsal.tried : [])
    decisions.forEach((_, at) => tried.add(runName(decisions.slice(0, at + 1))))
    this.set({ rehearsal: { from, decisions, tried } })
  }

  /** The views are about the beat that is being played; it is no step that one would go back by. */
  follow(address: string): void {
    if (address === this.state.beat) return
    this.set({ scene: address.split('.')[0], beat: address })
    this.survey.watch(address)
  }

  /** Forgets which runs were tried, but for the one that is being played. */
  forgetTried(): void {
    const { decisions, from } = this.state.rehearsal
    this.set({
      rehearsal: { from, decisions, tried: new Set(decisions.map((_, at) => runName(decisions.slice(0, at + 1)))) },
    })
  }

  /** A field has begun (+1) or ended (−1) to hold something that is not an edit yet. */
  countDraft(by: 1 | -1): void {
    this.set({ drafts: this.state.drafts + by })
  }

  /** Says something on the page, until it is dismissed. */
  tell(notice: string): void {
    this.set({ notice })
  }

  dismissNotice(): void {
    this.set({ notice: undefined })
  }

  /** What the story names, for reading gates and effects: far cheaper than linking it. */
  naming = (): Naming => {
    const { story } = this.state
    if (this.named?.story !== story) this.named = { story, naming: namingOf(story, this.named?.naming) }
    return this.named.naming
  }

  /** The story with its names resolved, for playing it. */
  link = (): LinkedStory => {
    const { story } = this.state
    if (this.linked?.story !== story) this.linked = { story, linked: linkStory(story, this.linked?.linked) }
    return this.linked.linked
  }

  /** Sends what is pending, one edit after another; a call while that goes on waits for the same. */
  private send(): Promise<void> {
    if (!this.isSending) {
      this.isSending = true
      this.sending = this.sendAll().catch((error: unknown) => this.set({ notice: String(error) }))
    }
    return this.sending
  }

  private async sendAll(): Promise<void> {
    clearTimeout(this.retry)
    let away = await this.sendPending()
    // an edit may have come between the last look and this one; after this nothing is waited for
    while (away === undefined && this.pending.length > 0 && !this.closed) away = await this.sendPending()
    this.isSending = false
    if (away !== undefined) {
      this.set({
        saving: {
          kind: 'failed',
          message: `Not saved: ${away} Your edits are kept here and sent when it answers again.`,
        },
      })
      this.retry = setTimeout(() => void this.send(), RETRY_MS)
    } else if (!this.closed) this.set({ saving: { kind: 'saved' } })
  }

  /** Sends until nothing is left; gives the reason when the server is away. */
  private async sendPending(): Promise<string | undefined> {
    while (this.pending.length > 0 && !this.closed) {
      const { request, change } = this.pending[0]!
      const saved = await api.change(this.id, change, request)
      if (this.closed) break
      if (!saved.ok && saved.error.kind === 'away') return saved.error.message
      this.settlePending(request)
      if (!saved.ok) {
        await this.reload(`An edit was refused: ${saved.error.message}`)
        continue
      }
      this.hear({ ...saved.value, request })
      this.set({ canUndo: saved.value.canUndo || this.pending.length > 0, canRedo: saved.value.canRedo })
    }
    return undefined
  }

  private async travel(kind: 'undo' | 'redo'): Promise<void> {
    await this.send()
    if (this.pending.length > 0) return
    this.set({ saving: { kind: 'saving' } })
    const saved = await api.travel(this.id, kind, crypto.randomUUID())
    if (!saved.ok) {
      const away = saved.error.kind === 'away'
      this.set({
        saving: away ? { kind: 'failed', message: saved.error.message } : { kind: 'saved' },
        ...(away ? {} : { notice: saved.error.message }),
      })
      return
    }
    this.hear({ ...saved.value, request: '' })
    this.set({ canUndo: saved.value.canUndo, canRedo: saved.value.canRedo, saving: { kind: 'saved' } })
  }

  /** Makes the story what it was after a revision, as a new change. */
  async returnTo(revision: number): Promise<void> {
    await this.send()
    if (this.pending.length > 0) return
    const saved = await api.returnTo(this.id, revision, crypto.randomUUID())
    if (!saved.ok) return this.set({ notice: saved.error.message })
    this.hear({ ...saved.value, request: '' })
    this.set({ canUndo: saved.value.canUndo, canRedo: saved.value.canRedo })
  }

  /** Hears of every change that is saved to the story, also by other windows. */
  private listen(): void {
    if (typeof EventSource === 'undefined') return
    this.openEvents()
    if (typeof document !== 'undefined') document.addEventListener('visibilitychange', this.seen)
  }

  /** A browser keeps few connections to one server: a window that is not looked at gives its own back, and catches up later. */
  private readonly seen = (): void => {
    this.events?.close()
    this.events = undefined
    if (!document.hidden && !this.closed) this.openEvents()
  }

  private openEvents(): void {
    this.events = new EventSource(api.eventsPath(this.id))
    this.events.addEventListener('change', ({ data }: MessageEvent<string>) => {
      const told = JSON.parse(data) as Told
      this.hear(told)
      if (told.revision === this.base.revision)
        this.set({ canUndo: told.canUndo || this.pending.length > 0, canRedo: told.canRedo })
    })
    this.events.addEventListener('at', ({ data }: MessageEvent<string>) =>
      this.expect((JSON.parse(data) as { revision: number }).revision),
    )
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
      this.set({ story: this.rebased() })
      if (foreign.length === 1 && this.pending.length === 0) this.survey.change(foreign[0]!)
      else this.survey.open(this.state.story)
      this.settleBeat()
    }
    if (this.early.size > 0) this.expect(Math.max(...this.early.keys()))
  }

  /** The server is at this revision: what does not come by itself is fetched. */
  private expect(revision: number): void {
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
    const opened = await api.open(this.id)
    if (this.closed) return
    if (!opened.ok) {
      if (notice !== undefined) this.set({ notice: `${notice} ${opened.error.message}` })
      return
    }
    this.base = { story: opened.value.story, revision: opened.value.revision }
    for (const revision of [...this.early.keys()]) if (revision <= this.base.revision) this.early.delete(revision)
    this.set({
      story: this.rebased(),
      canUndo: opened.value.canUndo,
      canRedo: opened.value.canRedo,
      ...(notice === undefined ? {} : { notice }),
    })
    this.survey.open(this.state.story)
    this.settleBeat()
  }

  /** The beat that the views are about may be gone. */
  private settleBeat(): void {
    const { story, scene, beat } = this.state
    const known = story.scenes.find((one) => one.id === scene) ?? story.scenes[0]
    if (known?.beats.some((one) => `${known.id}.${one.id}` === beat)) return
    const next = known?.beats[0] && `${known.id}.${known.beats[0].id}`
    this.set({ scene: known?.id, beat: next })
    this.survey.watch(next)
  }

  private set(part: Partial<SessionState>): void {
    this.state = { ...this.state, ...part }
    for (const listener of this.listeners) listener()
  }
}
