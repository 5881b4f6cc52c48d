import type { LinkedStory } from '../story/linked'
import type { Answers } from './symbolic/answers'
import type { Search } from './explicit/search'
import type { EndingProspects } from './explicit/prospects'
import type { Routes } from './explicit/routes'
import type { PromiseVerdict } from './result'
import type { Seen } from './seen'

/** What the findings are read from. */
export interface SurveyContext {
  readonly story: LinkedStory
  readonly search: Search
  readonly routes: Routes
  readonly seen: Seen
  readonly complete: boolean
  /** Searches that follow one entry each, for its overruns alone. */
  readonly aside: readonly Seen[]
  readonly promises: Readonly<Record<string, PromiseVerdict>>
  readonly endings: () => EndingProspects
  /** What was found out over sets of states instead. */
  readonly answers: Answers | undefined
}
