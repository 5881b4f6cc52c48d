import type { Opened } from '../core/contract/answers'
import type { Story } from '../core/story/types'
import { keptSurvey, recalledSurvey } from '../core/survey/kept-survey'
import { storyFacts, type StoryFacts } from '../core/survey/questions/story-facts'
import { api } from './api'
import type { SurveyHandle } from './survey-handle'
import { SurveyKeeper, type SurveyedAt } from './survey-keeper'
import type { SurveyReport } from './survey-report'

/** Which state of the program surveys here; none while it is worked on, and then nothing is kept. */
const SURVEYOR = process.env.SURVEYOR ?? ''
/** After a survey, until what the library says of it is kept, and until all of it is: who goes on typing has the next one soon. In milliseconds. */
const FACTS_MS = 400
const SURVEY_MS = 3_000

/** What is kept of the surveys of an open story: for the library, and for whoever opens it next; and what was kept of the last. */
export class KeptSurveys {
  private readonly facts: SurveyKeeper
  private readonly whole: SurveyKeeper
  /** What was kept of a survey, and of which story, until it is read. */
  private unread: Pick<Opened, 'story' | 'revision' | 'survey'> | undefined
  private known: { readonly story: Story; readonly report: SurveyReport; readonly facts: StoryFacts } | undefined

  constructor(id: string, opened: Opened, look: () => SurveyedAt, mayWrite: () => boolean) {
    this.unread = opened
    this.facts = new SurveyKeeper(
      FACTS_MS,
      look,
      (revision, story, report) => mayWrite() && void api.keepFacts(id, revision, this.factsOf(story, report)),
    )
    this.whole = new SurveyKeeper(SURVEY_MS, look, (revision, story, report) => {
      const kept = keptSurvey(report.brief, report.took, SURVEYOR)
      if (kept !== undefined && mayWrite()) void api.keepSurvey(id, revision, this.factsOf(story, report), kept)
    })
  }

  /** The story, or its survey, has changed. */
  touch(): void {
    this.facts.touch()
    this.whole.touch()
  }

  /** Shows what was kept of an earlier survey, if it is of this story and there is none yet. */
  recall(story: Story, survey: SurveyHandle, isSurveyed: boolean): void {
    const { unread } = this
    this.unread = undefined
    if (unread?.story !== story || isSurveyed) return
    const recalled = recalledSurvey(unread.survey, story, SURVEYOR)
    if (recalled === undefined) return
    const report = survey.recall(recalled.far, recalled.took)
    for (const keeper of [this.facts, this.whole]) keeper.know(unread.revision, report)
  }

  /** The page is being left. */
  close(): void {
    this.facts.close()
    this.whole.stop()
  }

  private factsOf(story: Story, report: SurveyReport): StoryFacts {
    if (this.known?.story !== story || this.known.report !== report)
      this.known = { story, report, facts: storyFacts(story, report) }
    return this.known.facts
  }
}
