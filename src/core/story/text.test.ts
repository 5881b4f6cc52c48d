import { parse } from '@formatjs/icu-messageformat-parser'
import { seededRandom } from '../base/random'
import { isPlain, parseText } from './text'

const PIECES = [
  'Wren',
  ' and ',
  '{name}',
  '{ name }',
  '{quest_sluice}',
  '{rope, plural, one {#} other {#s}}',
  '{',
  '}',
  "'",
  '#',
  '<b>',
  '|',
  '\n',
  'é',
  '{Name}',
  '{1}',
  '{}',
  '…',
]

test('texts of words and names are taken apart as the parser of the format takes them apart', () => {
  let simple = 0
  for (let seed = 1; seed <= 4000; seed += 1) {
    const random = seededRandom(seed)
    const source = Array.from({ length: random.below(6) }, () =>
      random.pick(PIECES.slice(0, random.chance(0.5) ? 5 : PIECES.length)),
    ).join('')
    if (isPlain(source)) continue
    let expected: unknown
    try {
      expected = parse(source, { ignoreTag: true, captureLocation: false })
    } catch {
      expected = undefined
    }
    const parsed = parseText(source)
    expect({ source, parts: parsed.ok ? parsed.value : undefined }).toEqual({ source, parts: expected })
    if (/\{[a-z_]+\}/.test(source) && parsed.ok) simple += 1
  }
  expect(simple).toBeGreaterThan(500)
})
