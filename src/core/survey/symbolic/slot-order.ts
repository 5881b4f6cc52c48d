import type { LinkedEffect, LinkedStory } from '../../story/linked'
import type { Slots } from '../analysis/slots'
import { eachOwner } from '../../story/linked-parts'
import { eachVariable, variablesOf } from '../summaries/variables'

const ROUNDS = 40
/** Values of a slot, less one, and one of how many groups it has to be in, from which on it stands before all others. */
const MUCH = 16
const SHARED = 3
/** Slots of a group that tells who belongs together. */
const SMALL = 6

/**
 * An order of the slots in which those that are asked for or set together stand near each other, as
 * diagrams then stay small: each is moved to the middle of the groups that it is in, again and
 * again (FORCE; Aloul, Markov, Sakallah: FORCE: a fast and easy-to-implement variable-ordering
 * heuristic, 2003), and of all orders on the way the one with the least span is taken. What asks for very much at once says
 * little about who belongs together, so it counts less. Gives the place of each slot.
 */
export function slotOrder(story: LinkedStory, slots: Slots): Int32Array {
  const groups = groupsOf(story, slots)
  const { length } = slots.all
  const groupsOfSlot: number[][] = Array.from({ length }, () => [])
  groups.forEach((group, at) => {
    for (const slot of group) groupsOfSlot[slot]!.push(at)
  })
  const weights = groups.map((group) => 1 / (group.length - 1))
  const spanOf = (places: Float64Array) =>
    groups.reduce((total, group, at) => {
      const own = group.map((slot) => places[slot]!)
      return total + weights[at]! * (Math.max(...own) - Math.min(...own))
    }, 0)
  let best: Float64Array = Float64Array.from({ length }, (_, slot) => slot)
  let least = spanOf(best)
  for (const start of [best, alongGroups(groups, groupsOfSlot)]) improve(start)
  return Int32Array.from(placesOf(Int32Array.from(best.keys()).sort(byPlace)))

  /** What very many draw on stands before all others, where it can hold much: what they do is then told apart by it at once. */
  function isShared(slot: number): boolean {
    const { min, max } = slots.all[slot]!
    return max - min >= MUCH && groupsOfSlot[slot]!.length > groups.length / SHARED
  }

  function byPlace(a: number, b: number): number {
    return Number(isShared(b)) - Number(isShared(a)) || best[a]! - best[b]!
  }

  function improve(start: Float64Array): void {
    let places = start
    for (let round = 0; round <= ROUNDS; round += 1) {
      const span = spanOf(places)
      if (span < least) {
        best = places
        least = span
      }
      const next = nextPlaces(places)
      if (next.every((place, slot) => place === places[slot])) return
      places = next
    }
  }

  function nextPlaces(places: Float64Array): Float64Array {
    const middles = groups.map((group) => group.reduce((sum, slot) => sum + places[slot]!, 0) / group.length)
    const wanted = places.map((place, slot) => {
      const own = groupsOfSlot[slot]!
      const weight = own.reduce((sum, at) => sum + weights[at]!, 0)
      return weight === 0 ? place : own.reduce((sum, at) => sum + weights[at]! * middles[at]!, 0) / weight
    })
    return placesOf(Int32Array.from(places.keys()).sort((a, b) => wanted[a]! - wanted[b]! || a - b))
  }
}

function placesOf(sorted: Int32Array): Float64Array {
  const places = new Float64Array(sorted.length)
  sorted.forEach((slot, place) => {
    places[slot] = place
  })
  return places
}

/** Another order to begin with: from each slot on to those that stand in small groups with it, those with fewest first. */
function alongGroups(
  groups: readonly (readonly number[])[],
  groupsOfSlot: readonly (readonly number[])[],
): Float64Array {
  const near = groupsOfSlot.map((own, slot) => [
    ...new Set(own.flatMap((at) => (groups[at]!.length <= SMALL ? groups[at]! : [])).filter((one) => one !== slot)),
  ])
  const byFew = (a: number, b: number) => near[a]!.length - near[b]!.length || a - b
  const sorted: number[] = []
  const seen = new Set<number>()
  for (const first of [...near.keys()].sort(byFew)) {
    const waiting = [first]
    for (let slot = waiting.pop(); slot !== undefined; slot = waiting.pop()) {
      if (seen.has(slot)) continue
      seen.add(slot)
      sorted.push(slot)
      waiting.push(
        ...near[slot]!.filter((one) => !seen.has(one))
          .sort(byFew)
          .reverse(),
      )
    }
  }
  return placesOf(Int32Array.from(sorted))
}

/** Slots that one part of a beat asks for or sets. */
function groupsOf(story: LinkedStory, slots: Slots): number[][] {
  const variables = variablesOf(story)
  const groups: number[][] = []
  for (const beat of story.inOrder) {
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
