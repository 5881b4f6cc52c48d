import type { Facts } from '../core/contract/answers'
import type { Story } from '../core/story/types'
import { storyFacts } from '../core/survey/questions/story-facts'
import type { SurveyReport } from './survey-report'

/** After a survey, until its facts are kept: who goes on typing has the next one soon. In milliseconds. */
const SETTLED_MS = 400

/** What it looks at: all of one moment. */
export interface FactsAt {
  readonly story: Story
  /** The revision that the story is at; undefined while edits are on their way. */
  readonly revision: number | undefined
  /** The survey of this very story; undefined while it goes on. */
  readonly report: SurveyReport | undefined
}

/** Has the facts of each survey kept with the story, for the library. */
export class FactsKeeper {
  private timer: ReturnType<typeof setTimeout> | undefined
  private kept: number | undefined

  constructor(
    private readonly look: () => FactsAt,
    private readonly keep: (revision: number, facts: Facts) => void,
  ) {}

  /** Something has changed that may make facts. */
  touch(): void {
    clearTimeout(this.timer)
    this.timer = setTimeout(() => this.settle(), SETTLED_MS)
  }

  /** Keeps what is known now; the page is being left. */
  close(): void {
    if (this.timer !== undefined) this.settle()
  }

  private settle(): void {
    clearTimeout(this.timer)
    this.timer = undefined
    const { story, revision, report } = this.look()
    if (revision === undefined || report === undefined || revision === this.kept) return
    this.kept = revision
    this.keep(revision, storyFacts(story, report))
  }
}
