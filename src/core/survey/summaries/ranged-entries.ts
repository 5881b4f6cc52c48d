import type { LinkedEntry, LinkedStory } from '../../story/linked'
import { eachEffect } from '../../story/linked-parts'
import { usedEntries } from './used-entries'

/** Counters and items that an effect may take out of their range: those that something reads, and those that nothing does. */
export function rangedEntries(
  story: LinkedStory,
  before: LinkedStory | undefined,
): { read: number[]; unread: number[] } {
  const { read, written } = usedEntries(story, before)
  const ranged = story.entries.filter(
    ({ kind, index }) => (kind === 'counter' || kind === 'item') && written[index] === 1,
  )
  return {
    read: ranged.filter(({ index }) => read[index] === 1).map(({ index }) => index),
    unread: ranged.filter((entry) => read[entry.index] === 0 && !staysInRange(story, entry)).map(({ index }) => index),
  }
}

/**
 * Whether it is plain that no effect takes the entry out of its range: each change is by a fixed
 * amount and made by a choice that can be taken once, so that all of them together are the most.
 */
function staysInRange(story: LinkedStory, entry: LinkedEntry): boolean {
  const onceOnly = new Set<string>(story.choices.filter((choice) => choice.once).map((choice) => choice.address))
  let lowest = Number(entry.initial)
  let highest = lowest
  let up = 0
  let down = 0
  let plain = true
  eachEffect(story, ({ effect }, owner) => {
    if (effect.kind === 'stage' || effect.entry !== entry.id) return
    if (effect.value.kind !== 'int') plain = false
    else if (effect.kind === 'set') {
      lowest = Math.min(lowest, effect.value.value)
      highest = Math.max(highest, effect.value.value)
    } else {
      if (!onceOnly.has(owner)) plain = false
      const by = effect.kind === 'add' ? effect.value.value : -effect.value.value
      if (by > 0) up += by
      else down -= by
    }
  })
  return plain && highest + up <= entry.max && lowest - down >= entry.min
}
