import { isOfChoice, roadAddress, TAKEN, UNDECIDED, UNREACHED, type RoadFacts, type Roads } from '../../story/roads'
import type { LinkedStory } from '../../story/linked'
import type { SurveyResult } from '../result'

/** What a survey knows of every beat and road: how far, and whether some route takes it. */
export function roadFacts(story: LinkedStory, result: SurveyResult, roads: Roads): RoadFacts {
  const { reached, undecided, findings, complete } = result
  const open = new Set(undecided.beats)
  const openChoices = new Set(undecided.choices)
  const distances = Int32Array.from(
    story.inOrder,
    ({ address }) => reached.beats[address]?.decisions ?? (open.has(address) ? UNDECIDED : UNREACHED),
  )
  const unreached = new Set(findings.flatMap(({ kind, key }) => (kind === 'unreached' ? [key[0]!] : [])))
  const taken = new Uint8Array(roads.count)
  for (let road = 0; road < roads.count; road += 1) {
    const distance = distances[roads.from[road]!]!
    const address = roadAddress(story, roads, road)
    const choice = isOfChoice(story, roads, road) ? address.split('#')[0]! : undefined
    const isNever =
      distance === UNREACHED ||
      unreached.has(address) ||
      (choice !== undefined && reached.choices[choice] === undefined && !openChoices.has(choice))
    const isOpen = distance === UNDECIDED || (choice !== undefined && openChoices.has(choice))
    taken[road] = isNever ? TAKEN.never : isOpen || !complete ? TAKEN.undecided : TAKEN.taken
  }
  return { distances, taken }
}
