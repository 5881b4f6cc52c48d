import type { LinkedStory } from '../story/linked'
import type { Search } from './explicit/search'
import type { EndingProspects } from './prospects'
import type { Routes } from './routes'
import type { PromiseVerdict } from './result'

/** What the findings are read from. */
export interface SurveyContext {
  readonly story: LinkedStory
  readonly search: Search
  readonly routes: Routes
  readonly complete: boolean
  /** Searches that follow one entry each, for its overruns alone. */
  readonly aside: readonly { readonly search: Search; readonly routes: Routes }[]
  readonly promises: Readonly<Record<string, PromiseVerdict>>
  readonly endings: EndingProspects
}
