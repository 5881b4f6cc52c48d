import { corridor, ordinary, questsAroundHub, rivals, unevenBudget } from '../../../bench/stories/families'
import { randomStory } from '../../../bench/stories/random'
import { seededRandom } from '../base/random'
import { linkStory } from '../story/link'
import type { Entry, Story } from '../story/types'
import { DegreeList } from './explicit/transitions'
import { LongList, NumberList } from './states/lists'
import { BATCH } from './states/pages'
import { NO_STATE, StateSet } from './states/state-set'
import { surveyStory, Survey } from './survey'
import { wordDomains } from './summaries/word-domains'
import { seeds } from '../../../test/seeds'

function whole(story: Story, liveness = true): Survey {
  const survey = new Survey(linkStory(story), { liveness })
  while (!survey.advance());
  return survey
}

function small(ledger: Entry[], choices: object[], more: object = {}): Story {
  return {
    paperCompass: 1,
    title: 'Small',
    language: 'en',
    start: 'quay.here',
    ledger,
    endings: [{ id: 'end', name: 'End' }],
    scenes: [
      {
        id: 'quay',
        title: 'Quay',
        beats: [
          { id: 'here', choices },
          { id: 'end', ending: 'end' },
        ],
      },
    ],
    ...more,
  } as Story
}

test('what is read again is kept, and nothing else: states grow with what matters, not with what is written', () => {
  // a corridor whose flags are forgotten once they were read
  expect(whole(corridor(60, 12)).search.states).toBeLessThan(400)
  expect(whole(corridor(300, 60)).search.layout.bits).toBeLessThan(20)
  // one scene of an ordinary story does not multiply the next
  const [short, long] = [whole(ordinary(100)), whole(ordinary(400))]
  expect(long.search.states).toBeLessThan(short.search.states * 6)
  expect(long.search.layout.cells).toBe(1)
})

test('counters that nothing reads add up instead of multiplying, and their overruns are found all the same', () => {
  const scores = Array.from({ length: 6 }, (_, at) => `score${at}`)
  const story = small(
    scores.map((id, at) => ({ id, kind: 'counter', min: 0, max: 20 + at })),
    [
      ...scores.map((id) => ({ id: `add_${id}`, text: 'Add', do: [`${id} += 1`], to: 'quay.here' })),
      { id: 'leave', text: 'Leave', to: 'quay.end' },
    ],
  )
  const result = whole(story).result()
  expect(result.complete).toBe(true)
  expect(result.figures.states).toBeLessThan(400)
  expect(
    result.findings.filter(({ kind }) => kind === 'overrun').map(({ key, route }) => [key[0], route!.length]),
  ).toEqual(scores.map((id, at) => [id, 21 + at]))
})

test('what is only handed on within its range multiplies nothing', () => {
  const cups = Array.from({ length: 12 }, (_, at): Entry => ({
    id: `cup${at}`,
    kind: 'counter',
    min: 0,
    max: 11,
    initial: at,
  }))
  const swaps = cups.slice(1).map((_, at) => ({
    id: `swap${at}`,
    text: 'Swap',
    do: [`held = cup${at}`, `cup${at} = cup${at + 1}`, `cup${at + 1} = held`],
    to: 'quay.here',
  }))
  const leave = { id: 'leave', text: 'Leave', to: 'quay.end' }
  const held: Entry = { id: 'held', kind: 'counter', min: 0, max: 11 }
  const result = whole(small([held, ...cups], [...swaps, leave])).result()
  expect(result.complete).toBe(true)
  expect(result.figures.states).toBe(2)
  // one that holds less than the others: enough for what is handed on, or not
  const less = whole(
    small([held, ...cups.slice(0, 4), { ...cups[4]!, max: 4 } as Entry], [...swaps.slice(0, 4), leave]),
  ).result()
  expect(less.findings.filter(({ kind }) => kind === 'overrun')).toEqual([])
  const more = whole(
    small([held, ...cups.slice(0, 3), { ...cups[3]!, max: 3 } as Entry, cups[4]!], [...swaps.slice(0, 4), leave]),
  ).result()
  expect(more.findings.filter(({ kind }) => kind === 'overrun').map(({ key }) => key[0])).toEqual(['cup3'])
})

test('families of stories have the states that their arithmetic says', () => {
  // five stages each, but the ending is taken once all are done
  expect(whole(questsAroundHub(4)).search.states).toBe(5 ** 4 + 1)
  expect(whole(rivals(2)).result().promises).toEqual({ one_each: { verdict: 'kept' } })
  const { reached } = whole(unevenBudget(6, 40)).result()
  // three things and the door
  expect(reached.endings.end!.decisions).toBe(4)
})

test('numbers over the whole exact range are told apart', () => {
  const max = Number.MAX_SAFE_INTEGER
  const story = small(
    [{ id: 'depth', kind: 'counter', min: -max, max, initial: 0 }],
    [
      {
        id: 'double',
        text: 'Double',
        when: 'depth < 4503599627370496',
        do: ['depth = depth * 2 + 1'],
        to: 'quay.here',
      },
      { id: 'top', text: 'Top', when: `depth == ${max}`, to: 'quay.end' },
      {
        id: 'beyond',
        text: 'Beyond',
        when: 'depth * depth > 81129638414606663681390495662080 - 0 * depth',
        to: 'quay.end',
      },
    ].map((choice) => (choice.id === 'beyond' ? { ...choice, when: `depth * depth == depth * depth + 1` } : choice)),
  )
  const result = whole(story).result()
  expect(result.reached.endings.end!.decisions).toBe(54)
  expect(result.unreached.choices).toEqual(['quay.here.beyond'])
  expect(result.findings.filter(({ kind }) => kind === 'overrun')).toEqual([])
})

test('a switch with many positions, many flags and a counter below zero fill more than one word and come back', () => {
  const flags = Array.from({ length: 40 }, (_, at): Entry => ({ id: `f${at}`, kind: 'flag' }))
  const story = small(
    [
      ...flags,
      { id: 'depth', kind: 'counter', min: -1000000, max: 1000000, initial: -1000000 },
      { id: 'lamp', kind: 'switch', positions: Array.from({ length: 300 }, (_, at) => `p${at}`) },
    ],
    [
      {
        id: 'set',
        text: 'Set',
        once: true,
        do: [...flags.map(({ id }) => `${id} = true`), 'depth = 1000000', "lamp = 'p299'"],
        to: 'quay.here',
      },
      {
        id: 'leave',
        text: 'Leave',
        when: `${flags.map(({ id }) => id).join(' && ')} && depth == 1000000 && lamp == 'p299'`,
        to: 'quay.end',
      },
    ],
  )
  const survey = whole(story)
  expect(survey.search.layout.cells).toBeGreaterThan(1)
  expect(survey.result().reached.endings.end!.decisions).toBe(2)
})

test('the set of states knows what it holds, in order of arrival', () => {
  const random = seededRandom(3)
  // a space of few numbers, one that comes to be full, one of very many, and states of two and three words
  for (const [words, space] of [
    [1, 2 ** 14],
    [1, 2 ** 20 + 50000],
    [1, 2 ** 31 - 1],
    [2, 0],
    [3, 0],
  ] as const) {
    const set = new StateSet(words, space)
    const known = new Map<string, number>()
    let names: number[] = []
    const expected: number[] = []
    for (let round = 0; round < 60; round += 1) {
      const size = 1 + random.below(BATCH)
      const keys = Uint32Array.from({ length: size * words }, () =>
        space > 0 && space < 2 ** 21
          ? random.below(space)
          : random.below(words === 1 ? 9000 : 60) * (round % 3 === 0 ? 65537 : 1),
      )
      if (round % 7 === 0) keys[0] = NO_STATE
      if (set.isCrowded) names = names.map(set.holdWhole())
      const added = new Uint32Array(size + 1)
      set.addAll(keys, size, added, 1)
      names.push(...added.subarray(1))
      for (let at = 0; at < size; at += 1) {
        const name = keys.subarray(at * words, (at + 1) * words).join(' ')
        if (keys[at * words] === NO_STATE) expected.push(NO_STATE)
        else {
          if (!known.has(name)) known.set(name, known.size)
          expected.push(known.get(name)!)
        }
      }
    }
    expect(known.size).toBeGreaterThan(5000)
    expect(set.count).toBe(known.size)
    const packed = new Uint32Array(known.size * words)
    set.copy(0, known.size, packed, 0)
    expect(
      [...known.keys()].every(
        (name, number) => packed.subarray(number * words, (number + 1) * words).join(' ') === name,
      ),
    ).toBe(true)
    expect(names.map((name) => set.orderOf(name))).toEqual(expected)
  }
})

test('rows of any length are found again, and what stands in them', () => {
  const random = seededRandom(7)
  const rows = new DegreeList()
  const starts: number[] = []
  let total = 0
  for (let row = 0; row < 5000; row += 1) {
    starts.push(total)
    const length = row === 3000 ? 700 : random.below(4)
    rows.push(length)
    total += length
  }
  expect(starts.map((_, row) => rows.start(row))).toEqual(starts)
  expect(rows.start(5000)).toBe(total)
  for (let row = 0; row < 5000; row += 1)
    for (const element of [starts[row]!, starts[row]! + rows.lengthOf(row) - 1])
      if (rows.lengthOf(row) > 0) expect(rows.rowOf(element)).toBe(row)
})

test('lists grow', () => {
  const list = new NumberList(2)
  for (let at = 0; at < 100; at += 1) list.push(at * 7)
  expect([...list.items.subarray(0, list.length)]).toEqual(Array.from({ length: 100 }, (_, at) => at * 7))
})

test('a long list keeps what was written over the bounds of its parts', () => {
  const random = seededRandom(11)
  const list = new LongList()
  const length = 2 ** 21 + 5000
  while (list.length < length) {
    const first = list.length
    const most = 1 + random.below(4000)
    const written = list.write(most, (into, at, count) => {
      for (let index = 0; index < count; index += 1) into[at + index] = (first + index) * 3
    })
    expect(written === most || list.length % 2 ** 20 === 0).toBe(true)
  }
  let wrong = 0
  for (let at = 0; at < list.length; at += 1) if (list.at(at) !== at * 3) wrong += 1
  expect(wrong).toBe(0)
  expect(list.bytes).toBeLessThan(4 * length + 2 ** 22)
})

test('words that matter: literals of the whole group, and as many others as it can hold where entries are compared', () => {
  const texts: Entry[] = ['a', 'b', 'c', 'd'].map((id) => ({
    id,
    kind: 'text',
    ...(id === 'd' ? { initial: 'Start' } : {}),
  }))
  const story = linkStory(
    small(
      [...texts, { id: 'lamp', kind: 'switch', positions: ['dark', 'lit'] }],
      [
        { id: 'one', text: '{c, select, Moss {m} other {o}}', when: "a == 'Wren' && a != b", to: 'quay.end' },
        { id: 'two', text: 'Two', when: "b in [lamp, ' Heron']", do: ['b = a'], to: 'quay.end' },
      ],
    ),
  )
  const domains = wordDomains(story)
  const of = (id: string) => domains.get(story.entryOf.get(id)!)!
  expect(of('a')).toBe(of('b'))
  expect(of('a').values.slice(0, of('a').others)).toEqual(expect.arrayContaining(['', 'Wren', 'dark', 'lit', ' Heron']))
  expect(of('a').values.length - of('a').others).toBe(2)
  // neither the empty word nor one with a blank before it can be typed
  expect(of('a').typable.map((at) => of('a').values[at])).not.toEqual(expect.arrayContaining(['']))
  expect(of('a').typable.map((at) => of('a').values[at])).not.toEqual(expect.arrayContaining([' Heron']))
  expect(of('c').values.slice(0, of('c').others)).toEqual(['', 'Moss', 'other'])
  expect(of('d').values).toContain('Start')
  expect(of('d').values.length - of('d').others).toBe(1)
})

test('a survey carried on in small steps says the same as one in one go', () => {
  for (const seed of seeds(50)) {
    const story = linkStory(randomStory(seed, 'tiny'))
    const survey = new Survey(story, { routes: 'all' })
    while (!survey.advance(1));
    expect({ ...survey.result(), figures: undefined }).toEqual({
      ...surveyStory(story, { routes: 'all' }),
      figures: undefined,
    })
  }
})

test('a state that is read and written again is the same, and no two places share a number', () => {
  let states = 0
  for (const seed of seeds(100)) {
    for (const liveness of [true, false]) {
      const survey = new Survey(linkStory(randomStory(seed)), { liveness })
      for (let round = 0; !survey.advance(500) && round < 2; round += 1);
      const { layout, table, values, story } = survey.search
      for (let location = 0; location < 2 * story.beats.length; location += 1) {
        const base = layout.baseOf(location)
        const end = base + layout.roomOf(location)
        if (base < end) expect([layout.locationOf(base), layout.locationOf(end - 1)]).toEqual([location, location])
      }
      const again = new Uint32Array(layout.cells)
      for (let state = 0; state < table.count; state += 1) {
        const { beat, stuckAfterWord } = survey.search.load(state)
        layout.pack(stuckAfterWord ? beat + story.beats.length : beat, values, again, 0)
        expect([...again]).toEqual([...survey.search.packedOf(state)])
        states += 1
      }
    }
  }
  expect(states).toBeGreaterThan(500)
})

test('a few slots read alone hold what they hold in the whole state', () => {
  let read = 0
  for (const seed of seeds(200)) {
    const survey = new Survey(linkStory(randomStory(seed)))
    for (let round = 0; !survey.advance(500) && round < 2; round += 1);
    const { search } = survey
    const random = seededRandom(seed)
    const some = search.slots.all.map(({ index }) => index).filter(() => random.chance(0.3))
    const alone: string[] = []
    search.eachState(some, () =>
      alone.push([...some.map((slot) => search.values[slot]), search.resting.beat, search.resting.ending].join()),
    )
    const whole = Array.from({ length: search.states }, (_, state) => {
      search.loadResting(state)
      return [...some.map((slot) => search.values[slot]), search.resting.beat, search.resting.ending].join()
    })
    expect(alone).toEqual(whole)
    read += alone.length
  }
  expect(read).toBeGreaterThan(500)
})
