import type { LinkedStory } from '../../story/linked'
import type { Slot } from '../analysis/slots'

/** What a number in the working vector stands for. */
export function slotValue(story: LinkedStory, slot: Slot, value: number): boolean | number | string {
  if (slot.kind === 'quest') return story.quests[slot.quest]!.stages[value]!
  if (slot.kind === 'taken') return value === 1
  if (slot.kind !== 'entry') return value
  const entry = story.entries[slot.entry]!
  switch (entry.kind) {
    case 'flag':
      return value === 1
    case 'switch':
      return entry.positions[value] ?? ''
    case 'text':
      return slot.words!.values[value]!
    case 'counter':
    case 'item':
      return slot.wide === undefined ? value : slot.wide.values[value]!
  }
}
