import { randomStory } from '../../../../bench/stories/random'
import { linkStory } from '../../story/link'
import { countParts, eachPart } from '../summaries/beat-parts'
import { EventLog } from './events'

test('every part of every beat has a number of its own, which tells what it is, also after an edit', () => {
  for (let seed = 1; seed <= 60; seed += 1) {
    const story = linkStory(randomStory(seed))
    const events = new EventLog(story, 5000)
    const known = new Map<number, string>()
    const look = (beat: number) => {
      let number = events.partsOf(beat)
      expect(events.partsOf(beat)).toBe(number)
      let count = 0
      eachPart(story.beats[beat]!, (kind, address) => {
        // a number that an edit gave up is given to nothing else
        expect(known.has(number)).toBe(false)
        known.set(number, address)
        expect(events.part(address)).toBe(number)
        expect(events.at(number)).toEqual({ kind, key: [address] })
        number += 1
        count += 1
      })
      expect(countParts(story.beats[beat]!)).toBe(count)
      events.number('dead-end', story.beats[beat]!.address)
    }
    for (const { index } of story.inOrder.toReversed()) look(index)
    events.record(events.part(story.beats[0]!.address))
    expect(events.witnessOfPart(story.beats[0]!.address)).toEqual({ state: -1, pick: -1 })
    events.renew(story, [0])
    expect(events.witnessOfPart(story.beats[0]!.address)).toBeUndefined()
    look(0)
  }
})
