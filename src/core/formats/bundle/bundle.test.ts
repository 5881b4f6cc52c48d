import { randomStory } from '../../../../bench/stories/random'
import { seededRandom } from '../../base/random'
import { linkStory } from '../../story/link'
import type { Story } from '../../story/types'
import { surveyStory } from '../../survey/survey'
import type { PluralRules } from './format'
import { localeOf } from './locale'
import { readBundle } from './read'
import { bundleSchema } from './schema'
import { writeBundle } from './write'
import { quay } from '../../../../test/quay'
import { seeds } from '../../../../test/seeds'

const story = (more: Partial<Story> = {}): Story =>
  quay(
    [
      {
        id: 'here',
        lines: [{ text: 'Rope: {rope, plural, one {# coil} other {# coils}}' }],
        choices: [
          { id: 'go', text: 'Go', to: 'quay.end' },
          { id: 'fly', text: 'Fly', when: 'rope > 3', do: ['rope += 1'], to: 'quay.sky' },
        ],
      },
      { id: 'sky', lines: [{ text: 'Never.' }], onward: [{ to: 'quay.end' }] },
      {
        id: 'end',
        lines: [{ when: "visits('quay.sky') == 0 && !taken('quay.here.fly')", text: 'On foot.' }],
        ending: 'across',
      },
    ],
    {
      ledger: [{ id: 'rope', kind: 'item', max: 3 }],

      ...more,
    },
  )

test('every bundle has the shape that its schema describes, and is read again', () => {
  for (const seed of seeds(100)) {
    const bundle = JSON.parse(JSON.stringify(writeBundle(linkStory(randomStory(seed))))) as unknown
    const checked = bundleSchema.safeParse(bundle)
    expect({ seed, error: checked.error?.message }).toEqual({ seed, error: undefined })
    const again = readBundle(bundle)
    expect({ seed, error: again.ok ? undefined : again.error.message }).toEqual({ seed, error: undefined })
  }
})

test('what no route comes to is left out on asking, and nothing that is left names it', () => {
  const linked = linkStory(story())
  const { unreached } = surveyStory(linked)
  const leftOut = { beats: new Set(unreached.beats), choices: new Set(unreached.choices) }
  const bundle = writeBundle(linked, leftOut)
  expect(bundle.beats.map(({ id }) => id)).toEqual(['quay.here', 'quay.end'])
  expect(bundle.beats[0]!.choices!.map(({ id, to }) => [id, to])).toEqual([['quay.here.go', 1]])
  expect(bundle.beats[1]!.lines![0]).toMatchObject({ when: ['and', ['==', 0, 0], ['not', false]] })
  expect(bundle.texts['en']).not.toContain('Never.')
  expect(readBundle(bundle).ok).toBe(true)
})

test('what is wrong with a bundle is told with its place', () => {
  const sound = () => JSON.parse(JSON.stringify(writeBundle(linkStory(story())))) as Record<string, never>
  const told = (spoil: (bundle: Record<string, never>) => void) => {
    const bundle = sound()
    spoil(bundle)
    const read = readBundle(bundle)
    return read.ok ? 'read' : read.error.message
  }
  /** Puts something else where the keys lead, or takes it away. */
  const spoil = (keys: string, value?: unknown) =>
    told((bundle) => {
      const path = keys.split('.')
      let at = bundle as Record<string, unknown>
      for (const key of path.slice(0, -1)) at = at[key] as Record<string, unknown>
      if (value === undefined) delete at[path.at(-1)!]
      else at[path.at(-1)!] = value
    })
  const gate = 'beats.0.choices.1.when'
  expect(spoil('nothing')).toBe('read')
  expect(spoil('paperCompassBundle', 2)).toBe(
    'paperCompassBundle: expected 1: another format than this runtime reads, found 2',
  )
  expect(spoil('beats')).toBe('beats: expected a list')
  expect(spoil('start', 9)).toBe('start: expected the number of a beat, below 3, found 9')
  expect(spoil(gate, ['>', ['entry', 7], 3])).toBe(
    'beats[0].choices[1].when[1][1]: expected the number of an entry, below 1, found 7',
  )
  expect(spoil(gate, ['>', 'rope', 3])).toMatch(
    /^beats\[0\]\.choices\[1\]\.when: expected a condition that can be understood \(/,
  )
  expect(spoil('beats.0.choices.1.do.0.2', true)).toMatch(
    /^beats\[0\]\.choices\[1\]\.do\[0\]: expected an effect that can be understood \(/,
  )
  expect(spoil('entries.0.initial', 4)).toBe('entries[0].initial: expected a number from 0 to 3, found 4')
  expect(spoil('texts.en.1.1.forms.other')).toBe('texts.en[1][1].forms: expected a form "other", found an object')
  let deep: unknown = true
  for (let depth = 0; depth < 5000; depth += 1) deep = ['not', deep]
  expect(spoil(gate, deep)).toMatch(/^the bundle: expected less nesting/)
})

/** Every damage of a real file is told or harmless; nothing else is thrown. */
test('no damage to a bundle does more than to refuse it', () => {
  const random = seededRandom(5)
  for (const seed of seeds(200)) {
    const text = JSON.stringify(writeBundle(linkStory(randomStory((seed % 40) + 1))))
    const at = random.below(text.length)
    const spoilt = `${text.slice(0, at)}${random.pick(['1', '-', '"', 'null', '[]', '{}', ''])}${text.slice(at + 1 + random.below(3))}`
    let json: unknown
    try {
      json = JSON.parse(spoilt)
    } catch {
      continue
    }
    const read = readBundle(json)
    if (!read.ok) expect(read.error.message).toMatch(/expected/)
  }
})

function category(rules: PluralRules, value: number): string {
  const size = Math.abs(value)
  const relates = ([modulus, negated, ...bounds]: readonly number[]) => {
    const operand = modulus === 0 ? size : size % modulus!
    const among = bounds.some((from, at) => at % 2 === 0 && operand >= from && operand <= bounds[at + 1]!)
    return among !== (negated === 1)
  }
  return rules.find(([, alternatives]) => alternatives.some((relations) => relations.every(relates)))?.[0] ?? 'other'
}

test('forms and numbers are those of the language, in every language that is known', () => {
  const languages =
    'af am ar ast az be bg bn br bs ca cs cy da de dsb el en eo es et eu fa fi fil fo fr fy ga gd gl gu he hi hr hsb hu hy id is it ja ka kk km kn ko ku lb lo lt lv mk ml mn mr ms mt my nb ne nl nn or pa pl pt pt-PT ro ru sc se si sk sl so sq sr sv sw ta te th tr uk ur uz vi wo zh zu en-IN de-CH ar-EG es-MX'.split(
      ' ',
    )
  const random = seededRandom(3)
  const values = [
    ...Array.from({ length: 210 }, (_, value) => value),
    1000,
    1001,
    1_000_000,
    2_000_000,
    -1,
    -2,
    9007199254740991,
  ]
  for (let more = 0; more < 60; more += 1) values.push(random.below(10 ** (1 + random.below(12))))
  for (const language of languages) {
    const { cardinal, ordinal, digits, group, groups, negative } = localeOf(language)
    const numbers = new Intl.NumberFormat(language)
    const written = (value: number) => {
      const plain = String(Math.abs(value))
      const parts: string[] = []
      for (
        let stop = plain.length, size = plain.length >= groups[0] + groups[2] ? groups[0] : plain.length;
        stop > 0;
        stop -= size, size = parts.length > 0 ? groups[1] : size
      )
        parts.unshift(plain.slice(Math.max(0, stop - size), stop))
      const text = parts.map((part) => [...part].map((digit) => digits[Number(digit)]).join('')).join(group)
      return value < 0 ? `${negative[0]}${text}${negative[1]}` : text
    }
    for (const [type, rules] of [
      ['cardinal', cardinal],
      ['ordinal', ordinal],
    ] as const) {
      const known = new Intl.PluralRules(language, { type })
      const wrong = values.filter((value) => known.select(value) !== category(rules, value))
      expect({ language, type, wrong }).toEqual({ language, type, wrong: [] })
    }
    const wrong = values.filter((value) => numbers.format(value) !== written(value))
    expect({ language, wrong, shown: wrong.map((value) => [numbers.format(value), written(value)]) }).toEqual({
      language,
      wrong: [],
      shown: [],
    })
  }
})
