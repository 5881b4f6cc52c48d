import { randomStory } from '../bench/stories/random'
import { seededRandom } from '../src/core/base/random'
import { linkStory } from '../src/core/story/link'
import { checkStory } from '../src/core/story/read'
import { rangedEntries } from '../src/core/survey/summaries/ranged-entries'
import { usedEntries } from '../src/core/survey/summaries/used-entries'
import { agree, statesFor } from './agree'
import { plainSurvey } from './plain/checker'
import { seeds } from './seeds'

/** The same story where much less leaves its range: values that are set, choices that are made once, ranges that are wide. */
function tamed(doc: object, seed: number): unknown {
  const random = seededRandom(seed)
  return JSON.parse(JSON.stringify(doc), (_, value: unknown) => {
    if (typeof value === 'string') return random.chance(0.6) ? value.replace(/^(\w+) [+-]= /, '$1 = ') : value
    if (typeof value !== 'object' || value === null) return value
    if ('kind' in value && 'max' in value && random.chance(0.5)) return { ...value, max: 7 }
    return 'to' in value && 'text' in value && random.chance(0.5) ? { ...value, once: true } : value
  })
}

test('what is not followed for leaving its range never leaves it, and all else is told as the plain checker tells it', () => {
  const kinds = new Set<string>()
  let compared = 0
  let leftOut = 0
  for (const seed of seeds(60)) {
    const checked = checkStory(tamed(randomStory(seed, 'tiny'), seed))
    if (!checked.ok) throw new Error(`seed ${seed}: ${JSON.stringify(checked.error)}`)
    const story = linkStory(checked.value)
    const plain = plainSurvey(story, statesFor(story))
    if (plain === undefined) continue
    compared += 1
    const { read, unread } = rangedEntries(story, undefined)
    const followed = new Set([...read, ...unread])
    const { written } = usedEntries(story)
    for (const { kind, id, index } of story.entries) {
      if ((kind !== 'counter' && kind !== 'item') || written[index] === 0 || followed.has(index)) continue
      leftOut += 1
      expect([...plain.items].filter((item) => item.startsWith(`overrun warning ${id} `))).toEqual([])
    }
    agree(seed, story, plain, kinds)
  }
  expect(compared).toBeGreaterThan(25)
  expect(leftOut).toBeGreaterThan(30)
  expect([...kinds]).toContain('overrun')
})
