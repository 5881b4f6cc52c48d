import type { LinkedStory } from '../../story/linked'
import { Search } from '../explicit/search'
import type { Slices } from '../../base/slices'
import type { FollowedTurns } from '../summaries/turn-plan'
import { unlessTooMuch } from '../symbolic/diagrams/node-table'
import { SymbolicSearch } from '../symbolic/symbolic-search'

/** A search for a question of its own: it keeps these slots everywhere, tells each value of some numbers that the game gives apart, and decides nothing of what a survey decides. */
export function searchKeeping(
  story: LinkedStory,
  keep: readonly number[],
  turns: FollowedTurns,
  apart: ReadonlySet<number> = new Set(),
): Search {
  return new Search(story, {
    observed: {
      overruns: new Set(),
      turns,
      unsetTexts: false,
      quests: false,
      promises: false,
      keep: [...keep],
      ...(apart.size > 0 && { demands: { cuts: new Map([...apart].map((entry) => [entry, undefined])) } }),
    },
  })
}

/** Sets that a question may take beside its search over single states. */
export const NODES_ASIDE = 1_000_000

/** All states of such a search in sets; undefined where that is too much (more than so many `nodes`), or `stop` says so. */
export function* keptInSets(
  search: Search,
  turns: FollowedTurns,
  stop: () => boolean,
  nodes?: number,
): Slices<SymbolicSearch | undefined> {
  const inSets = new SymbolicSearch(search, { overruns: new Set(), turns }, { isOver: stop, nodes })
  const run = unlessTooMuch(inSets.run())
  for (let step = run.next(); ; step = run.next()) {
    if (step.done === true) return step.value === true ? inSets : undefined
    if (stop()) return undefined
    yield
  }
}
