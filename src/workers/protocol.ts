import type { Result } from '../core/base/result'
import type { Spliced } from '../core/base/spliced'
import type { SimulationOptions, SimulationResult } from '../core/simulate/result'
import type { Change } from '../core/story/changes/types'
import type { Story } from '../core/story/types'
import type { Finding } from '../core/survey/findings/finding'
import type { Bearing } from '../core/survey/questions/bearing'
import type { SurveyBrief } from '../core/survey/result'
import type { Ask, QuestionName } from './questions'

/** What the page tells the survey's worker. `version` counts the edits of the page. */
export type ToSurvey =
  /** The story as JSON: a large one is read from a text in less than half the time that handing over its objects takes. */
  | { readonly type: 'open'; readonly story: string; readonly version: number }
  | { readonly type: 'change'; readonly change: Change; readonly version: number }
  /** Answer with what is decided so far. */
  | { readonly type: 'stop' }
  /** Nobody waits for the answer to a question any more. */
  | { readonly type: 'withdraw'; readonly request: number }
  /** Forget the story: another will be opened. */
  | { readonly type: 'close' }
  /** Which beat's bearing to send after every survey; undefined: none. */
  | { readonly type: 'watch'; readonly beat: string | undefined }
  /** One of the questions; it is answered under its number. */
  | {
      readonly [N in QuestionName]: {
        readonly type: 'ask'
        readonly request: number
        readonly name: N
        readonly ask: Ask<N>
      }
    }[QuestionName]

/** What a survey says, without what the report before it said already. */
export interface Report extends Omit<SurveyBrief, 'findings'> {
  /** Of all beats and choices, in the order of their verdicts. */
  readonly addresses: { readonly beats: Spliced<string>; readonly choices: Spliced<string> }
  readonly findings: Spliced<Finding>
  /** From the edit to the answer, in milliseconds. */
  readonly took: number
}

export type FromSurvey =
  /** The story that was open is forgotten. */
  | { readonly type: 'closed'; readonly version: number }
  | { readonly type: 'progress'; readonly version: number; readonly states: number; readonly waiting: number }
  | { readonly type: 'report'; readonly version: number; readonly report: Report }
  /** The edit changed nothing that a verdict depends on: the last report still holds. */
  | { readonly type: 'unchanged'; readonly version: number }
  | { readonly type: 'bearing'; readonly version: number; readonly bearing: Result<Bearing | undefined> }
  /** A question is being worked at for so long, in milliseconds. */
  | { readonly type: 'answering'; readonly request: number; readonly name: QuestionName; readonly took: number }
  /** The answer to a question, or why there is none. */
  | { readonly type: 'answered'; readonly request: number; readonly answer: Result<unknown> }
  /** The survey failed; the next edit begins another. */
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
