import { randomStory } from '../../../../bench/stories/random'
import { randomChange } from '../../../../test/random-change'
import { seededRandom } from '../../base/random'
import { isSame } from '../../base/same'
import type { Story } from '../types'
import { newStory } from '../new-story'
import { applyChange } from './apply'
import { differenceOf } from './difference'
import { getList } from './list'
import type { Item, ListPath } from './types'

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
    const from = randomStory(seed)
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

test('a list that came with its first item goes with it; one that others put something into stays', () => {
  const before = newStory('Bare', 'en')
  const lists: [ListPath, Item][] = [
    [{ list: 'cast' }, { id: 'odile', name: 'Odile' }],
    [{ list: 'terms' }, { id: 'tide', name: 'Tide' }],
    [
      { list: 'sceneLedger', scene: before.scenes[0]!.id },
      { id: 'wet', kind: 'flag' },
    ],
  ]
  for (const [path, item] of lists) {
    const made = applyChange(before, { op: 'insert', in: path, at: 0, item })
    if (!made.ok) throw new Error(made.error)
    const { story, inverse } = made.value
    for (const back of [inverse, differenceOf(story, before)]) {
      const undone = applyChange(story, back)
      expect(undone.ok && JSON.stringify(undone.value.story)).toBe(JSON.stringify(before))
    }
    const theirs = applyChange(story, { op: 'insert', in: path, at: 1, item: { ...item, id: 'theirs' } })
    const undone = theirs.ok ? applyChange(theirs.value.story, inverse) : theirs
    expect(undone.ok && getList(undone.value.story, path)).toMatchObject({ ok: true, value: [{ id: 'theirs' }] })
  }
})

test('a story with one line changed differs by one beat', () => {
  const from = randomStory(3)
  const to = JSON.parse(JSON.stringify(from)) as typeof from
  to.scenes.at(-1)!.beats.at(-1)!.notes = 'changed'
  const change = differenceOf(from, to)
  expect(change).toMatchObject({ op: 'batch', changes: [{ op: 'replace', item: { notes: 'changed' } }] })
})
