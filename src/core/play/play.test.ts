import { randomStory } from '../../../bench/stories/random'
import { seededRandom } from '../base/random'
import { linkStory } from '../story/link'
import type { LinkedStory } from '../story/linked'
import { checkStory } from '../story/read'
import type { Beat, Entry, RouteItem, Story } from '../story/types'
import { replay, routeTrouble } from './replay'
import { copyState } from './state'
import { begin, decide, decideInPlace } from './step'
import { playThrough } from './transcript'
import { whyClosed } from './why-closed'
import { choicesOf } from '../story/linked-parts'

const LEDGER: Entry[] = [
  { id: 'tide', kind: 'counter', min: 0, max: 3, initial: 2 },
  { id: 'paid', kind: 'flag' },
  { id: 'lantern', kind: 'switch', positions: ['dark', 'lit'] },
  { id: 'name', kind: 'text' },
]

function story(beats: Beat[], more: Partial<Story> = {}): LinkedStory {
  const checked = checkStory({
    paperCompass: 1,
    title: 'Play',
    language: 'en',
    start: `quay.${beats[0]!.id}`,
    ledger: LEDGER,
    endings: [{ id: 'home', name: 'Home' }],
    scenes: [{ id: 'quay', title: 'Quay', beats }],
    ...more,
  })
  if (!checked.ok) throw new Error(JSON.stringify(checked.error))
  return linkStory(checked.value)
}

const end: Beat = { id: 'end', ending: 'home' }

test('effects happen to who takes the choice, in order: the choice, its rule, then the arrival', () => {
  const linked = story([
    {
      id: 'start',
      choices: [
        {
          id: 'go',
          text: 'Go',
          do: ['tide -= 1'],
          to: [
            { when: 'tide == 2', to: 'quay.end' },
            { when: 'tide == 1', do: ['tide += 2'], to: 'quay.there' },
          ],
        },
        { id: 'other', text: 'Other', do: ['paid = true'], to: 'quay.end' },
      ],
    },
    {
      id: 'there',
      arrive: [{ when: 'tide == 3', do: ['paid = true'] }],
      lines: [{ text: 'Paid: {paid, select, true {yes} other {no}}, {tide, plural, one {# hour} other {# hours}}.' }],
      onward: [{ to: 'quay.end' }],
    },
    end,
  ])
  const { steps } = playThrough(linked, [{ choice: 'quay.start.go' }])
  expect(steps[1]!.lines.map(({ text }) => text)).toEqual(['Paid: yes, 3 hours.'])
  expect(steps[1]!.changes.map(({ id, from, to, owner }) => [id, from, to, owner])).toEqual([
    ['tide', 2, 1, 'quay.start.go'],
    ['tide', 1, 3, 'quay.start.go#2'],
    ['paid', false, true, 'quay.there#arrive1'],
  ])
  expect(steps[1]!.state.status).toBe('ended')
})

test('a counter stops at the end of its range, and says so', () => {
  const linked = story([
    { id: 'start', choices: [{ id: 'go', text: 'Go', do: ['tide += 9007199254740991 * 2'], to: 'quay.end' }] },
    end,
  ])
  expect(playThrough(linked, [{ choice: 'quay.start.go' }]).steps[1]!.changes).toMatchObject([{ to: 3, overrun: true }])
})

test('a word is taken without the blanks round it, and never empty', () => {
  const linked = story([
    { id: 'start', ask: { into: 'name', prompt: 'Name?' }, onward: [{ when: "name == 'Wren'", to: 'quay.end' }] },
    end,
  ])
  const first = begin(linked)
  expect(first.status).toBe('word')
  expect(decide(linked, first, { at: 'quay.start', word: ' \t ' })).toMatchObject({
    ok: false,
    error: 'a word can not be empty',
  })
  expect(decide(linked, first, { at: 'quay.start', word: '  Wren ' })).toMatchObject({
    ok: true,
    value: { status: 'ended' },
  })
  // no road on for another word: stuck, though the beat asks
  expect(decide(linked, first, { at: 'quay.start', word: 'wren' })).toMatchObject({
    ok: true,
    value: { status: 'stuck' },
  })
})

test('an empty answer stands for the default word, where there is one', () => {
  const asking = (fallback: string) =>
    story([
      { id: 'start', ask: { into: 'name', prompt: 'Who?', default: fallback }, onward: [{ to: 'quay.end' }] },
      end,
    ])
  const say = (linked: LinkedStory, word: string) => decide(linked, begin(linked), { at: 'quay.start', word })
  const name = (linked: LinkedStory, word: string) => {
    const said = say(linked, word)
    return said.ok ? said.value.entries[linked.entryOf.get('name')!] : said.error
  }
  const wren = asking(' Wren ')
  expect([name(wren, ''), name(wren, '  '), name(wren, ' Moss ')]).toEqual(['Wren', 'Wren', 'Moss'])
  expect(name(asking('  '), '')).toBe('a word can not be empty')
  const played = playThrough(wren, [{ at: 'quay.start', word: '' }])
  expect(played.steps[1]!.changes).toMatchObject([{ id: 'name', from: '', to: 'Wren' }])
})

test('the part of a gate that fails is named with what it saw', () => {
  const linked = story([
    {
      id: 'start',
      choices: [
        { id: 'go', text: 'Go', when: "tide >= 1 && (paid || lantern == 'lit') && !(tide == 2)", to: 'quay.end' },
      ],
    },
    end,
  ])
  const why = whyClosed(linked, begin(linked), linked.choices[0]!)
  expect(
    why?.kind === 'gate' &&
      why.parts.map(({ part, saw }) => [part.kind, saw.map(({ id, value }) => `${id}=${String(value)}`)]),
  ).toEqual([
    ['entry', ['paid=false']],
    ['compare', ['lantern=dark']],
    ['not', ['tide=2']],
  ])
})

test('closed for other reasons than a gate', () => {
  const linked = story([
    {
      id: 'start',
      choices: [
        { id: 'once', text: 'Once', once: true, to: 'quay.start' },
        { id: 'back', text: 'Back', to: 'return' },
        { id: 'nowhere', text: 'Nowhere', to: '' },
        { id: 'list', text: 'List', to: [{ when: 'paid', to: 'quay.end' }] },
      ],
    },
    end,
  ])
  const { state } = replay(linked, [{ choice: 'quay.start.once' }])
  expect(choicesOf(linked).map((choice) => whyClosed(linked, state, choice)?.kind)).toEqual([
    'once',
    'no-place',
    'nowhere',
    'rules',
  ])
})

test('an endless run is found however long it takes to come back', () => {
  const linked = story([
    { id: 'start', choices: [{ id: 'go', text: 'Go', to: 'quay.a' }] },
    { id: 'a', lines: [{ text: 'A.', do: ['tide += 1'] }], onward: [{ to: 'quay.b' }] },
    { id: 'b', onward: [{ when: "visits('quay.a') == 98", do: ['paid = true'], to: 'quay.a' }, { to: 'quay.a' }] },
    end,
  ])
  const { state } = replay(linked, [{ choice: 'quay.start.go' }])
  expect(state.status).toBe('endless')
  expect(state.entries[linked.entryOf.get('paid')!]).toBe(true)
})

test('a text that can not be read is shown as written, and an author’s markup is text', () => {
  const linked = story([
    {
      id: 'start',
      lines: [{ text: 'Hello {nobody}' }, { text: '<b>{tide}</b> & more' }, { text: 'open {' }],
      ending: 'home',
    },
  ])
  expect(playThrough(linked, []).steps[0]!.lines.map(({ text }) => text)).toEqual([
    'Hello {nobody}',
    '<b>2</b> & more',
    'open {',
  ])
  expect(linked.problems.map(({ address, part }) => [address, part])).toEqual([
    ['quay.start#line1', 'text'],
    ['quay.start#line3', 'text'],
  ])
})

test('a kept route tells which step no longer plays, or which expectation fails', () => {
  const linked = story([{ id: 'start', choices: [{ id: 'go', text: 'Go', to: 'quay.end' }] }, end])
  const route = (decisions: { choice: string }[], expectation: object) =>
    routeTrouble(linked, { id: 'r', name: 'R', decisions, expect: expectation })
  expect(route([{ choice: 'quay.start.go' }], { ending: 'home', ledger: { tide: 2 } })).toBeUndefined()
  expect(route([{ choice: 'quay.start.go' }], { ledger: { tide: 1 } })?.message).toContain(
    '"tide" should be 1 and is 2',
  )
  expect(route([], { ending: 'home' })?.message).toContain('does not end')
  expect(route([{ choice: 'quay.start.go' }, { choice: 'quay.start.go' }], {})).toMatchObject({
    plays: [{ choice: 'quay.start.go' }],
    message: expect.stringContaining('step 2'),
  })
  expect(route([{ choice: 'quay.start.gone' }], {})?.message).toContain('there is no choice')
})

test('an expectation that fails says what was wanted and what is so', () => {
  const linked = story([{ id: 'start', choices: [{ id: 'go', text: 'Go', to: 'quay.end' }] }, end], {
    endings: [
      { id: 'home', name: 'Home' },
      { id: 'lost', name: 'Lost' },
    ],
    quests: [{ id: 'sluice', name: 'Sluice', stages: [{ id: 'asked', name: 'Asked', journal: '' }] }],
  })
  const said = (expectation: object) =>
    routeTrouble(linked, { id: 'r', name: 'R', decisions: [{ choice: 'quay.start.go' }], expect: expectation })?.message
  expect(said({ ending: 'lost' })).toBe('it should end with "lost" and ends with "home"')
  expect(said({ stages: { sluice: 'asked' } })).toBe('"sluice" should be at "asked" and is at "unstarted"')
  expect(said({ stages: { gone: 'asked' } })).toBe('"gone" should be at "asked" and does not exist')
  expect(said({ ledger: { gone: true } })).toBe('"gone" should be true and does not exist')
  expect(said({ ledger: { name: 'Wren' } })).toBe('"name" should be "Wren" and is ""')
  expect(said({ ending: 'home', stages: { sluice: 'unstarted' }, ledger: { tide: 2, name: '' } })).toBeUndefined()
})

test('what the game may not give is refused, before the story begins and while it rests, and changes nothing', () => {
  const given: Entry[] = [
    { id: 'weather', kind: 'switch', positions: ['clear', 'fog'], given: 'rest' },
    { id: 'crossed', kind: 'flag', given: 'begin' },
    { id: 'hour', kind: 'counter', min: 0, max: 23, given: 'rest' },
    { id: 'ship', kind: 'text', given: 'rest' },
    { id: 'own', kind: 'flag' },
  ]
  const linked = story([{ id: 'start', choices: [{ id: 'go', text: 'Go', to: 'quay.end' }] }, end], { ledger: given })
  const atStart = (values: Record<string, boolean | number | string>) => replay(linked, [{ given: values }])
  const atRest = (values: Record<string, boolean | number | string>) => decide(linked, begin(linked), { given: values })
  const REFUSED: [Record<string, boolean | number | string>, string][] = [
    [{ gone: true }, 'no ledger entry "gone"'],
    [{ own: true }, "the story's own"],
    [{ weather: 'snow' }, '"weather" can not be "snow"'],
    [{ weather: true }, '"weather" can not be true'],
    [{ hour: 24 }, '"hour" can not be 24'],
    [{ hour: -1 }, '"hour" can not be -1'],
    [{ hour: 1.5 }, '"hour" can not be 1.5'],
    [{ hour: '3' }, '"hour" can not be "3"'],
    [{ ship: ' Plover' }, '"ship" can not be " Plover"'],
    [{ ship: false }, '"ship" can not be false'],
    [{ hour: 3, weather: 'snow' }, '"weather" can not be "snow"'],
  ]
  for (const [values, message] of REFUSED) {
    expect(atStart(values)).toMatchObject({ played: 0, refused: expect.stringContaining(message) })
    expect(atStart(values).state).toEqual(begin(linked))
    expect(atRest(values)).toMatchObject({ ok: false, error: expect.stringContaining(message) })
  }
  expect(atRest({ crossed: true })).toMatchObject({
    ok: false,
    error: expect.stringContaining('before the story begins'),
  })
  const later = { weather: 'fog', hour: 23, ship: 'Plover' }
  expect(atStart({ ...later, crossed: true })).toMatchObject({
    played: 1,
    refused: undefined,
    state: { entries: ['fog', true, 23, 'Plover', false] },
  })
  expect(atRest(later)).toMatchObject({ ok: true, value: { entries: ['fog', false, 23, 'Plover', false] } })
})

test('a decision leaves the state that it is taken in as it was, and a state held alone becomes the next, on generated stories', () => {
  let taken = 0
  let refused = 0
  for (let seed = 1; seed <= 300; seed += 1) {
    const linked = linkStory(randomStory(seed))
    const random = seededRandom(seed)
    let state = begin(linked)
    for (let step = 0; step < 12; step += 1) {
      const beat = linked.beats[state.at]
      if (beat === undefined) break
      const decisions: RouteItem[] =
        state.status === 'word'
          ? [{ at: beat.address, word: random.pick(['Wren', 'Teal', ' ']) }]
          : beat.choices.map(({ address }) => ({ choice: address }))
      const before = JSON.stringify(state)
      const tried = decisions.map((decision) => decide(linked, state, decision))
      expect(JSON.stringify(state)).toBe(before)
      decisions.forEach((decision, at) => {
        const own = copyState(state)
        expect(decideInPlace(linked, own, decision)).toEqual(tried[at])
        if (tried[at]!.ok) return
        expect(own).toEqual(state)
        refused += 1
      })
      const next = tried.filter(({ ok }) => ok)
      if (next.length === 0) break
      const chosen = random.pick(next)
      if (chosen.ok) state = chosen.value
      taken += 1
    }
  }
  expect(taken).toBeGreaterThan(600)
  expect(refused).toBeGreaterThan(100)
})
