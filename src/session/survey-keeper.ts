import type { Story } from '../core/story/types'
import type { SurveyReport } from './survey-report'

/** What it looks at: all of one moment. */
export interface SurveyedAt {
  readonly story: Story
  /** The revision that the story is at; undefined while edits are on their way. */
  readonly revision: number | undefined
  /** The survey of this very story; undefined while it goes on. */
  readonly report: SurveyReport | undefined
}

/** Has what each survey said kept with the story. */
export class SurveyKeeper {
  private timer: ReturnType<typeof setTimeout> | undefined
  /** What was kept last. */
  private kept: { readonly revision: number; readonly report: SurveyReport } | undefined

  constructor(
    /** After a survey, until what it said is kept, in milliseconds. */
    private readonly settledMs: number,
    private readonly look: () => SurveyedAt,
    private readonly keep: (revision: number, story: Story, report: SurveyReport) => void,
  ) {}

  /** It is kept already. */
  know(revision: number, report: SurveyReport): void {
    this.kept = { revision, report }
  }

  /** Something has changed that there may be a survey of. */
  touch(): void {
    clearTimeout(this.timer)
    this.timer = setTimeout(() => this.settle(), this.settledMs)
  }

  /** Keeps what is known now; the page is being left. */
  close(): void {
    if (this.timer !== undefined) this.settle()
  }

  /** Keeps nothing more. */
  stop(): void {
    clearTimeout(this.timer)
  }

  private settle(): void {
    clearTimeout(this.timer)
    this.timer = undefined
    const { story, revision, report } = this.look()
    if (revision === undefined || report === undefined) return
    if (this.kept?.revision === revision && this.kept.report === report) return
    this.know(revision, report)
    this.keep(revision, story, report)
  }
}
