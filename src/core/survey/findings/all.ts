import type { Explored } from './exploration'
import { columnOf, type Found } from './finding'
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
  (find: (explored: Explored) => Found[]) =>
  (explored: Explored): Found[] =>
    inDocumentOrder(explored.story, find(explored), ({ kind, key }) => key[columnOf(kind, 'address')]!)

/** Every kind of finding, in the order in which they are listed. */
const KINDS: readonly ((explored: Explored) => Found[])[] = [
  ({ story }) => problems(story),
  unreached,
  inOrder(deadEnds),
  noWayOut,
  inOrder(endlessRuns),
  brokenPromises,
  ({ story }) => brokenRoutes(story),
  undeclaredMoves,
  questEnds,
  inOrder(overruns),
  inOrder(unsetTexts),
  inOrder(alwaysOpen),
  ({ story }) => unusedEntries(story),
]

export function allFindings(explored: Explored): Found[] {
  return KINDS.flatMap((kind) => kind(explored))
}
