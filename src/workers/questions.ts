import type { Chart } from '../core/atlas/chart'
import type { Change } from '../core/story/changes/types'
import type { Beginning } from '../core/play/save'
import type { Use } from '../core/story/linked'
import type { RouteItem, Story } from '../core/story/types'
import type { Finding, FindingKind } from '../core/survey/findings/finding'
import type { Carried } from '../core/survey/carry/carried'
import type { SurveyDifference } from '../core/survey/questions/difference'
import type { TakenValues } from '../core/survey/questions/entry-values'
import type { FoundRoute } from '../core/survey/questions/find-route'
import type { Mend } from '../core/survey/questions/mends'
import type { NoReturn } from '../core/survey/questions/no-return'
import type { Axis, CallSheet } from '../core/survey/questions/quests/call-sheet'
import type { QuestFacts } from '../core/survey/questions/quests/quest-facts'
import type { Outlook } from '../core/survey/questions/outlook'
import type { ReadingList } from '../core/survey/questions/reading-routes'
import type { WhyNot } from '../core/survey/questions/why-not'
import type { Reachable } from '../core/survey/result'

/** The difference, and whether both surveys were finished in time. */
export interface Compared {
  readonly complete: boolean
  readonly difference: SurveyDifference
}

/** Everything that can be asked of the survey's worker: what is asked, and what is answered. */
export interface Questions {
  /** Why is nothing coming to this item? */
  why: { ask: { readonly address: string }; answer: WhyNot }
  /** What would a change do to the verdicts? It is not made. */
  'what-if': { ask: { readonly change: Change }; answer: Compared }
  /** What do the verdicts of one story say that those of another do not? */
  compare: { ask: { readonly before: Story; readonly after: Story }; answer: Compared }
  /** What becomes of players who are in the middle of one story when another takes its place? */
  carry: { ask: { readonly before: Story; readonly after: Story }; answer: Carried }
  /** By which shortest route does this come to hold? */
  find: { ask: { readonly condition: string }; answer: FoundRoute }
  /** By which shortest route is this reached? Undefined where it is not. */
  'route-to': {
    ask: { readonly what: Reachable; readonly address: string }
    answer: readonly RouteItem[] | undefined
  }
  /** By which route is this finding shown? */
  'route-of': {
    ask: { readonly kind: FindingKind; readonly key: readonly string[] }
    answer: readonly RouteItem[] | undefined
  }
  /** Which decisions close which endings? */
  'no-return': { ask: Nothing; answer: readonly NoReturn[] | 'too many' }
  /** Which moves do quests really make, and what makes them? By quest. */
  'quest-facts': { ask: Nothing; answer: Readonly<Record<string, QuestFacts>> | 'too many' }
  /** Who says what at which stage of these quests; without an axis, when met first and later? */
  'call-sheet': { ask: { readonly axis: Axis | undefined }; answer: CallSheet | 'too many' }
  /** Which values does each entry really take? By entry; those that are not known are left out. */
  'entry-values': { ask: Nothing; answer: Readonly<Record<string, TakenValues>> }
  /** Which edit would settle this finding? Undefined where none is known. */
  mend: { ask: { readonly finding: Finding }; answer: Mend | undefined }
  /** Where does everything stand on the chart, as far as roads alone tell? Answered while the survey goes on. */
  'chart-by-roads': { ask: Nothing; answer: Chart }
  /** Where does everything stand on the chart? */
  chart: { ask: Nothing; answer: Chart }
  /** From where can which ending be reached? */
  outlook: { ask: Nothing; answer: Outlook }
  /** Through which beats does one come to a beat on a shortest route, or play by these decisions? */
  path: {
    ask: { readonly to: string } | { readonly decisions: readonly RouteItem[]; readonly from: Beginning | undefined }
    answer: readonly string[] | undefined
  }
  /** Where is an entry or a quest read and changed? */
  uses: { ask: Pick<Use, 'of' | 'id'>; answer: readonly Use[] }
  /** Which routes together show everything? */
  'reading-list': { ask: Nothing; answer: ReadingList | 'too many' }
}

type Nothing = Readonly<Record<never, never>>

export type QuestionName = keyof Questions
export type Ask<N extends QuestionName> = Questions[N]['ask']
export type Answer<N extends QuestionName> = Questions[N]['answer']
