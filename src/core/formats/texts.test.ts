import { spawnSync } from 'node:child_process'
import { mkdtempSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { randomStory } from '../../../bench/stories/random'
import { applyChange } from '../story/changes/apply'
import { linkStory } from '../story/link'
import { translationTrouble } from '../story/languages'
import type { Story } from '../story/types'
import { judge, markOf, translationsOf } from '../texts/incoming'
import { countStates, textRows } from '../texts/rows'
import { TEXT_FORMATS } from './texts'

const story = (texts: NonNullable<Story['languages']>[string]['texts'] = {}): Story => ({
  paperCompass: 1,
  title: 'A quay',
  language: 'en',
  start: 'quay.here',
  cast: [{ id: 'odile', name: 'Odile Marsh' }],
  ledger: [{ id: 'rope', kind: 'item', max: 3 }],
  endings: [{ id: 'across', name: 'Across' }],
  languages: { de: { texts } },
  scenes: [
    {
      id: 'quay',
      title: 'The quay',
      beats: [
        {
          id: 'here',
          title: 'Morning',
          lines: [
            { id: 'first', text: 'The tide "turns".\nSlowly, at 100 %.' },
            { id: 'coils', speaker: 'odile', when: 'rope >= 1', text: '{rope, plural, one {# coil} other {# coils}}' },
          ],
          choices: [{ id: 'go', text: '=Go', to: 'quay.end' }],
        },
        { id: 'end', ending: 'across' },
      ],
    },
  ],
})
const rowsOf = (doc: Story) => textRows(linkStory(doc), 'de')

test('each text stands with what one has to know to translate it, and how far it is', () => {
  const rows = rowsOf(
    story({
      'line/quay.here/first': { text: 'Die Flut.', of: 'The tide.', state: 'checked' },
      'ending/across': { text: 'Drüben', of: 'Across', state: 'checked' },
      'choice/quay.here.go': { text: 'Los' },
    }),
  )
  expect(rows.map(({ key, state }) => [key, state])).toEqual([
    ['person/odile', 'missing'],
    ['ending/across', 'checked'],
    ['line/quay.here/first', 'outdated'],
    ['line/quay.here/coils', 'missing'],
    ['choice/quay.here.go', 'draft'],
  ])
  expect(rows[3]).toMatchObject({
    where: 'The quay · Morning',
    who: 'Odile Marsh',
    before: 'The tide "turns".\nSlowly, at 100 %.',
    gate: 'when rope is at least 1',
  })
  expect(countStates(rows)).toEqual({ missing: 2, draft: 1, checked: 1, outdated: 1 })
})

test.each(TEXT_FORMATS.map((format) => [format.id, format] as const))(
  '%s: what goes out comes back the same, on any story',
  (_, format) => {
    for (let seed = 1; seed <= 120; seed += 1) {
      const doc = randomStory(seed)
      const rows = rowsOf(doc).filter(({ source }) => source !== '')
      if (rows.length === 0) continue
      const read = format.read(format.write({ title: doc.title, language: 'de', own: 'en', made: new Date(0) }, rows))
      expect({ seed, read: read.ok ? '' : read.error }).toEqual({ seed, read: '' })
      if (!read.ok) return
      const back = new Map(read.value.texts.map((one) => [one.key, one]))
      for (const { key, source, text = '' } of rows)
        expect({ seed, ...back.get(key) }).toMatchObject({ seed, key, source, text, was: markOf(text) })
      // and so nothing of it is taken for a change of anybody's
      const fates = judge(rows, read.value.texts, () => undefined).map(({ fate }) => fate)
      expect({ seed, fates: fates.filter((fate) => fate === 'conflict' || fate === 'unknown') }).toEqual({
        seed,
        fates: [],
      })
    }
  },
)

test('a PO file is one that gettext takes', () => {
  const folder = mkdtempSync(join(tmpdir(), 'paper-compass-po-'))
  for (let seed = 0; seed <= 25; seed += 1) {
    const doc = seed === 0 ? story({ 'choice/quay.here.go': { text: 'Los', of: 'Off' } }) : randomStory(seed)
    const file = join(folder, `${seed}.po`)
    writeFileSync(
      file,
      TEXT_FORMATS[0]!.write({ title: doc.title, language: 'pt-BR', own: 'en', made: new Date(0) }, rowsOf(doc)),
    )
    const { status, stderr, error } = spawnSync('msgfmt', ['--check', '-o', '/dev/null', file], { encoding: 'utf8' })
    if (error !== undefined) throw new Error(`msgfmt is needed for this test: ${error.message}`)
    expect({ seed, status, stderr }).toEqual({ seed, status: 0, stderr: '' })
  }
})

test('what comes back is taken, or told why not; nothing is overwritten unseen', () => {
  const doc = story({ 'choice/quay.here.go': { text: 'Los', of: '=Go' }, 'person/odile': { text: 'Odile Marsch' } })
  const linked = linkStory(doc)
  const rows = textRows(linked, 'de')
  const out = markOf('Los')
  const judged = judge(
    rows,
    [
      { key: 'choice/quay.here.go', source: '=Go', text: 'Weiter', was: out, state: 'checked' },
      { key: 'person/odile', source: 'Odile Marsh', text: 'Odile', was: markOf('Odilia') },
      { key: 'ending/across', source: 'Over', text: 'Drüben' },
      { key: 'line/quay.here/first', text: '' },
      {
        key: 'line/quay.here/coils',
        source: '{rope, plural, one {# coil} other {# coils}}',
        text: '{seil, plural, other {#}}',
      },
      { key: 'line/quay.gone/x', text: 'Weg' },
    ],
    translationTrouble(linked),
  )
  expect(judged.map(({ fate, why }) => [fate, why])).toEqual([
    ['changed', undefined],
    ['conflict', 'it was translated otherwise here since'],
    ['conflict', 'the source was changed since'],
    ['empty', undefined],
    ['broken', 'this shows "seil", and what it translates does not'],
    ['unknown', undefined],
  ])
  const values = translationsOf(judged.filter(({ fate }) => fate === 'changed'))
  const applied = applyChange(doc, { op: 'set-texts', language: 'de', values })
  expect(applied.ok && applied.value.story.languages!['de']!.texts['choice/quay.here.go']).toEqual({
    text: 'Weiter',
    of: '=Go',
    state: 'checked',
  })
})

test('no file of another kind is taken, nor does one do harm', () => {
  for (const { id, read } of TEXT_FORMATS)
    for (const text of ['', '\u0000\u0001', '{"a":1}', 'msgid "x', '"', '<xml/>', 'a,b\n1,2', 'x'.repeat(200_000)]) {
      const found = read(text)
      expect({ id, text: text.slice(0, 10), texts: found.ok ? found.value.texts : [] }).toMatchObject({ texts: [] })
    }
  const csv = TEXT_FORMATS.find(({ id }) => id === 'csv')!
  const written = csv.write({ title: '', language: 'de', own: 'en', made: new Date(0) }, rowsOf(story()))
  // what a spreadsheet would run stands behind an apostrophe
  expect(written).toContain("'=Go")
  expect(csv.read('text;key\nLos;choice/quay.here.go')).toMatchObject({
    ok: true,
    value: { texts: [{ key: 'choice/quay.here.go', text: 'Los' }] },
  })
})
