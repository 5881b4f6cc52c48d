import { randomStory } from '../../../bench/stories/random'
import { randomChange } from '../../../test/random-change'
import { reshaped } from '../../../test/reshaped'
import { seededRandom } from '../base/random'
import { applyChange } from './changes/apply'
import { readChange } from './changes/schema'
import type { LinkedBeat, LinkedStory, Road } from './linked'
import { linkStory } from './link'
import { readStory } from './read'
import type { Change } from './changes/types'
import type { Beat, Choice, Story } from './types'
import { writeStory } from './write'
import { seeds } from '../../../test/seeds'

const base = {
  paperCompass: 1,
  title: 'Read',
  language: 'en',
  start: 'quay.here',
  scenes: [{ id: 'quay', title: 'Quay', beats: [{ id: 'here' }] }],
}

const withBeat = (beat: object) => ({
  ...base,
  scenes: [{ id: 'quay', title: 'Quay', beats: [{ id: 'here', ...beat }] }],
})

test.each([
  ['no JSON', '{"title": ', 'not JSON'],
  ['another version', { ...base, paperCompass: 2 }, 'format version 1'],
  ['a missing key', { ...base, start: undefined }, 'start: this key is missing'],
  ['a language that is none', { ...base, language: '??' }, 'language tag'],
  [
    'an id with a capital',
    { ...base, cast: [{ id: 'Odile', name: 'Odile' }] },
    'cast[0].id (Odile): an id starts with a small letter',
  ],
  ['a reserved id', { ...base, ledger: [{ id: 'quest_fee', kind: 'flag' }] }, 'reserved word'],
  ['an unknown kind', { ...base, ledger: [{ id: 'fee', kind: 'purse' }] }, 'ledger[0].kind (fee)'],
  ['a fraction', { ...base, ledger: [{ id: 'fee', kind: 'item', max: 1.5 }] }, 'ledger[0].max (fee)'],
  [
    'a number beyond the exact ones',
    { ...base, ledger: [{ id: 'fee', kind: 'item', max: 2 ** 53 }] },
    'ledger[0].max (fee)',
  ],
  [
    'an ending with choices',
    withBeat({ ending: 'home', choices: [{ id: 'go', text: 'Go', to: '' }] }),
    'scenes[0].beats[0].choices (quay.here): a beat that is an ending has no choices',
  ],
  ['an ending that goes on', withBeat({ ending: 'home', onward: [{ to: '' }] }), 'does not go on'],
  [
    'a word and choices',
    withBeat({ ask: { into: 'x', prompt: '' }, choices: [{ id: 'go', text: 'Go', to: '' }] }),
    'not both',
  ],
  [
    'a group with a gate',
    withBeat({ lines: [{ firstOf: [], when: 'true' }] }),
    'lines[0].when (quay.here): a firstOf group has no condition',
  ],
  ['a variant with effects', withBeat({ lines: [{ firstOf: [{ lines: [], do: [] }] }] }), 'a variant has no effects'],
  [
    'a group in a variant',
    withBeat({ lines: [{ firstOf: [{ lines: [{ firstOf: [] }] }] }] }),
    'lines[0].firstOf[0].lines[0]',
  ],
  ['a rule with several roads', withBeat({ onward: [{ to: ['quay.here'] }] }), 'a rule leads to one beat'],
  [
    'a promise without its parts',
    { ...base, promises: [{ id: 'p', kind: 'inOrder', first: 'true' }] },
    'promises[0].then',
  ],
])('%s is refused, with the place and the reason', (_name, document, reason) => {
  const read = readStory(typeof document === 'string' ? document : JSON.stringify(document))
  expect(read.ok ? '' : read.error.map(({ where, message }) => `${where}: ${message}`).join('\n')).toContain(reason)
})

test('a document comes back as it was, unknown keys too', () => {
  const text = writeStory({
    ...base,
    mood: ['blue'],
    scenes: [{ ...base.scenes[0]!, tint: 3, beats: [{ id: 'here', sound: { rain: true } }] }],
  } as never)
  const read = readStory(`\uFEFF${text}`)
  expect(read.ok && writeStory(read.value)).toBe(text)
})

test('problems have their address and part, and of double ids the first counts', () => {
  const story = linkStory({
    ...base,
    paperCompass: 1,
    start: '',
    cast: [
      { id: 'odile', name: 'Odile' },
      { id: 'odile', name: 'Second' },
    ],
    ledger: [
      { id: 'tide', kind: 'counter', min: 0, max: 3, initial: 9 },
      { id: 'lamp', kind: 'switch', positions: ['dark', 'dark'] },
      { id: 'rope', kind: 'item', max: -1 },
    ],
    quests: [
      {
        id: 'dig',
        name: 'Dig',
        stages: [{ id: 'done', name: 'Done' }],
        moves: [
          ['unstarted', 'done'],
          ['done', 'gone'],
        ],
      },
    ],
    scenes: [
      {
        id: 'quay',
        title: 'Quay',
        ledger: [
          { id: 'own', kind: 'flag' },
          { id: 'tide', kind: 'flag' },
        ],
        beats: [
          {
            id: 'here',
            lines: [{ speaker: 'nobody', text: '{gone}' }],
            choices: [{ id: 'go', text: 'Go', who: 'nobody', do: ['tide = 1', 'tide =='], to: [{ to: 'quay.gone' }] }],
          },
          { id: 'ask', ask: { into: 'tide', prompt: '{' }, onward: [{ when: 'own', to: 'return' }] },
          { id: 'here', ending: 'gone' },
        ],
      },
      { id: 'mill', title: 'Mill', beats: [{ id: 'other', ending: 'gone', arrive: [{ when: 'own' }] }] },
    ],
    promises: [{ id: 'p', kind: 'never', holds: 'own' }],
  })
  expect(story.problems.map(({ address, part }) => `${address} ${part}`).sort()).toEqual(
    [
      'story start',
      'odile id',
      'tide initial',
      'tide id',
      'lamp positions',
      'rope max',
      'dig moves2',
      'quay.here id',
      'quay.here#line1 speaker',
      'quay.here#line1 text',
      'quay.here.go who',
      'quay.here.go do2',
      'quay.here.go#1 to',
      'quay.ask into',
      'quay.ask prompt',
      'mill.other ending',
      'mill.other#arrive1 when',
      'p holds',
    ].sort(),
  )
  expect(story.inOrder.map(({ address }) => address)).toEqual(['quay.here', 'quay.ask', 'mill.other'])
})

test('every change is undone by its inverse, survives being sent, and is refused where its object is gone', () => {
  const random = seededRandom(8)
  for (const seed of seeds(40)) {
    let story = randomStory(seed)
    for (let step = 0; step < 10; step += 1) {
      const change = randomChange(story, random)
      const sent = readChange(JSON.parse(JSON.stringify(change)))
      expect(sent).toEqual({ ok: true, value: JSON.parse(JSON.stringify(change)) })
      const applied = applyChange(story, change)
      if (!applied.ok) continue
      const back = applyChange(applied.value.story, applied.value.inverse)
      expect(back.ok && JSON.parse(JSON.stringify(back.value.story))).toEqual(JSON.parse(JSON.stringify(story)))
      story = applied.value.story
    }
  }
  const gone = applyChange(randomStory(1), {
    op: 'replace',
    in: { list: 'beats', scene: 's0' },
    id: 'never_was',
    at: 0,
    item: { id: 'never_was' },
  })
  expect(gone).toMatchObject({ ok: false, error: expect.stringContaining('"never_was" is not there any more') })
  expect(
    readChange({ op: 'replace', in: { list: 'beats', scene: 's0' }, id: 'x', at: 0, item: { id: 'Bad' } }).ok,
  ).toBe(false)
  expect(readChange({ op: 'set-story', values: { title: null } }).ok).toBe(false)
})

test('linking after an edit gives what linking anew gives, and leaves what was not changed as it is', () => {
  let reused = 0
  let reusedAcross = 0
  for (const seed of seeds(40)) {
    const random = seededRandom(seed)
    let story = randomStory(seed)
    let linked = linkStory(story)
    for (let step = 0; step < 12; step += 1) {
      if (random.chance(0.4)) story = reshaped(story, random)
      else {
        const change = random.chance(0.6) ? reworded(story, random.below(1000)) : randomChange(story, random)
        const applied = applyChange(story, change)
        if (!applied.ok) continue
        story = applied.value.story
      }
      const next = linkStory(story, linked)
      expect({ seed, step, linked: byAddress(next) }).toEqual({ seed, step, linked: byAddress(linkStory(story)) })
      expectSound(next)
      const stayed = next.inOrder.filter((beat) => linked.inOrder.includes(beat)).length
      reused += stayed
      if (stayed > 0 && next.inOrder.length !== linked.inOrder.length) reusedAcross += stayed
      linked = next
    }
  }
  expect(reused).toBeGreaterThan(1000)
  expect(reusedAcross).toBeGreaterThan(50)
})

test.each<[what: string, keys: Partial<Choice> | undefined, promise: string | undefined]>([
  ['a road', { to: 'mill.new' }, undefined],
  ['a road', { to: [{ when: 'true', to: 'mill.new' }] }, undefined],
  ['a condition', { when: "visits('mill.new') > 0" }, undefined],
  ['a condition', { when: "taken('mill.new.go')" }, undefined],
  ['a promise', undefined, "visits('mill.new') < 2"],
  ['a name until known', undefined, undefined],
])(
  'what comes and goes is known to %s that names it, and lines in turn are numbered as they stand',
  (what, keys, promise) => {
    const turns = (id: string): Beat => ({ id, lines: [{ inTurn: [{ lines: [{ text: id }] }] }] })
    const story = (mill: Beat[], from?: Story): Story => ({
      ...(from ?? {
        paperCompass: 1,
        title: 'Names',
        language: 'en',
        start: 'quay.here',
        ...(promise === undefined ? {} : { promises: [{ id: 'p', kind: 'always', holds: promise }] }),
        cast: [
          {
            id: 'odile',
            name: 'Odile',
            ...(what === 'a name until known' ? { called: [{ when: "visits('mill.new') == 0", name: 'She' }] } : {}),
          },
        ],
      }),
      scenes: [
        from?.scenes[0] ?? {
          id: 'quay',
          title: 'Quay',
          beats: [{ id: 'here', choices: [{ id: 'go', text: 'Go', to: 'mill.old', ...keys }] }],
        },
        { id: 'mill', title: 'Mill', beats: mill },
      ],
    })
    const [old, one, other] = [{ id: 'old' }, turns('one'), turns('other')]
    const fresh: Beat = { id: 'new', choices: [{ id: 'go', text: 'Go', to: 'quay.here' }] }
    let made = story([old, one, other])
    let linked = linkStory(made)
    for (const mill of [
      [old, fresh, one, other],
      [old, one, other],
      [fresh, old, other, one],
      [fresh, old, { ...one, lines: [{ text: 'First.' }, ...one.lines!] }, other],
    ]) {
      made = story(mill, made)
      linked = linkStory(made, linked)
      expect(byAddress(linked)).toEqual(byAddress(linkStory(made)))
      expectSound(linked)
    }
  },
)

/** A linked story with addresses where it has numbers of beats and choices. */
function byAddress({ beats, choices, start, beatOf, choiceOf, ...story }: LinkedStory): unknown {
  const road = (to: Road) => (to.kind === 'beat' ? beats[to.beat]!.address : to.kind)
  const rules = (all: LinkedBeat['onward']) => all.map((rule) => ({ ...rule, to: road(rule.to) }))
  return {
    ...story,
    start: beats[start]?.address,
    names: [...beatOf.keys(), ...choiceOf.keys()].sort(),
    choices: Array.from(choices, (choice) => choice?.address)
      .filter(Boolean)
      .sort(),
    inOrder: story.inOrder.map(({ index: _, memo: __, ...beat }) => ({
      ...beat,
      redirects: rules(beat.redirects),
      onward: rules(beat.onward),
      choices: beat.choices.map(({ index: ___, ...choice }) => ({
        ...choice,
        beat: beats[choice.beat]!.address,
        to: choice.to.kind === 'road' ? road(choice.to.road) : rules(choice.to.rules),
      })),
    })),
  }
}

/** Whether everything stands under its number, and nothing under a number that is spare. */
function expectSound({ beats, choices, inOrder, beatOf, choiceOf }: LinkedStory): void {
  const numbers = new Set<number>()
  for (const beat of inOrder) {
    expect(beats[beat.index]).toBe(beat)
    expect(beatOf.get(beat.address)).toBe(beat.index)
    for (const choice of beat.choices) {
      expect(choices[choice.index]).toBe(choice)
      expect(choiceOf.get(choice.address)).toBe(choice.index)
    }
    numbers.add(beat.index)
  }
  expect(numbers.size).toBe(inOrder.length)
  for (let number = 0; number < beats.length; number += 1)
    if (!numbers.has(number)) expect(beats[number]).toMatchObject({ index: number, address: '', choices: [] })
}

/** An edit inside of one beat: its gates and roads mixed up. */
function reworded(story: Story, pick: number): Change {
  const scene = story.scenes.find(({ beats }) => beats.length > 0)
  if (scene === undefined) return { op: 'set-story', values: { title: 'Empty' } }
  const at = pick % scene.beats.length
  const beat = scene.beats[at]!
  const item: Beat = {
    ...beat,
    lines: [{ text: 'Edited {nobody}.', when: 'nothing == 3' }, ...(beat.lines ?? [])],
    ...(beat.choices === undefined
      ? {}
      : { choices: beat.choices.map((choice) => ({ ...choice, to: pick % 2 === 0 ? '' : 's0.b1' })) }),
  }
  return { op: 'replace', in: { list: 'beats', scene: scene.id }, id: beat.id, at, item }
}
