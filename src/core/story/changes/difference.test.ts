import { randomStory } from '../../../../bench/stories/random'
import { randomChange, withEveryList } from '../../../../test/random-change'
import { seededRandom } from '../../base/random'
import { isSame } from '../../base/same'
import type { Story } from '../types'
import { applyChange } from './apply'
import { differenceOf } from './difference'

/** A story as far as an author can tell: a list or a language with nothing in it is none. */
function withoutEmpty({
  endings = [],
  cast = [],
  cues = [],
  terms = [],
  recordings = [],
  languages = {},
  ...rest
}: Story): Story {
  const translated = Object.entries(languages).filter(([, { texts }]) => Object.keys(texts).length > 0)
  return { endings, cast, cues, terms, recordings, languages: Object.fromEntries(translated), ...rest }
}

test('the difference of two stories makes one into the other, also where they have nothing to do with each other', () => {
  for (let seed = 1; seed <= 150; seed += 1) {
    const random = seededRandom(seed)
    const from = withEveryList(randomStory(seed))
    let to = from
    for (let step = random.below(8); step >= 0; step -= 1) {
      const applied = applyChange(to, randomChange(to, random))
      if (applied.ok) to = applied.value.story
    }
    if (seed % 5 === 0) to = randomStory(seed + 1)
    const copy = JSON.parse(JSON.stringify(to)) as typeof to
    const made = applyChange(from, differenceOf(from, copy))
    expect(made.ok && isSame(withoutEmpty(made.value.story), withoutEmpty(copy))).toBe(true)
    expect(differenceOf(copy, to)).toEqual({ op: 'batch', changes: [] })
  }
})

test('a story with one line changed differs by one beat', () => {
  const from = randomStory(3)
  const to = JSON.parse(JSON.stringify(from)) as typeof from
  to.scenes.at(-1)!.beats.at(-1)!.notes = 'changed'
  const change = differenceOf(from, to)
  expect(change).toMatchObject({ op: 'batch', changes: [{ op: 'replace', item: { notes: 'changed' } }] })
})
