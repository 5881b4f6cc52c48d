import type { LinkedEntry, LinkedStory } from '../../story/linked'
import { eachEffect, choicesOf } from '../../story/linked-parts'
import { boundsOf } from './number-bounds'
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
  const leaving = leavingRange(story, ranged).map(({ index }) => index)
  return {
    read: leaving.filter((entry) => read[entry] === 1),
    unread: leaving.filter((entry) => read[entry] === 0),
  }
}

/** What all effects on an entry can come to, whatever the order: from `lowest` − `down` to `highest` + `up`. */
interface Reach {
  lowest: number
  highest: number
  up: number
  down: number
}

/**
 * Without those of which it is plain that no effect takes them out of their range: what they are set to lies in it, and
 * all else is a change by a fixed amount that a choice makes which can be taken once, so that all of them together are
 * the most.
 */
function leavingRange(story: LinkedStory, ranged: readonly LinkedEntry[]): LinkedEntry[] {
  if (ranged.length === 0) return []
  const reaches = new Map<string, Reach>(
    ranged.map(({ id, initial }) => [id, { lowest: Number(initial), highest: Number(initial), up: 0, down: 0 }]),
  )
  const onceOnly = new Set<string>(
    choicesOf(story)
      .filter((choice) => choice.once)
      .map((choice) => choice.address),
  )
  eachEffect(story, ({ effect }, owner) => {
    const reach = effect.kind === 'stage' ? undefined : reaches.get(effect.entry)
    if (reach === undefined) return
    const [low, high] = boundsOf(story, effect.value, Number.MAX_SAFE_INTEGER)
    if (effect.kind === 'set') {
      reach.lowest = Math.min(reach.lowest, low)
      reach.highest = Math.max(reach.highest, high)
      return
    }
    const isOnce = onceOnly.has(owner)
    const [most, least] = effect.kind === 'add' ? [high, low] : [-low, -high]
    if (most > 0) reach.up += isOnce ? most : Infinity
    if (least < 0) reach.down += isOnce ? -least : Infinity
  })
  return ranged.filter(({ id, min, max }) => {
    const { lowest, highest, up, down } = reaches.get(id)!
    return lowest - down < min || highest + up > max
  })
}
