import type { SurveyContext } from '../context'
import type { Found } from '../result'
import { alwaysOpen } from './always-open'
import { deadEnds } from './dead-end'
import { endlessRuns } from './endless-run'
import { noWayOut } from './no-way-out'
import { overruns } from './overrun'
import { problems } from './problem'
import { brokenPromises } from './promise-broken'
import { questEnds } from './quest-ends'
import { brokenRoutes } from './route-broken'
import { undeclaredMoves } from './undeclared-move'
import { unreached } from './unreached'
import { unsetTexts } from './unset-text'
import { unusedEntries } from './unused-entry'
import { inDocumentOrder } from '../summaries/document-order'

/** What a kind finds, in the order of the document; findings come in that in which they were met. */
const inOrder =
  (find: (context: SurveyContext) => Found[], part: number) =>
  (context: SurveyContext): Found[] =>
    inDocumentOrder(context.story, find(context), ({ key }) => key[part]!)

/** Every kind of finding, in the order in which they are listed. */
const KINDS: readonly ((context: SurveyContext) => Found[])[] = [
  ({ story }) => problems(story),
  unreached,
  inOrder(deadEnds, 0),
  (context) => context.answers?.noWayOut ?? noWayOut(context),
  inOrder(endlessRuns, 0),
  brokenPromises,
  ({ story }) => brokenRoutes(story),
  undeclaredMoves,
  (context) => context.answers?.questEnds ?? questEnds(context),
  inOrder(overruns, 1),
  inOrder(unsetTexts, 1),
  inOrder(alwaysOpen, 0),
  ({ story }) => unusedEntries(story),
]

export function allFindings(context: SurveyContext): Found[] {
  return KINDS.flatMap((kind) => kind(context))
}
