import type { LinkedStory } from '../../story/linked'
import { Search } from '../explicit/search'
import type { FollowedTurns } from '../summaries/turn-plan'

/** A search for a question of its own: it keeps these slots everywhere, and decides nothing of what a survey decides. */
export function searchKeeping(story: LinkedStory, keep: readonly number[], turns: FollowedTurns): Search {
  return new Search(story, {
    observed: { overruns: new Set(), turns, unsetTexts: false, quests: false, promises: false, keep: [...keep] },
  })
}
