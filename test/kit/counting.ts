import type { Story } from '../../src/core/story/types'

const COUNTS = [
  -1, 0, 1, 2, 3, 5, 7, 11, 12, 21, 22, 100, 101, 111, 1000, 1234, 12_345, 1_000_000, 2_345_678, -98_765,
  9_007_199_254_740_991,
]

/** Languages that count and write numbers in many ways. */
const LANGUAGES = [
  'de',
  'fr',
  'pl',
  'ru',
  'ar',
  'hi',
  'cy',
  'es',
  'lt',
  'lv',
  'sl',
  'ga',
  'he',
  'ja',
  'pt-PT',
  'mt',
  'br',
  'gd',
  'en-IN',
  'de-CH',
  'fa',
  'mr',
]

const forms = (kind: string, words: string) =>
  `{sacks, ${kind}, =7 {seven: #} zero {zero ${words} #} one {one ${words} #} two {two ${words} #} few {few ${words} #} many {many ${words} #} other {other ${words} #}}`

/** A story that counts sacks on a scale: every form of number in every language that is here. */
export function countingStory(): Story {
  const text = `${forms('plural', 'sacks')} · ${forms('selectordinal', 'row')} · {sacks} · {sacks, number} · {sacks, plural, offset:1 one {# more} other {# others}}`
  const told = (language: string) => `${language}: ${text}`
  return {
    paperCompass: 1,
    title: 'The salt scale',
    language: 'en',
    start: 'scale.pan',
    ledger: [
      {
        id: 'sacks',
        kind: 'counter',
        given: 'rest',
        min: -9_007_199_254_740_991,
        max: 9_007_199_254_740_991,
        initial: 0,
      },
      { id: 'heap', kind: 'counter', min: 0, max: 1_000_000, initial: 3 },
      { id: 'lit', kind: 'flag' },
      { id: 'lamp', kind: 'switch', positions: ['dark', 'lit', 'lost'] },
      { id: 'who', kind: 'text' },
    ],
    scenes: [
      {
        id: 'scale',
        title: 'The scale',
        beats: [
          {
            id: 'pan',
            place: true,
            lines: [
              {
                id: 'quoted',
                text: "It''s '{not}' {lit, select, true {lit} other {dark}}, {lamp, select, lit {a {who} lamp} other {no lamp}} <b>&amp;</b>",
              },
              { id: 'spaced', text: '  Blanks  stay — and “ünï” signs 🕯️ too.\n\tSo do lines.  ' },
            ],
            choices: [
              { id: 'weigh', text, when: "visits('scale.pan') < 2", to: 'scale.pan' },
              { id: 'light', text: 'Light it', do: ['lit = true', "lamp = 'lit'"], to: 'scale.pan' },
              { id: 'name', text: 'Write a name', to: 'scale.log' },
              {
                id: 'double',
                text: 'Double',
                do: ['heap = sacks * sacks * sacks * heap - sacks * sacks * sacks * heap + heap + heap'],
                to: 'scale.pan',
              },
              {
                id: 'square',
                text: 'Exact squares',
                when: '(sacks * 3 + 1) * (sacks * 3 - 1) == sacks * sacks * 9 - 1',
                closed: 'show',
                to: 'scale.pan',
              },
              {
                id: 'cube',
                text: 'Exact cubes',
                when: 'sacks * sacks * 99999999 + sacks * sacks * 99999999 == sacks * sacks * 199999998 && sacks * sacks * sacks * 7 - sacks * sacks * sacks * 6 > sacks * sacks * sacks - 1 && -sacks * sacks * 123457 * sacks in [0 - sacks * sacks * sacks * 123457]',
                closed: 'show',
                to: 'scale.pan',
              },
              {
                id: 'near',
                text: 'Off by one',
                when: 'sacks * 1000003 * 1000003 == sacks * 1000006000009 + 1',
                closed: 'show',
                to: 'scale.pan',
              },
              {
                id: 'huge',
                text: 'Beyond any scale',
                when: 'sacks * sacks * 3 > 9007199254740991 * 9007199254740991 * 2',
                closed: 'show',
                to: 'scale.end',
              },
            ],
          },
          {
            id: 'log',
            ask: { into: 'who', prompt: 'Who? {who}', suggest: ['Wren', 'Ödil'], default: 'Wren' },
            onward: [{ to: 'return' }],
          },
          { id: 'end', ending: 'weighed' },
        ],
      },
    ],
    endings: [{ id: 'weighed', name: 'Weighed' }],
    languages: Object.fromEntries(
      LANGUAGES.map((language) => [
        language,
        {
          texts: {
            'choice/scale.pan.weigh': { text: told(language) },
            'ending/weighed': { text: 'Gewogen' },
            'suggest/scale.log/1': { text: 'Zaun' },
          },
        },
      ]),
    ),
  }
}

export const COUNTING_LANGUAGES: readonly string[] = LANGUAGES
export const COUNTING: readonly number[] = COUNTS
