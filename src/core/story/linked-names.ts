import { plainId } from '../base/ids'
import type { Names } from '../expression/words'
import type { LinkedStory } from './linked'

/** What things are called where a linked story is all that there is. */
export function linkedNames(story: LinkedStory): Names {
  const quest = (id: string) => story.quests[story.questOf.get(id) ?? -1]
  const last = (address: string) => plainId(address.slice(address.lastIndexOf('.') + 1))
  return {
    entry: (id) => story.entries[story.entryOf.get(id) ?? -1]?.entry.name ?? plainId(id),
    quest: (id) => quest(id)?.name ?? plainId(id),
    stage: (id, stage) => {
      const at = quest(id)?.stages.indexOf(stage) ?? -1
      return at > 0 ? quest(id)!.names[at]! : plainId(stage)
    },
    beat: last,
    choice: last,
    ending: (id) => story.endings[story.endingOf.get(id) ?? -1]?.name ?? plainId(id),
  }
}
