import type { LinkedStory } from '../../story/linked'
import type { Slot } from '../analysis/slots'

/** The number that stands for a value in an entry's slot; -1 for a word that it does not know. */
export function slotNumber(
  story: LinkedStory,
  slot: Slot & { kind: 'entry' },
  value: boolean | number | string,
): number {
  if (typeof value === 'boolean') return value ? 1 : 0
  if (typeof value === 'string')
    return slot.words === undefined
      ? Math.max(0, story.entries[slot.entry]!.positions.indexOf(value))
      : slot.words.values.indexOf(value)
  return slot.wide === undefined ? value : slot.wide.classOf(value)
}

/** How often a group in turn was come to, as far as its slot tells it apart. */
export function slotTimes({ from, max }: Slot & { kind: 'turns' }, times: number): number {
  return times <= max ? times : from + ((times - from) % (max + 1 - from))
}

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
