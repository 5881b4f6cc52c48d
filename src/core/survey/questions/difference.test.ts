import { randomStory } from '../../../../bench/stories/random'
import { removal } from '../../story/rename/removal'
import { applyChange } from '../../story/changes/apply'
import { linkStory } from '../../story/link'
import { isSame, surveyDifference } from './difference'
import { REACHABLE } from '../result'
import { surveyStory } from '../survey'
import { seeds } from '../../../../test/seeds'

test('what one survey says and another does not is told once, turned round the other way, and is nothing for the same story', () => {
  let different = 0
  for (const seed of seeds(40)) {
    const story = randomStory(seed, 'tiny')
    const before = surveyStory(linkStory(story))
    expect(isSame(surveyDifference(before, before))).toBe(true)
    const [scene] = story.scenes
    const change = removal(story, { of: 'beat', scene: scene!.id, id: scene!.beats.at(-1)!.id })!
    const applied = applyChange(story, change)
    if (!applied.ok) throw new Error(applied.error)
    const after = surveyStory(linkStory(applied.value.story))
    const there = surveyDifference(before, after)
    const back = surveyDifference(after, before)
    for (const what of REACHABLE) {
      expect(there.lost[what]).toEqual(back.won[what])
      expect(Object.keys(before.reached[what]).filter((id) => after.reached[what][id] === undefined)).toEqual(
        there.lost[what],
      )
    }
    expect(there.appeared).toEqual(back.settled)
    expect(there.settled).toEqual(back.appeared)
    if (!isSame(there)) different += 1
  }
  expect(different).toBeGreaterThan(20)
})

test('what was not decided is not called lost', () => {
  const story = linkStory(randomStory(7, 'tiny'))
  const full = surveyStory(story)
  const reached = { ...full.reached, beats: {} }
  const cut = {
    ...full,
    complete: false,
    reached,
    unreached: { ...full.unreached, beats: [] },
    undecided: { ...full.undecided, beats: Object.keys(full.reached.beats) },
  }
  expect(surveyDifference(full, cut).lost.beats).toEqual([])
})
