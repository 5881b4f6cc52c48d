import type { LinkedStory } from '../../story/linked'
import { promiseParts } from '../../story/linked-parts'
import { variablesOf, variablesRead } from '../summaries/variables'
import type { Slots } from './slots'

/**
 * How a search deals with what the game gives. Whatever may be anything at each rest is not held: it is chosen where
 * it is read. What promises read is held, as they are judged in resting states.
 */
export interface GivenPlan {
  /** Slots chosen before the story begins, and held as long as something reads them. */
  readonly begin: readonly number[]
  /** Slots chosen while the story rests, and held. */
  readonly held: readonly number[]
  /** Slots chosen anew after every rest. */
  readonly free: readonly number[]
}

export function givenPlan(
  story: LinkedStory,
  slots: Slots,
  observed: { readonly promises: boolean; readonly keep: readonly number[] },
): GivenPlan {
  const begin: number[] = []
  const held: number[] = []
  const free: number[] = []
  const given = slots.all.filter((slot) => slot.kind === 'entry' && slot.given !== undefined)
  if (given.length === 0) return { begin, held, free }
  const asked = new Set(observed.keep)
  if (observed.promises) {
    const variables = variablesOf(story)
    for (const promise of story.promises)
      for (const expr of promiseParts(promise))
        for (const variable of variablesRead(story, variables, expr)) asked.add(slots.ofVariable[variable]!)
  }
  for (const slot of given) {
    if (slot.kind !== 'entry') continue
    if (slot.given!.when === 'begin') begin.push(slot.index)
    // an initial word that nobody could type is gone once it was changed
    else if (asked.has(slot.index) || isOnlyInitial(story, slot.entry)) held.push(slot.index)
    else free.push(slot.index)
  }
  return { begin, held, free }
}

function isOnlyInitial(story: LinkedStory, entry: number): boolean {
  const { kind, initial } = story.entries[entry]!
  return kind === 'text' && String(initial).trim() !== initial
}
