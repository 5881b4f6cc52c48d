import { randomStory } from '../../../../bench/stories/random'
import { linkStory } from '../../story/link'
import { countParts, eachPart } from '../summaries/beat-parts'
import { Marks } from './events'

test('every part of every beat has a number of its own, which tells what it is, also after an edit', () => {
  for (let seed = 1; seed <= 60; seed += 1) {
    const story = linkStory(randomStory(seed))
    const marks = new Marks(story, 5000)
    const known = new Map<number, string>()
    const look = (beat: number) => {
      let number = marks.partsOf(beat)
      expect(marks.partsOf(beat)).toBe(number)
      let count = 0
      eachPart(story.beats[beat]!, (kind, address) => {
        // a number that an edit gave up is given to nothing else
        expect(known.has(number)).toBe(false)
        known.set(number, address)
        expect(marks.part(address)).toBe(number)
        expect(marks.at(number)).toEqual({ kind, key: [address] })
        number += 1
        count += 1
      })
      expect(countParts(story.beats[beat]!)).toBe(count)
      marks.number('dead-end', story.beats[beat]!.address)
    }
    for (let beat = story.beats.length - 1; beat >= 0; beat -= 1) look(beat)
    marks.hit(marks.part(story.beats[0]!.address))
    expect(marks.findPart(story.beats[0]!.address)).toEqual({ state: -1, pick: -1 })
    marks.renew(story, [0])
    expect(marks.findPart(story.beats[0]!.address)).toBeUndefined()
    look(0)
  }
})
