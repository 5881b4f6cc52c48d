import type { Result } from '../core/base/result'
import type { Job, JobAsk, Jobs } from '../core/contract/jobs'
import type { SimulationResult } from '../core/simulate/result'
import type { Story } from '../core/story/types'
import type { FarCarried } from '../core/survey/carry/carried'
import type { FarSurvey } from '../core/survey/far-survey'
import { api, type ApiError } from './api'
import { jobsApi } from './jobs-api'

/** Between two looks how far it is, in milliseconds. */
const LOOK_MS = 1_000

/** What of the page the work is for. */
export interface Around {
  changed(jobs: Jobs): void
  /** The story that is shown, its revision where all is saved, and whether the page's own survey was cut short. */
  look(): { readonly story: Story; readonly revision: number | undefined; readonly isCutShort: boolean }
  survey(far: FarSurvey, took: number): void
  carried(far: readonly FarCarried[]): void
  figures(result: SimulationResult, story: Story): void
}

/** Heavy work for one open story that is done beside the page: what was asked for, how far it is, and what it came to. */
export class ServerWork {
  private jobs: Jobs | undefined
  private timer: ReturnType<typeof setTimeout> | undefined
  private closed = false
  /** Jobs whose outcome the page has. */
  private readonly taken = new Set<string>()

  constructor(
    private readonly id: string,
    private readonly around: Around,
    private readonly server: Omit<typeof jobsApi, 'nights' | 'beginNight' | 'cancelNight'> = jobsApi,
    private readonly stories: Pick<typeof api, 'at'> = api,
  ) {}

  close(): void {
    this.closed = true
    clearTimeout(this.timer)
  }

  /** Reads it, and again for as long as something is under way. */
  async read(): Promise<void> {
    clearTimeout(this.timer)
    const read = await this.server.list(this.id)
    if (this.closed) return
    clearTimeout(this.timer)
    if (read.ok) {
      this.jobs = read.value
      this.around.changed(read.value)
      this.touch()
    }
    if (this.jobs?.jobs.some(isUnderWay)) this.timer = setTimeout(() => void this.read(), LOOK_MS)
  }

  /** The server says that there is something new. */
  hear(): void {
    // who never looked does not want to know
    if (this.jobs !== undefined) void this.read()
  }

  async begin(ask: JobAsk): Promise<Result<unknown, ApiError>> {
    const begun = await this.server.begin(this.id, ask)
    await this.read()
    return begun
  }

  async cancel(job: string): Promise<Result<unknown, ApiError>> {
    const ended = await this.server.cancel(this.id, job)
    await this.read()
    return ended
  }

  /** What holds for the story as it is shown is taken over. */
  touch(): void {
    const { revision, isCutShort } = this.around.look()
    const latest = (kind: JobAsk['kind']) =>
      this.jobs?.jobs.find(
        (job) => job.ask.kind === kind && job.state === 'done' && job.revision === revision && !this.taken.has(job.id),
      )
    const survey = isCutShort ? latest('survey') : undefined
    if (survey !== undefined) void this.takeSurvey(survey)
    const carried = latest('carry')
    if (carried !== undefined) void this.takeCarried(carried)
  }

  private async takeSurvey(job: Job): Promise<void> {
    const { story } = this.around.look()
    const far = await this.server.survey(this.id, job.id)
    // the page's own survey may have begun anew
    const { story: now, isCutShort } = this.around.look()
    if (!far.ok || this.closed || now !== story || !isCutShort) return
    this.around.survey(far.value, Date.parse(job.endedAt!) - Date.parse(job.madeAt))
  }

  private async takeCarried(job: Job): Promise<void> {
    this.taken.add(job.id)
    const { story } = this.around.look()
    const far = await this.server.carried(this.id, job.id)
    if (far.ok && !this.closed && this.around.look().story === story) this.around.carried(far.value)
  }

  /** Shows what simulated players met, of the story that they played. Says why it can't be shown. */
  async show(job: Job): Promise<string | undefined> {
    const figures = await this.server.figures(this.id, job.id)
    if (!figures.ok) return figures.error.message
    const { story, revision } = this.around.look()
    const then = job.revision === revision ? story : await this.storyAt(job.revision)
    if (then === undefined) return 'The story as it was then could not be read.'
    this.around.figures(figures.value, then)
    return undefined
  }

  private async storyAt(revision: number): Promise<Story | undefined> {
    const read = await this.stories.at(this.id, revision)
    return read.ok ? read.value.story : undefined
  }
}

export function isUnderWay({ state }: Job): boolean {
  return state === 'waiting' || state === 'running'
}
