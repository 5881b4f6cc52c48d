import type { Quest } from '../../../core/story/types'

/** A new quest, with the two stages that nearly every quest has. */
export function newQuest(id: string, name: string): Quest {
  return {
    id,
    name,
    stages: [
      { id: 'asked', name: 'Asked' },
      { id: 'done', name: 'Done', outcome: 'success' },
    ],
  }
}
