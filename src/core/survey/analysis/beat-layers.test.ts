import { randomStory } from '../../../../bench/stories/random'
import { linkStory } from '../../story/link'
import { layersOf } from './beat-layers'
import { flowGraphOf } from './flow-graph'
import { allotSlots } from './slots'

test('no road leads to a lower rank, and beats share one just where they lead to one another', () => {
  let shared = 0
  for (let seed = 1; seed <= 150; seed += 1) {
    const story = linkStory(randomStory(seed))
    const { ahead } = flowGraphOf(story, allotSlots(story))
    const rankOf = layersOf(ahead)
    const targets = (beat: number) => [...ahead.beats.subarray(ahead.first[beat], ahead.first[beat + 1])]
    const reach = Array.from(story.beats, (_, from) => {
      const seen = new Set([from])
      for (const beat of seen) for (const target of targets(beat)) seen.add(target)
      return seen
    })
    for (let a = 0; a < story.beats.length; a += 1) {
      for (const target of targets(a)) expect(rankOf[target]).toBeGreaterThanOrEqual(rankOf[a]!)
      for (let b = 0; b < a; b += 1) {
        const both = reach[a]!.has(b) && reach[b]!.has(a)
        if (both) shared += 1
        expect({ seed, a, b, same: rankOf[a] === rankOf[b] }).toEqual({ seed, a, b, same: both })
      }
    }
    expect(rankOf).toHaveLength(story.beats.length)
  }
  expect(shared).toBeGreaterThan(100)
})
