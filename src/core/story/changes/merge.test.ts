import { seededRandom, type Random } from '../../base/random'
import { isSame } from '../../base/same'
import { applyChange } from './apply'
import { merge } from './merge'
import type { Change } from './types'
import { seeds } from '../../../../test/seeds'

interface Line {
  text: string
  do?: string[]
}
interface Part {
  lines: Line[]
  choices: { id: string; text: string }[]
  notes?: string
}

const base = (): Part => ({
  lines: ['one', 'two', 'three'].map((text) => ({ text, do: ['a = 1'] })),
  choices: ['pay', 'go'].map((id) => ({ id, text: id })),
  notes: 'n',
})

/** One change, whose word is in the part afterwards. */
function edit(part: Part, random: Random, word: string): void {
  const at = random.below(part.lines.length)
  switch (random.below(6)) {
    case 0:
      part.lines[at]!.text = word
      return
    case 1:
      part.lines.splice(at, 0, { text: word })
      return
    case 2:
      part.choices[random.below(part.choices.length)]!.text = word
      return
    case 3:
      part.choices.push({ id: word, text: word })
      return
    case 4:
      part.lines[at]!.do = [...(part.lines[at]!.do ?? []), word]
      return
    default:
      part.notes = word
  }
}

test('of two changes of one value both are kept, or it is told where they meet; which came first makes no matter', () => {
  let merged = 0
  let clashed = 0
  for (const seed of seeds(3000)) {
    const random = seededRandom(seed)
    const [mine, theirs] = [base(), base()]
    edit(mine, random, 'MINE')
    edit(theirs, random, 'THEIRS')
    const there = merge(base(), mine, theirs)
    const back = merge(base(), theirs, mine)
    expect(there.ok).toBe(back.ok)
    if (!there.ok) {
      clashed += 1
      expect(JSON.stringify([there.error.mine, there.error.theirs])).toMatch(/MINE.*THEIRS/)
      continue
    }
    merged += 1
    const text = JSON.stringify(there.value)
    expect(text).toContain('MINE')
    expect(text).toContain('THEIRS')
    // nothing else went or came
    expect(there.value.lines.length).toBe(mine.lines.length + theirs.lines.length - 3)
    expect(there.value.choices.length).toBe(mine.choices.length + theirs.choices.length - 2)
  }
  expect(merged).toBeGreaterThan(clashed)
  expect(clashed).toBeGreaterThan(100)
})

test('what only one side touched is what it made of it', () => {
  for (const seed of seeds(200)) {
    const random = seededRandom(seed)
    const mine = base()
    for (let step = 0; step < 4; step += 1) edit(mine, random, `w${step}`)
    expect(merge(base(), mine, base())).toEqual({ ok: true, value: mine })
    expect(merge(base(), base(), mine)).toEqual({ ok: true, value: mine })
    expect(merge(base(), mine, mine)).toEqual({ ok: true, value: mine })
  }
})

test('a new order is kept with what the other side changed in the items', () => {
  const mine = base()
  mine.choices.reverse()
  const theirs = base()
  theirs.choices[0]!.text = 'Pay the toll'
  for (const one of [merge(base(), mine, theirs), merge(base(), theirs, mine)])
    expect(one.ok && one.value.choices).toEqual([
      { id: 'go', text: 'go' },
      { id: 'pay', text: 'Pay the toll' },
    ])
})

test('what one takes away and the other changes is told, what only one takes away is gone', () => {
  const mine = base()
  mine.lines.splice(1, 1)
  const theirs = base()
  theirs.lines[1]!.text = 'changed'
  const both = merge(base(), mine, theirs)
  expect(both).toMatchObject({ ok: false, error: { where: expect.stringMatching(/^lines\.1/) } })
  const other = base()
  other.lines[2]!.text = 'changed'
  const kept = merge(base(), mine, other)
  expect(kept.ok && kept.value.lines.map(({ text }) => text)).toEqual(['one', 'changed'])
})

test('two values are the same whatever the order of their keys, and a key without a value is none', () => {
  expect(isSame({ a: 1, b: [{ c: 2 }] }, { b: [{ c: 2 }], a: 1, d: undefined })).toBe(true)
  expect(isSame({ a: 1 }, { a: 1, b: null })).toBe(false)
  expect(isSame([1, 2], [2, 1])).toBe(false)
  expect(isSame({ constructor: 1 }, {})).toBe(false)
})

test('a change that can not be put together with another is refused with its place and both texts', () => {
  const beat = { id: 'log', lines: [{ text: 'One.' }, { text: 'Two.' }] }
  const story = {
    paperCompass: 1 as const,
    title: 'T',
    language: 'en',
    start: '',
    scenes: [{ id: 'quay', title: 'Q', beats: [{ ...beat, lines: [{ text: 'One.' }, { text: 'Theirs.' }] }] }],
  }
  const change: Change = {
    op: 'replace',
    in: { list: 'beats', scene: 'quay' },
    id: 'log',
    at: 0,
    was: beat,
    item: { ...beat, lines: [{ text: 'One.' }, { text: 'Mine.' }] },
  }
  expect(applyChange(story, change)).toEqual({
    ok: false,
    error:
      'the text of line 2 of the beat "log" was changed elsewhere at the same time.\nYours: “Mine.”\nThere now: “Theirs.”',
  })
  const title: Change = { op: 'set-story', values: { title: 'Mine' }, was: { title: 'Before' } }
  expect(applyChange(story, title)).toMatchObject({
    ok: false,
    error: expect.stringContaining('the title of the story'),
  })
  // with what it was made on still there it is made, and what it was made on is not told on
  expect(applyChange({ ...story, title: 'Before' }, title)).toMatchObject({
    ok: true,
    value: { change: { op: 'set-story', values: { title: 'Mine' } }, story: { title: 'Mine' } },
  })
})
