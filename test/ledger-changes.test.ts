import { inOneGo } from '../src/core/base/slices'
import Papa from 'papaparse'
import { randomStory } from '../bench/stories/random'
import { seededRandom } from '../src/core/base/random'
import { nameDistance, nearlySame } from '../src/core/base/near-names'
import { readLedgerTable, writeLedgerTable } from '../src/core/formats/ledger-table/table'
import { begin, decide } from '../src/core/play/step'
import { openness } from '../src/core/play/choices'
import { entryValues } from '../src/core/survey/questions/entry-values'
import { surveyStory } from '../src/core/survey/survey'
import { applyChange } from '../src/core/story/changes/apply'
import type { Change } from '../src/core/story/changes/types'
import { linkStory } from '../src/core/story/link'
import type { Entry, Story } from '../src/core/story/types'
import { changeKind } from '../src/core/story/rename/change-kind'
import { mergeEntries } from '../src/core/story/rename/merge-entries'
import { seeds } from './seeds'

function after(story: Story, change: Change): Story {
  const applied = applyChange(story, change)
  if (!applied.ok) throw new Error(applied.error)
  const undone = applyChange(applied.value.story, applied.value.inverse)
  expect(undone.ok && JSON.stringify(undone.value.story)).toBe(JSON.stringify(story))
  return applied.value.story
}

/** What a survey says, but for the names of conditions. */
function verdicts(story: Story): string {
  const { reached, unreached, findings, promises } = surveyStory(linkStory(story))
  const lengths = Object.fromEntries(
    Object.entries(reached).map(([what, items]) => [
      what,
      Object.fromEntries(Object.entries(items).map(([id, { decisions }]) => [id, decisions])),
    ]),
  )
  return JSON.stringify([
    lengths,
    unreached,
    findings.filter(({ kind }) => kind !== 'overrun').map(({ kind, key }) => [kind, key]),
    Object.entries(promises).map(([id, { verdict }]) => [id, verdict]),
  ])
}

function flagged(kind: 'flag' | 'counter'): Story {
  const flag = kind === 'flag'
  return {
    paperCompass: 1,
    title: 'K',
    language: 'en',
    start: 'yard.gate',
    ledger: [flag ? { id: 'lamp', kind: 'flag' } : { id: 'lamp', kind: 'counter', min: 0, max: 2 }],
    promises: [{ id: 'p', kind: 'possible', holds: flag ? 'lamp' : 'lamp >= 2' }],
    routes: [
      { id: 'r', name: 'R', decisions: [{ choice: 'yard.gate.light' }], expect: { ledger: { lamp: flag ? true : 1 } } },
    ],
    endings: [{ id: 'out', name: 'Out' }],
    scenes: [
      {
        id: 'yard',
        title: 'Yard',
        beats: [
          {
            id: 'gate',
            place: true,
            lines: [
              {
                text: flag
                  ? '{lamp, select, true {Light.} other {Dark.}}'
                  : '{lamp, select, 1 {Dim.} other {Dark or bright.}}',
              },
              { text: 'Shines.', when: flag ? 'lamp == true' : '1 < lamp' },
            ],
            choices: [
              {
                id: 'light',
                text: 'Light',
                when: flag ? '!lamp' : 'lamp < 2',
                do: [flag ? 'lamp = true' : 'lamp = 1'],
                to: 'yard.gate',
              },
              {
                id: 'more',
                text: 'More',
                when: flag ? 'lamp && !(lamp == false)' : 'lamp == 1 || lamp in [1, 2]',
                do: [flag ? 'lamp = false' : 'lamp = 2'],
                to: 'yard.gate',
              },
              { id: 'go', text: 'Go', when: flag ? 'lamp != false' : 'lamp > 1', to: 'yard.out' },
            ],
          },
          { id: 'out', ending: 'out' },
        ],
      },
    ],
  }
}

test.each([
  ['a flag into a switch', flagged('flag'), { id: 'lamp', kind: 'switch', positions: ['dark', 'lit'] }],
  ['a flag into a counter', flagged('flag'), { id: 'lamp', kind: 'counter', min: 0, max: 1 }],
  ['a number into a switch', flagged('counter'), { id: 'lamp', kind: 'switch', positions: ['dark', 'dim', 'bright'] }],
] as const)('%s: every gate, effect, text, promise and route is rewritten, and the verdicts stay', (_, story, made) => {
  const turned = changeKind(story, story.ledger![0]!, structuredClone(made) as unknown as Entry)
  if (!turned.ok) throw new Error(turned.error)
  expect(turned.value.broken).toEqual([])
  const next = after(story, turned.value.change)
  expect(verdicts(next)).toBe(verdicts(story))
  expect(next.ledger![0]!.kind).toBe(made.kind)
  expect(turned.value.rewritten.length).toBeGreaterThan(5)
  // and back again
  if (made.kind === 'switch') {
    const back = changeKind(next, next.ledger![0]!, story.ledger![0]!)
    if (!back.ok) throw new Error(back.error)
    expect(verdicts(after(next, back.value.change))).toBe(verdicts(story))
  }
})

test('what was asked by the order of positions is asked the same way of a flag', () => {
  const gates = ["atLeast(lamp, 'lit')", "before(lamp, 'lit')", "atLeast(lamp, 'dark')", "before(lamp, 'dark')"]
  const story: Story = {
    paperCompass: 1,
    title: 'By order',
    language: 'en',
    start: 'yard.gate',
    ledger: [{ id: 'lamp', kind: 'switch', positions: ['dark', 'lit'] }],
    scenes: [
      {
        id: 'yard',
        title: 'Yard',
        beats: [{ id: 'gate', choices: gates.map((when, at) => ({ id: `c${at}`, text: when, when, to: '' })) }],
      },
    ],
  }
  const turned = changeKind(story, story.ledger![0]!, { id: 'lamp', kind: 'flag' })
  if (!turned.ok) throw new Error(turned.error)
  const [beat] = after(story, turned.value.change).scenes[0]!.beats
  expect(beat!.choices!.map(({ when }) => when)).toEqual(['lamp', '!lamp', 'true', 'false'])
})

test('what can not be said of the new kind is told, and stays as it is', () => {
  const story = flagged('counter')
  story.scenes[0]!.beats[0]!.choices![0]!.do = ['lamp += 1']
  const turned = changeKind(story, story.ledger![0]!, {
    id: 'lamp',
    kind: 'switch',
    positions: ['dark', 'dim', 'bright'],
  })
  expect(turned.ok && turned.value.broken).toEqual([expect.stringMatching(/^yard\.gate\.light do1: /)])
})

test('generated stories keep their verdicts when flags become switches', () => {
  let turned = 0
  for (const seed of seeds(80)) {
    const story = randomStory(seed, 'tiny')
    for (const entry of story.ledger ?? []) {
      if (entry.kind !== 'flag') continue
      const made = changeKind(story, entry, { id: entry.id, kind: 'switch', positions: ['no', 'yes'] })
      if (!made.ok || made.value.broken.length > 0) continue
      const next = after(story, made.value.change)
      expect({ seed, entry: entry.id, verdicts: verdicts(next) }).toEqual({
        seed,
        entry: entry.id,
        verdicts: verdicts(story),
      })
      turned += 1
    }
  }
  expect(turned).toBeGreaterThan(60)
})

test('one entry takes the place of another', () => {
  const story = flagged('flag')
  story.ledger!.push({ id: 'lamps', kind: 'flag' }, { id: 'oil', kind: 'counter', min: 0, max: 2 })
  story.scenes[0]!.beats[0]!.choices![0]!.do = ['lamps = true']
  const merged = mergeEntries(story, 'lamps', 'lamp')
  if (!merged.ok) throw new Error(merged.error)
  expect(merged.value.mentions).toBe(1)
  const next = after(story, merged.value.change)
  expect(next.ledger!.map(({ id }) => id)).toEqual(['lamp', 'oil'])
  expect(verdicts({ ...next, ledger: next.ledger!.slice(0, 1) })).toBe(verdicts(flagged('flag')))
  const unlike = mergeEntries(story, 'oil', 'lamp')
  expect(!unlike.ok && unlike.error).toContain('change the kind')
})

test('the values that entries hold where the story rests are those of playing every branch', () => {
  let compared = 0
  for (const seed of seeds(250)) {
    const story = linkStory(randomStory(seed, 'tiny'))
    if (story.start === -1 || story.inOrder.some(({ ask }) => ask !== undefined)) continue
    // plain play here takes decisions alone
    if (story.entries.some(({ given }) => given !== undefined)) continue
    const first = begin(story)
    const nodes = new Map([[JSON.stringify(first), first]])
    for (const state of nodes.values()) {
      if (nodes.size > 300) break
      for (const choice of state.status === 'choice' ? story.beats[state.at]!.choices : []) {
        if (!openness(story, state, choice).open) continue
        const next = decide(story, state, { choice: choice.address })
        if (next.ok) nodes.set(JSON.stringify(next.value), next.value)
      }
    }
    if (nodes.size > 300) continue
    compared += 1
    const taken = inOneGo(entryValues(story, () => false))!
    for (const entry of story.entries) {
      const rested = [...nodes.values()].filter(
        (state) => state.status !== 'endless' && (entry.scene === -1 || story.beats[state.at]!.scene === entry.scene),
      )
      expect({ seed, id: entry.id, values: [...taken[entry.id]!.values].sort() }).toEqual({
        seed,
        id: entry.id,
        values: [...new Set(rested.map((state) => state.entries[entry.index]!))].sort(),
      })
    }
  }
  expect(compared).toBeGreaterThan(60)
  expect(inOneGo(entryValues(linkStory(flagged('flag')), () => true))).toBeUndefined()
})

test('a ledger as a table and back changes nothing; what a table changes is told, what is wrong is refused whole', () => {
  for (const seed of seeds(60)) {
    const story = randomStory(seed)
    const { data } = Papa.parse<string[]>(Papa.unparse(writeLedgerTable(story)))
    const read = readLedgerTable(story, data)
    expect(read).toMatchObject({ ok: true, value: { added: [], changed: [] } })
  }
  const story: Story = {
    ...flagged('flag'),
    ledger: [
      {
        id: 'lamp',
        kind: 'switch',
        positions: ['dark', 'lit'],
        meanings: { lit: 'finds, and shows' },
        group: 'carried',
      },
      { id: 'oil', kind: 'item', max: 3 },
    ],
  }
  const table = writeLedgerTable(story)
  expect(table[1]).toContain('dark | lit = finds, and shows')
  const read = readLedgerTable(story, [
    ...table.slice(0, 2),
    ['tide', 'counter', 'causeway', '4', '0', '6', '', 'Hours'],
  ])
  if (!read.ok) throw new Error(read.error.join())
  expect(read.value).toMatchObject({ added: ['tide'], changed: [], untouched: ['oil'] })
  expect(after(story, read.value.change).ledger!.at(-1)).toEqual({
    id: 'tide',
    kind: 'counter',
    group: 'causeway',
    min: 0,
    max: 6,
    initial: 4,
    notes: 'Hours',
  })
  const wrong = readLedgerTable(story, [
    table[0]!,
    ['Tide', 'counter'],
    ['tide', 'tally'],
    ['lit', 'flag', '', 'maybe'],
    ['oil', 'item', '', '', '', '3.5'],
    ['s', 'switch'],
  ])
  expect(!wrong.ok && wrong.error.map((line) => line.slice(0, 5))).toEqual([
    'row 2',
    'row 3',
    'row 4',
    'row 5',
    'row 6',
  ])
  expect(readLedgerTable(story, [['name', 'sort']]).ok).toBe(false)
})

test('names that are nearly the same: a slip is found, another name is not', () => {
  expect(nearlySame('lantren', 'lantern')).toBe(true)
  expect(nearlySame('toll_payed', 'toll_paid')).toBe(true)
  expect(nearlySame('rope', 'ropes')).toBe(true)
  expect(nearlySame('tide', 'side')).toBe(true)
  expect(nearlySame('oil', 'ail')).toBe(false)
  expect(nearlySame('lantern', 'lantern')).toBe(false)
  const random = seededRandom(3)
  const word = () => Array.from({ length: random.below(7) }, () => 'abc'[random.below(3)]!).join('')
  for (let round = 0; round < 300; round += 1) {
    const [a, b, c] = [word(), word(), word()]
    expect(nameDistance(a, b)).toBe(nameDistance(b, a))
    expect(nameDistance(a, a)).toBe(0)
    expect(nameDistance(a, b)).toBeGreaterThanOrEqual(Math.abs(a.length - b.length))
    expect(nameDistance(`${a}${c}`, `${b}${c}`)).toBeLessThanOrEqual(nameDistance(a, b))
  }
})
