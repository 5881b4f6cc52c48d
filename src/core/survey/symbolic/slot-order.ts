import type { LinkedEffect, LinkedStory } from '../../story/linked'
import type { Slots } from '../analysis/slots'
import { eachOwner } from '../../story/linked-parts'
import { eachVariable, variablesOf } from '../summaries/variables'

const ROUNDS = 40

/**
 * An order of the slots in which those that are asked for or set together stand near each other, as
 * diagrams then stay small: each is moved to the middle of the groups that it is in, again and
 * again (FORCE; Aloul, Markov, Sakallah: FORCE: a fast and easy-to-implement variable-ordering
 * heuristic, 2003). Gives the place of each slot.
 */
export function slotOrder(story: LinkedStory, slots: Slots): Int32Array {
  const groups = groupsOf(story, slots)
  const { length } = slots.all
  const groupsOfSlot: number[][] = Array.from({ length }, () => [])
  groups.forEach((group, at) => {
    for (const slot of group) groupsOfSlot[slot]!.push(at)
  })
  let places = Float64Array.from({ length }, (_, slot) => slot)
  for (let round = 0; round < ROUNDS; round += 1) {
    const middles = groups.map((group) => group.reduce((sum, slot) => sum + places[slot]!, 0) / group.length)
    const wanted = places.map((place, slot) => {
      const own = groupsOfSlot[slot]!
      return own.length === 0 ? place : own.reduce((sum, at) => sum + middles[at]!, 0) / own.length
    })
    const sorted = Int32Array.from(places.keys()).sort((a, b) => wanted[a]! - wanted[b]! || a - b)
    const next = new Float64Array(length)
    sorted.forEach((slot, place) => {
      next[slot] = place
    })
    if (next.every((place, slot) => place === places[slot])) break
    places = next
  }
  return Int32Array.from(places)
}

/** Slots that one part of a beat asks for or sets. */
function groupsOf(story: LinkedStory, slots: Slots): number[][] {
  const variables = variablesOf(story)
  const groups: number[][] = []
  for (const beat of story.beats) {
    eachOwner(beat, (address, when, effects) => {
      const group = new Set<number>()
      const hear = (variable: number) => group.add(slots.ofVariable[variable]!)
      if (when?.expr !== undefined) eachVariable(story, variables, when.expr, hear)
      for (const { effect } of effects) {
        hear(thingSet(story, variables.quest, effect))
        if (effect.kind !== 'stage') eachVariable(story, variables, effect.value, hear)
      }
      const choice = story.choiceOf.get(address)
      if (choice !== undefined) hear(variables.taken + choice)
      group.delete(-1)
      if (group.size > 1) groups.push([...group])
    })
  }
  return groups
}

function thingSet(story: LinkedStory, firstQuest: number, effect: LinkedEffect['effect']): number {
  return effect.kind === 'stage' ? firstQuest + story.questOf.get(effect.quest)! : story.entryOf.get(effect.entry)!
}
