import type { Bearing } from '../core/survey/questions/bearing'
import type { WhyNot } from '../core/survey/questions/why-not'
import type { FoundRoute } from '../core/survey/questions/find-route'
import type { NoReturn } from '../core/survey/questions/no-return'
import type { TakenValues } from '../core/survey/questions/entry-values'
import type { SurveyDifference } from '../core/survey/questions/difference'
import type { ReadingList } from '../core/survey/questions/reading-list'
import type { Mend } from '../core/survey/questions/mends'
import type { Finding, FindingKind } from '../core/survey/findings/finding'
import type { Reachable, SurveyTold } from '../core/survey/result'
import type { SimulationOptions, SimulationResult } from '../core/simulate/simulation'
import type { Axis, CallSheet } from '../core/survey/questions/quests/call-sheet'
import type { QuestFacts } from '../core/survey/questions/quests/quest-facts'
import type { Change } from '../core/story/changes/types'
import type { Decision, Story } from '../core/story/types'

/** What the page tells the survey's worker. `version` counts the edits of the page. */
export type ToSurvey =
  /** The story as JSON: a large one is read from a text in less than half the time that handing over its objects takes. */
  | { readonly type: 'open'; readonly story: string; readonly version: number }
  | { readonly type: 'change'; readonly change: Change; readonly version: number }
  /** Answer with what is decided so far. */
  | { readonly type: 'stop' }
  /** Forget the story: another will be opened. */
  | { readonly type: 'close' }
  /** Which beat's bearing to send after every survey; undefined: none. */
  | { readonly type: 'watch'; readonly beat: string | undefined }
  /** Why is nothing coming to this item? */
  | { readonly type: 'why'; readonly address: string }
  /** What would a change do to the verdicts? It is not made. */
  | { readonly type: 'what-if'; readonly request: number; readonly change: Change }
  /** By which shortest route does this come to hold? */
  | { readonly type: 'find'; readonly request: number; readonly condition: string }
  /** By which shortest route is this reached? */
  | { readonly type: 'route-to'; readonly request: number; readonly what: Reachable; readonly address: string }
  /** By which route is this finding shown? */
  | { readonly type: 'route-of'; readonly request: number; readonly kind: FindingKind; readonly key: readonly string[] }
  /** Which decisions close which endings? */
  | { readonly type: 'no-return'; readonly request: number }
  /** Which moves do quests really make, and what makes them? */
  | { readonly type: 'quest-facts'; readonly request: number }
  /** Who says what at which stage of these quests; without an axis, when met first and later? */
  | { readonly type: 'call-sheet'; readonly request: number; readonly axis: Axis | undefined }
  /** Which values does each entry really take? */
  | { readonly type: 'entry-values'; readonly request: number }
  /** Which edit would settle this finding? */
  | { readonly type: 'mend'; readonly request: number; readonly finding: Finding }
  /** Which routes together show everything? */
  | { readonly type: 'reading-list'; readonly request: number }
  /** What do the verdicts of one story say that those of another do not? */
  | { readonly type: 'compare'; readonly request: number; readonly before: Story; readonly after: Story }

/** What a survey says, without what the report before it said already. */
export interface Report extends Omit<SurveyTold, 'findings'> {
  /** Of all beats and choices, in the order of their verdicts; left out where they are called as in the last report. */
  readonly addresses?: { readonly beats: readonly string[]; readonly choices: readonly string[] }
  readonly findings: SplicedFindings
  /** From the edit to the answer, in milliseconds. */
  readonly took: number
}

/** Of the findings of the report before, the first and the last so many stay; between them come others. */
export interface SplicedFindings {
  readonly first: number
  readonly between: readonly Finding[]
  readonly last: number
}

/** The difference, and whether both surveys were finished in time. */
export type Compared =
  | { readonly ok: true; readonly complete: boolean; readonly difference: SurveyDifference }
  | { readonly ok: false; readonly message: string }

export type FromSurvey =
  /** The story that was open is forgotten. */
  | { readonly type: 'closed'; readonly version: number }
  | { readonly type: 'progress'; readonly version: number; readonly states: number; readonly waiting: number }
  | { readonly type: 'report'; readonly version: number; readonly report: Report }
  /** The edit changed nothing that a verdict depends on: the last report still holds. */
  | { readonly type: 'unchanged'; readonly version: number }
  | { readonly type: 'bearing'; readonly version: number; readonly bearing: Bearing | undefined }
  | { readonly type: 'why'; readonly version: number; readonly answer: WhyNot }
  | {
      readonly type: 'answer'
      readonly request: number
      readonly answer:
        | Compared
        | Readonly<Record<string, TakenValues>>
        | CallSheet
        | Readonly<Record<string, QuestFacts>>
        | FoundRoute
        | readonly Decision[]
        | ReadingList
        | Mend
        | undefined
        | readonly NoReturn[]
        | 'too many'
    }
  | { readonly type: 'failed'; readonly version: number; readonly message: string }

/** What the page tells the worker of the simulated players. */
export type ToSimulation =
  | {
      readonly type: 'simulate'
      readonly request: number
      readonly story: Story
      readonly plays: number
      readonly options: SimulationOptions
    }
  /** Tell what was played so far. */
  | { readonly type: 'stop' }

export type FromSimulation =
  | { readonly type: 'played'; readonly request: number; readonly plays: number }
  | { readonly type: 'simulated'; readonly request: number; readonly result: SimulationResult }
  | { readonly type: 'refused'; readonly request: number; readonly message: string }
