import { randomStory } from '../bench/stories/random'
import { seededRandom } from '../src/core/base/random'
import { applyChange } from '../src/core/story/changes/apply'
import type { Change } from '../src/core/story/changes/types'
import { compareStories } from '../src/core/story/compare/compare-stories'
import { linkStory } from '../src/core/story/link'
import { clipBeats, pasteClip, readClip } from '../src/core/story/reshape/clip'
import { moveBeat } from '../src/core/story/reshape/move-beat'
import { joinBeats, splitBeat } from '../src/core/story/reshape/split-join'
import { findTexts, replaceTexts } from '../src/core/story/rename/replace-text'
import type { Story } from '../src/core/story/types'
import { surveyDifference } from '../src/core/survey/questions/difference'
import { surveyStory } from '../src/core/survey/survey'
import { seeds } from './seeds'

const apply = (story: Story, change: Change): Story => {
  const applied = applyChange(story, change)
  if (!applied.ok) throw new Error(applied.error)
  const undone = applyChange(applied.value.story, applied.value.inverse)
  // a list that was not there may be there empty
  const said = (one: Story) =>
    JSON.parse(
      JSON.stringify(one, (_, value: unknown) => (Array.isArray(value) && value.length === 0 ? undefined : value)),
    ) as unknown
  expect(undone.ok && said(undone.value.story)).toEqual(said(story))
  return applied.value.story
}

/** The fewest decisions to every ending and stage: what a reshaping must not change. */
const ends = (story: Story) => {
  const { reached, unreached } = surveyStory(linkStory(story))
  return { endings: reached.endings, stages: Object.keys(reached.stages).sort(), unreached: unreached.endings }
}
const counts = (story: Story) => {
  const { endings, ...rest } = ends(story)
  return { ...rest, endings: Object.entries(endings).map(([id, { decisions }]) => `${id} ${decisions}`) }
}

test('a beat that is split plays as before, and joined again it is what it was', () => {
  let joined = 0
  for (const seed of seeds(80)) {
    const story = randomStory(seed, 'tiny')
    const random = seededRandom(seed)
    const scene = random.pick(story.scenes)
    const beat = random.pick(scene.beats)
    const split = splitBeat(story, { scene: scene.id, id: beat.id }, random.below((beat.lines?.length ?? 0) + 1))
    if (!split.ok) throw new Error(split.error)
    const after = apply(story, split.value.change)
    // what asks how often a beat is visited or what it does on arrival is the first half's
    expect({ seed, ...counts(after) }).toEqual({ seed, ...counts(story) })
    const join = joinBeats(after, { scene: scene.id, id: beat.id })
    if (!join.ok) {
      // a name of its choices elsewhere keeps the second half apart
      expect(join.error).toContain('beat of its own')
      continue
    }
    joined += 1
    const back = apply(after, join.value)
    // a gate that named a choice is printed anew, with no needless brackets
    expect({ seed, ...counts(back) }).toEqual({ seed, ...counts(story) })
    expect(
      back.scenes.find(({ id }) => id === scene.id)!.beats.find(({ id }) => id === beat.id)!.lines ?? [],
    ).toHaveLength(beat.lines?.length ?? 0)
  }
  expect(joined).toBeGreaterThan(50)
})

test('a beat that is split again and again makes beats of different names', () => {
  for (const seed of seeds(20)) {
    let story = randomStory(seed, 'tiny')
    const { id: scene, beats } = story.scenes[0]!
    const { id } = beats[0]!
    for (let times = 0; times < 3; times += 1) {
      const split = splitBeat(story, { scene, id }, 0)
      if (!split.ok) throw new Error(split.error)
      story = apply(story, split.value.change)
    }
    const names = story.scenes[0]!.beats.map((beat) => beat.id)
    expect(new Set(names).size).toBe(beats.length + 3)
    expect(linkStory(story).problems).toHaveLength(linkStory(randomStory(seed, 'tiny')).problems.length)
  }
})

test('translations go along with the lines and the question of a beat that is split, and come back when it is joined', () => {
  const story: Story = {
    paperCompass: 1,
    title: 'x',
    language: 'en',
    start: 'quay.log',
    scenes: [
      {
        id: 'quay',
        title: 'Quay',
        beats: [
          {
            id: 'log',
            lines: [{ id: 'one', text: 'One.' }, { inTurn: [{ lines: [{ id: 'two', text: 'Two.' }] }] }],
            ask: { into: '', prompt: 'Name?', suggest: ['Wren'] },
            onward: [{ to: 'quay.log' }],
          },
        ],
      },
    ],
    languages: {
      de: {
        texts: Object.fromEntries(
          ['line/quay.log/one', 'line/quay.log/two', 'prompt/quay.log', 'suggest/quay.log/1'].map((key) => [
            key,
            { text: key },
          ]),
        ),
      },
    },
  }
  const keys = (of: Story) => Object.keys(of.languages!['de']!.texts).sort()
  const split = splitBeat(story, { scene: 'quay', id: 'log' }, 1)
  if (!split.ok) throw new Error(split.error)
  const apart = applyChange(story, split.value.change)
  if (!apart.ok) throw new Error(apart.error)
  expect(keys(apart.value.story)).toEqual([
    'line/quay.log/one',
    'line/quay.log_2/two',
    'prompt/quay.log_2',
    'suggest/quay.log_2/1',
  ])
  const join = joinBeats(apart.value.story, { scene: 'quay', id: 'log' })
  if (!join.ok) throw new Error(join.error)
  const together = applyChange(apart.value.story, join.value)
  if (!together.ok) throw new Error(together.error)
  expect(keys(together.value.story)).toEqual(keys(story))
})

test('a beat that is moved to another scene is named everywhere as before', () => {
  let moved = 0
  for (const seed of seeds(80)) {
    const story = randomStory(seed, 'tiny')
    const [first, second] = story.scenes
    if (second === undefined || first!.beats.length === 0) continue
    const change = moveBeat(story, { scene: first!.id, id: first!.beats[0]!.id }, { scene: second.id, at: 0 })
    if (!change.ok) throw new Error(change.error)
    const after = apply(story, change.value.change)
    const problems = (one: Story) =>
      linkStory(one).problems.filter(({ part }) => part === 'to' || part === 'start').length
    expect(problems(after)).toBe(problems(story))
    expect(after.scenes[1]!.beats[0]!.id).toBe(change.value.address.split('.')[1])
    moved += 1
  }
  expect(moved).toBeGreaterThan(50)
})

test('copied beats are understood wherever they are put, with their roads among themselves', () => {
  for (const seed of seeds(40)) {
    const story = randomStory(seed, 'tiny')
    const addresses = story.scenes[0]!.beats.map(({ id }) => `s0.${id}`)
    const text = JSON.stringify(clipBeats(story, addresses))
    const clip = readClip(text)
    if (clip?.ok !== true) throw new Error('unreadable')
    const empty: Story = {
      paperCompass: 1,
      title: 'Elsewhere',
      language: 'en',
      start: '',
      scenes: [{ id: 'hall', title: 'Hall', beats: [{ id: 'b0' }] }],
    }
    const pasted = pasteClip(empty, clip.value, 'hall', 1)
    if (!pasted.ok) throw new Error(pasted.error)
    const after = apply(empty, pasted.value.change)
    expect(after.scenes[0]!.beats.map(({ id }) => `hall.${id}`)).toEqual(['hall.b0', ...pasted.value.addresses])
    const known = new Set(linkStory(story).problems.map(({ message }) => message.replace(/"[^"]*"/g, '')))
    const trouble = linkStory(after).problems.filter(
      ({ part, message }) =>
        part !== 'start' &&
        part !== 'to' &&
        !known.has(message.replace(/"[^"]*"/g, '')) &&
        !/beat|choice|scene/.test(message),
    )
    expect({ seed, trouble }).toEqual({ seed, trouble: [] })
    // pasted where it came from it takes nothing away
    const twice = pasteClip(story, clip.value, 's0', 0)
    if (!twice.ok) throw new Error(twice.error)
    const { lost } = surveyDifference(
      surveyStory(linkStory(story)),
      surveyStory(linkStory(apply(story, twice.value.change))),
    )
    expect(lost).toEqual({ beats: [], choices: [], endings: [], stages: [] })
  }
  expect(readClip('a poem')).toBeUndefined()
  expect(
    readClip(
      '{"paperCompassBeats":1,"beats":[{"scene":"a","beat":{"id":5}}],"cast":[],"ledger":[],"quests":[],"endings":[]}',
    ),
  ).toMatchObject({ ok: false })
})

test('find and replace shows every place, keeps names out of danger, and changes just what is chosen', () => {
  const story = {
    paperCompass: 1,
    title: 'Ropes',
    language: 'en',
    start: 'quay.here',
    cast: [{ id: 'rope_maker', name: 'Rope Maker' }],
    ledger: [{ id: 'rope', kind: 'item', max: 3 }],
    scenes: [
      {
        id: 'quay',
        title: 'Ropewalk',
        beats: [
          {
            id: 'here',
            notes: 'more rope',
            lines: [{ text: 'A rope and {rope} ropes (a+b).' }, { text: 'Nothing.' }],
            choices: [{ id: 'take', text: 'Take the Rope', when: 'rope >= 1', to: '' }],
          },
        ],
      },
    ],
  } as unknown as Story
  const query = { find: 'rope', replacement: 'cord', matchCase: false, wholeWord: false }
  const places = findTexts(story, query)
  expect(places.map(({ before }) => before)).toEqual([
    'Rope Maker',
    'Ropewalk',
    'A rope and {rope} ropes (a+b).',
    'Take the Rope',
    'more rope',
  ])
  expect(findTexts(story, { ...query, wholeWord: true, scene: 'quay' }).map(({ after }) => after)).toEqual([
    'A cord and {rope} ropes (a+b).',
    'Take the cord',
    'more cord',
  ])
  expect(findTexts(story, { ...query, matchCase: true }).map(({ before }) => before)).toEqual([
    'A rope and {rope} ropes (a+b).',
    'more rope',
  ])
  expect(findTexts(story, { ...query, find: '(a+b)', replacement: '$&{' })[0]).toMatchObject({
    after: 'A rope and {rope} ropes $&{.',
    breaks: true,
  })
  expect(
    findTexts(
      {
        ...story,
        scenes: [
          {
            id: 'quay',
            title: 'Q',
            beats: [{ id: 'here', lines: [{ text: "{rope, plural, one {one rope} other {# ropes}} '{rope}'" }] }],
          },
        ],
      },
      query,
    )[1]!.after,
  ).toBe("{rope, plural, one {one cord} other {# cords}} '{cord}'")
  const change = replaceTexts(story, query, new Set([places[3]!.key, places[0]!.key]))!
  const after = apply(story, change)
  expect(after.cast![0]!.name).toBe('cord Maker')
  expect(after.scenes[0]!.beats[0]!.choices![0]).toMatchObject({ text: 'Take the cord', when: 'rope >= 1' })
  expect(after.scenes[0]!.title).toBe('Ropewalk')
  expect(replaceTexts(story, { ...query, find: 'zzz' }, new Set())).toBeUndefined()
})

test('two versions are compared in plain words', () => {
  const before = {
    paperCompass: 1,
    title: 'A',
    language: 'en',
    start: 'quay.here',
    scenes: [
      {
        id: 'quay',
        title: 'Quay',
        beats: [
          {
            id: 'here',
            lines: [{ text: 'One.' }, { speaker: 'odile', text: 'Two.' }, { text: 'Three.' }],
            choices: [{ id: 'go', text: 'Go', when: 'rope >= 1', to: 'quay.there' }],
          },
          { id: 'there' },
        ],
      },
    ],
  } as unknown as Story
  const after = {
    ...before,
    title: 'B',
    scenes: [
      {
        ...before.scenes[0]!,
        beats: [
          {
            id: 'here',
            lines: [{ text: 'One.' }, { text: 'New.' }, { speaker: 'odile', text: 'Two, then.' }],
            choices: [{ id: 'go', text: 'Go on', when: 'rope >= 2', once: true, to: 'return' }],
          },
        ],
      },
    ],
  } as unknown as Story
  expect(compareStories(before, after)).toEqual([
    { kind: 'story', id: '', notes: [{ text: 'title changed', before: 'A', after: 'B' }] },
    { kind: 'beat', id: 'quay.there', notes: [{ text: 'deleted' }] },
    {
      kind: 'beat',
      id: 'quay.here',
      notes: [
        { text: 'line reworded', before: 'odile: Two.', after: 'New.' },
        { text: 'line reworded', before: 'Three.', after: 'odile: Two, then.' },
        { text: 'choice reworded', before: 'Go', after: 'Go on' },
        { text: 'gate of “Go on” changed', before: 'rope >= 1', after: 'rope >= 2' },
        { text: 'destination of “Go on” changed', before: 'quay.there', after: 'return' },
        { text: '“Go on” can be taken once' },
      ],
    },
  ])
  expect(compareStories(before, before)).toEqual([])
})
