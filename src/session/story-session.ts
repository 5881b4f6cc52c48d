import { may, type Role } from '../core/contract/access'
import { parseAddress } from '../core/base/address'
import { beatAddress } from '../core/base/ids'
import type { Beginning } from '../core/play/save'
import { beatAt } from '../core/story/beat-at'
import type { Change } from '../core/story/changes/types'
import { linkStory } from '../core/story/link'
import type { LinkedStory } from '../core/story/linked'
import type { RouteItem, Story } from '../core/story/types'
import { api } from './api'
import type { KeptPlaytest, Opened } from '../core/contract/answers'
import type { Jobs } from '../core/contract/jobs'
import { namingOf, type Naming } from './naming'
import { PendingStore } from './pending'
import { ServerEvents } from './server-events'
import { SimulationHandle, type SimulationState, NO_SIMULATION } from './simulation-handle'
import { StorySync, type Synced } from './story-sync'
import { ServerWork } from './server-work'
import { KeptSurveys } from './kept-surveys'
import type { SurveyedAt } from './survey-keeper'
import { NO_SURVEY, SurveyHandle, type SurveyState } from './survey-handle'
import { Playtests } from './playtests'
import { ReleasedWatch, type Released } from './released'
import { ALONE, Together, type TogetherState } from './together'
import { Trail } from './trail'

export interface SessionState extends Synced, TogetherState {
  readonly survey: SurveyState
  /** The scene and beat that the views are about. */
  readonly scene: string | undefined
  readonly beat: string | undefined
  /** Grows each time the views are asked to show the beat, wherever they have been scrolled to. */
  readonly shown: number
  /** Beats that are chosen together. */
  readonly chosen: readonly string[]
  readonly rehearsal: Rehearsal
  /** Playthroughs recorded elsewhere; undefined until somebody asked for them. */
  readonly playtests: readonly KeptPlaytest[] | undefined
  /** What simulated players met. */
  readonly simulation: SimulationState
  /** Fields in which something was typed that is no edit yet. */
  readonly drafts: number
  /** The last change that somebody else made while one looks. */
  readonly byOther: ByOther | undefined
  /** Heavy work that was asked for; undefined until somebody looked. */
  readonly jobs: Jobs | undefined
  /** Versions that players have, and what becomes of their saves. */
  readonly released: readonly Released[]
  /** The last thing that went wrong, until it is dismissed. */
  readonly notice: string | undefined
  /** What one is in the story; its owner where there are no accounts. */
  readonly role: Role
  /** What the notice offers: to take back, or bring back, the last step whoever made it. */
  readonly offered: 'undo' | 'redo' | undefined
}

/** Who changed what. */
export interface ByOther {
  readonly name: string
  readonly summary: string
  readonly revision: number
}

/** What is rehearsed: decisions from the start, from values set by hand, or from a save. */
export interface Rehearsal {
  readonly from: Beginning | undefined
  readonly decisions: readonly RouteItem[]
  /** Every run that was tried from there, by the decisions up to each point, in the order of trying. */
  readonly tried: ReadonlySet<string>
}

/** By what a run is known among those that were tried. */
export function runName(decisions: readonly RouteItem[]): string {
  return JSON.stringify(decisions)
}

/** One open story on this page: the document, its edits on their way to the server, and its survey. */
export class StorySession {
  private state: SessionState
  private readonly listeners = new Set<() => void>()
  /** The survey's worker: what is asked of it is answered for the story as it is now. */
  readonly survey: SurveyHandle
  private readonly sync: StorySync
  private readonly events: ServerEvents
  private readonly trail = new Trail()
  /** What edits do to players of released versions; made once the survey is. */
  readonly released: ReleasedWatch | undefined
  /** What others do in the same story; undefined without accounts. */
  readonly together: Together | undefined
  /** Heavy work that is done beside the page. */
  readonly work: ServerWork
  /** Simulated players, for as long as this page is open. */
  readonly players: SimulationHandle
  /** How others played it. */
  readonly playtests: Playtests
  private readonly kept: KeptSurveys
  private named: { readonly story: Story; readonly naming: Naming } | undefined
  private linked: { readonly story: Story; readonly linked: LinkedStory } | undefined

  constructor(
    readonly id: string,
    opened: Opened,
    /** The member who looks at it; undefined where there are no accounts. */
    readonly self?: string,
  ) {
    this.sync = new StorySync(id, opened, api, new PendingStore(id), {
      changed: (part, by) => this.follow(part, by),
      notice: (notice, offered) => this.set({ notice, offered }),
    })
    const { story } = this.sync.state
    const scene = story.scenes[0]
    this.state = {
      ...this.sync.state,
      survey: NO_SURVEY,
      scene: scene?.id,
      beat: scene?.beats[0] && beatAddress(scene.id, scene.beats[0].id),
      shown: 0,
      chosen: [],
      rehearsal: { from: undefined, decisions: [], tried: new Set() },
      playtests: undefined,
      simulation: NO_SIMULATION,
      drafts: 0,
      notice: undefined,
      offered: undefined,
      role: opened.role,
      ...ALONE,
      released: [],
      jobs: undefined,
      byOther: undefined,
    }
    this.trail.remember(this.state.beat)
    this.kept = new KeptSurveys(
      id,
      opened,
      () => this.surveyed,
      () => this.mayWrite,
    )
    this.playtests = new Playtests(id, {
      known: (playtests) => this.set({ playtests }),
      tell: (notice) => this.tell(notice),
    })
    this.players = new SimulationHandle((simulation) => this.set({ simulation }))
    this.work = new ServerWork(id, {
      changed: (jobs) => this.set({ jobs }),
      look: () => {
        const { survey, story, saving } = this.state
        const isCutShort = survey.running === undefined && survey.report?.complete === false
        return { story, revision: saving.kind === 'saved' ? this.sync.revision : undefined, isCutShort }
      },
      survey: (far, took) => this.survey.adopt(far, took),
      carried: (far) => this.released?.know(far, this.state.story),
      figures: (result, story) => this.players.show(result, story),
    })
    this.survey = new SurveyHandle(
      (survey) => {
        this.set({ survey })
        this.kept.touch()
        this.released?.touch()
        this.work.touch()
      },
      () => this.state.story,
    )
    this.survey.open(story)
    this.survey.watch(this.state.beat)
    this.events = new ServerEvents(id, {
      change: (told) => {
        this.sync.told(told)
        const { by, summary, revision } = told
        if (by && by.id !== self) this.set({ byOther: { name: by.name, summary, revision } })
      },
      at: (revision, role) => {
        if (role !== undefined) this.set({ role })
        this.sync.expect(revision)
      },
      news: (event, data) => {
        if (event === 'jobs') this.work.hear()
        else if (event === 'released') void this.released?.read()
        else this.together?.hear(event, data)
      },
      deaf: () => void this.findOut(),
    })
    this.released = new ReleasedWatch(
      id,
      opened.released,
      () => ({ story: this.state.story, isSettled: this.state.survey.running === undefined }),
      (before, after) => this.survey.ask('carry', { before, after }),
      (released) => this.set({ released }),
    )
    if (self !== undefined)
      this.together = new Together(
        id,
        () => this.sync.revision ?? 0,
        (state) => this.set(state),
      )
    this.together?.goTo(this.state.beat)
    void this.sync.send()
  }

  getState = (): SessionState => this.state

  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener)
    return () => this.listeners.delete(listener)
  }

  /** Shows what was kept of an earlier survey, if there is none yet: once the story is drawn, since a long one takes a while to be read. */
  recall(): void {
    const { story, survey } = this.state
    this.kept.recall(story, this.survey, survey.report !== undefined)
  }

  close(): void {
    this.kept.close()
    this.sync.close()
    this.events.close()
    this.survey.close()
    this.players.close()
    this.together?.close()
    this.work.close()
    this.released?.close()
  }

  /** Whether one may change the story. */
  get mayWrite(): boolean {
    return may(this.state.role, 'write')
  }

  /** Makes an edit here at once, and sends it. Says why when it can't be made. */
  edit(change: Change): string | undefined {
    if (this.mayWrite) return this.sync.edit(change)
    const why = 'You may read this story, but not change it. One of its owners can give you more.'
    this.set({ notice: why })
    return why
  }

  /** The server refuses to tell this window of changes: says why. */
  private async findOut(): Promise<void> {
    const asked = await api.history(this.id, 1)
    if (asked.ok || (asked.error.kind === 'away' && asked.error.isSignedOut === undefined)) return
    const what = asked.error.isSignedOut ? asked.error.message : 'This story is not open to you any more.'
    this.set({ notice: what })
  }

  /** Makes an edit that was refused once more. Says why when it can't be made. */
  tryAgain(request: string): string | undefined {
    return this.sync.tryAgain(request)
  }

  /** Lets an edit go that was refused. */
  forgetRefused(request: string): void {
    this.sync.forget(request)
  }

  /** Takes this window's last edit back, or brings it again; with `anyones` the last one of all. */
  travel(kind: 'undo' | 'redo', anyones = false): Promise<void> {
    this.set({ notice: undefined, offered: undefined })
    return this.sync.travel(kind, anyones)
  }

  /** Makes the story what it was after a revision, as a new change. */
  returnTo(revision: number): Promise<void> {
    return this.sync.returnTo(revision)
  }

  /** The story, or how it stands with the server, has changed. */
  private follow(part: Partial<Synced>, by: Change | 'anew' | undefined): void {
    this.set(part)
    this.kept.touch()
    if (by === undefined) return
    if (by === 'anew') this.survey.open(this.state.story)
    else this.survey.change(by)
    this.settleBeat()
  }

  /** The survey of the story as it is now. */
  private get surveyed(): SurveyedAt {
    const { story, survey } = this.state
    const isSettled = survey.running === undefined && survey.failure === undefined
    return { story, revision: this.sync.revision, report: isSettled ? survey.report : undefined }
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
    // what leads to a scene leads to its first beat
    const { scene = address, beat } = parseAddress(address) ?? {}
    const known = this.state.story.scenes.find((one) => one.id === scene)
    if (known === undefined) return
    const found = known.beats.find((one) => one.id === beat) ?? known.beats[0]
    const chosen = found && beatAddress(scene, found.id)
    if (chosen === this.state.beat && scene === this.state.scene) return
    this.trail.remember(chosen)
    this.set({ scene, beat: chosen })
    this.survey.watch(chosen)
  }

  /** Back (−1) or forward (1) through the beats one has been at. */
  walkTrail(step: 1 | -1): void {
    const beat = this.trail.walk(step, (address) => beatAt(this.state.story, address) !== undefined)
    if (beat === undefined) return
    this.set({ scene: parseAddress(beat)?.scene, beat, shown: this.state.shown + 1 })
    this.survey.watch(beat)
  }

  /** Plays decisions in the rehearsal; what was tried before from the same beginning stays known. */
  rehearse(decisions: readonly RouteItem[], from?: Beginning): void {
    const tried = new Set(from === this.state.rehearsal.from ? this.state.rehearsal.tried : [])
    decisions.forEach((_, at) => tried.add(runName(decisions.slice(0, at + 1))))
    this.set({ rehearsal: { from, decisions, tried } })
  }

  /** The views are about the beat that is being played; it is no step that one would go back by. */
  followPlay(address: string): void {
    if (address === this.state.beat) return
    this.set({ scene: parseAddress(address)?.scene, beat: address })
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
    this.set({ notice, offered: undefined })
  }

  dismissNotice(): void {
    this.set({ notice: undefined, offered: undefined })
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

  /** The beat that the views are about may be gone. */
  private settleBeat(): void {
    const { story, scene, beat } = this.state
    const known = story.scenes.find((one) => one.id === scene) ?? story.scenes[0]
    if (known?.beats.some((one) => beatAddress(known.id, one.id) === beat)) return
    const next = known?.beats[0] && beatAddress(known.id, known.beats[0].id)
    this.set({ scene: known?.id, beat: next })
    this.survey.watch(next)
  }

  private set(part: Partial<SessionState>): void {
    this.state = { ...this.state, ...part }
    for (const listener of this.listeners) listener()
    if (part.beat !== undefined) this.together?.goTo(part.beat)
  }
}
