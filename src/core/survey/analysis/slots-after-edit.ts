import { beatOf } from '../../base/address'
import type { LinkedStory } from '../../story/linked'
import { variablesOf } from '../summaries/variables'
import { wordDomains } from '../summaries/word-domains'
import { askedCounts, TAKEN, UNUSED, type Slots } from './slots'

/**
 * Has the slots of a story do after an edit that left entries and quests as they were, so that states stay packed as they are: choices that
 * came to be taken once, or asked for, are given spare slots. Undefined where that is not enough. `changed`: the
 * beats that the edit changed, made or took away; only their decisions are played anew. Gives what lets go of slots that nothing asks for any
 * more, once no analysis needs them to compare with.
 */
export function slotsAfterEdit(
  slots: Slots,
  story: LinkedStory,
  before: LinkedStory,
  changed: readonly number[],
): (() => void) | undefined {
  const places = story.inOrder.filter(({ place }) => place)
  if (places.length !== slots.places.length || places.some(({ index }) => slots.placeOf[index] === 0)) return undefined
  const { visits, taken } = askedCounts(story, undefined)
  if (!sameVisits(slots, visits)) return undefined
  const isChanged = new Set(changed)
  const ownerOf = (from: LinkedStory, choice: number) => from.beatOf.get(beatOf(from.choices[choice]!.address)!)!
  const wanted = [...taken].filter((choice) => slots.ofTaken[choice] === -1)
  if (wanted.length > slots.spare.length) return undefined
  if (!wanted.every((choice) => isChanged.has(ownerOf(story, choice)))) return undefined
  const { taken: first } = variablesOf(story)
  const point = (choice: number, slot: number) => {
    slots.ofTaken[choice] = slot
    slots.ofVariable[first + choice] = slot
  }
  for (const choice of wanted) {
    const index = slots.spare.pop()!
    slots.all[index] = { ...TAKEN, index, choice }
    point(choice, index)
  }
  return () => {
    for (const slot of slots.all) {
      // what takes one that is not compiled anew still sets its slot
      if (slot.kind !== 'taken' || taken.has(slot.choice) || !isChanged.has(ownerOf(before, slot.choice))) continue
      point(slot.choice, -1)
      slots.all[slot.index] = { ...UNUSED, index: slot.index }
      slots.spare.push(slot.index)
    }
  }
}

function sameVisits({ all, ofVisits }: Slots, asked: ReadonlyMap<number, number>): boolean {
  return (
    all.filter(({ kind }) => kind === 'visits').length === asked.size &&
    [...asked].every(([beat, most]) => ofVisits[beat] !== -1 && all[ofVisits[beat]!]!.max === most)
  )
}

/** Whether a story tells the same words apart, in the same order. */
export function sameWords(story: LinkedStory, { all, ofEntry }: Slots): boolean {
  return [...wordDomains(story)].every(([entry, { values, typable, others }]) => {
    const slot = all[ofEntry[entry]!]!
    const known = slot.kind === 'entry' ? slot.words : undefined
    return JSON.stringify([values, typable, others]) === JSON.stringify([known?.values, known?.typable, known?.others])
  })
}
