import { spawnSync } from 'node:child_process'
import { mkdtempSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { deflateRawSync } from 'node:zlib'
import { strFromU8, strToU8, unzipSync, Zip, zipSync, type ZipInputFile } from 'fflate'
import { xliff2js } from 'xliff'
import { randomStory } from '../../../bench/stories/random'
import { applyChange } from '../story/changes/apply'
import { linkStory } from '../story/link'
import { translationTrouble } from '../story/languages'
import type { Story } from '../story/types'
import { judge, markOf, translationsOf } from '../texts/incoming'
import { ownRows, proofChange } from '../texts/proofs'
import { rowsWithComments } from '../texts/remarks'
import { countStates, textRows } from '../texts/rows'
import { formsFor } from './forms'
import { portCalled, portOf } from './ports'
import { seeds } from '../../../test/seeds'
import { bytesOf, written } from '../../../test/written'

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
const TEXT_FORMS = formsFor('texts')
const of = (title: string, language = 'de') => ({ title, language, own: 'en', made: new Date(0) })

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

test.each(TEXT_FORMS.map((form) => [form.id, form] as const))(
  '%s: what goes out comes back the same, on any story',
  async (_, form) => {
    const { write, read: readBack } = await portOf('texts', form)
    for (const seed of seeds(60)) {
      const doc = randomStory(seed)
      const rows = rowsOf(doc).filter(({ source }) => source !== '')
      if (rows.length === 0) continue
      const read = await readBack(bytesOf(written(await write(of(doc.title), rows))))
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

test('what is still talked about stands among the notes of the text that it is about, else of the first one of its beat', () => {
  const linked = linkStory(story())
  const rows = textRows(linked, 'de')
  const talk = (topic: string, text: string, done: object | null = null) => ({
    topic,
    quote: '',
    done,
    comments: [
      { by: { name: 'Bo' }, text },
      { by: { name: 'Cora' }, text: 'Yes.' },
    ],
  })
  const told = rowsWithComments(rows, linked.doc, [
    talk('at quay.here#line2', 'Too long?'),
    talk('at quay.here.go', 'Where to?'),
    talk('at quay.here', 'Earlier in the day?'),
    talk('at quay.here#line9', 'A row that is gone.'),
    talk('person odile', 'Is that her name?'),
    talk('at quay.here#line1', 'It is good now.', {}),
    talk('entry rope', 'No text is about it.'),
    talk('finding dead-end quay.here', 'Nor about that.'),
  ])
  const notes = Object.fromEntries(told.flatMap(({ key, notes: text }) => (text === undefined ? [] : [[key, text]])))
  expect(notes).toEqual({
    'line/quay.here/first':
      'Comment by Bo: Earlier in the day?\nAnswer by Cora: Yes.\nComment by Bo: A row that is gone.\nAnswer by Cora: Yes.',
    'line/quay.here/coils': 'Comment by Bo: Too long?\nAnswer by Cora: Yes.',
    'choice/quay.here.go': 'Comment by Bo: Where to?\nAnswer by Cora: Yes.',
    'person/odile': 'Comment by Bo: Is that her name?\nAnswer by Cora: Yes.',
  })
  expect(rowsWithComments(rows, linked.doc, [])).toEqual(rows)
})

test('a PO file is one that gettext takes', async () => {
  const { write } = await portCalled('texts', 'po')!
  const folder = mkdtempSync(join(tmpdir(), 'paper-compass-po-'))
  for (let seed = 0; seed <= 25; seed += 1) {
    const doc = seed === 0 ? story({ 'choice/quay.here.go': { text: 'Los', of: 'Off' } }) : randomStory(seed)
    const file = join(folder, `${seed}.po`)
    writeFileSync(file, written(await write(of(doc.title, 'pt-BR'), rowsOf(doc))))
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

/** An archive of a file of so many noughts, packed by the machine's own code: it takes a second, not ten. */
function bomb(filename: string, size: number): Uint8Array {
  const parts: Uint8Array[] = []
  const archive = new Zip((error, part) => {
    if (error !== null) throw error
    parts.push(part)
  })
  const file: ZipInputFile = { filename, size, crc: 0, compression: 8 }
  archive.add(file)
  file.ondata!(null, deflateRawSync(new Uint8Array(size), { level: 1 }), true)
  archive.end()
  return Buffer.concat(parts)
}

test('no file of another kind is taken, nor does one do harm', async () => {
  const bombs = bomb('xl/workbook.xml', 200 * 1024 * 1024)
  const declaring = zipSync({ 'xl/workbook.xml': strToU8('<!DOCTYPE x [<!ENTITY a "b">]><workbook/>') })
  const workbook = bytesOf(written(await (await portCalled('texts', 'xlsx')!).write(of('x'), rowsOf(story()))))
  for (const form of TEXT_FORMS) {
    const { read } = await portOf('texts', form)
    const others = [
      '',
      '\u0000\u0001',
      '{"a":1}',
      'msgid "x',
      '"',
      '<xml/>',
      'a,b\n1,2',
      'x'.repeat(200_000),
      LAUGHS,
      OLD,
    ]
    for (const bytes of [
      ...others.map((text) => strToU8(text)),
      bombs,
      declaring,
      workbook.slice(0, 3000),
      new Uint8Array([0xe4, 0x2c]),
    ]) {
      const found = await read(bytes)
      expect({ id: form.id, texts: found.ok ? found.value.texts : [] }).toEqual({ id: form.id, texts: [] })
      if (!found.ok) expect(found.error.length).toBeLessThan(300)
    }
  }
})

const LAUGHS = '<?xml version="1.0"?><!DOCTYPE xliff [<!ENTITY a "ha"><!ENTITY b "&a;&a;&a;">]><xliff>&b;</xliff>'
const OLD = '<xliff version="1.2" xmlns="urn:oasis:names:tc:xliff:document:1.2"><file/></xliff>'

test('what a spreadsheet would run is text there', async () => {
  const csv = await portCalled('texts', 'csv')!
  expect(written(await csv.write(of(''), rowsOf(story())))).toContain("'=Go")
  expect(await csv.read(strToU8('text;key\nLos;choice/quay.here.go'))).toMatchObject({
    ok: true,
    value: { texts: [{ key: 'choice/quay.here.go', text: 'Los' }] },
  })
  // as another program saves it
  const wide = new Uint8Array([
    0xff,
    0xfe,
    ...new Uint8Array(Uint16Array.from('key\ttext\na/b\tÄ', (c) => c.charCodeAt(0)).buffer),
  ])
  expect(await csv.read(wide)).toMatchObject({ ok: true, value: { texts: [{ key: 'a/b', text: 'Ä' }] } })
  const xlsx = await portCalled('texts', 'xlsx')!
  const files = unzipSync(bytesOf(written(await xlsx.write(of(''), rowsOf(story())))))
  const sheet = strFromU8(files['xl/worksheets/sheet1.xml']!)
  expect(sheet).not.toContain('<f>')
  expect(strFromU8(files['xl/sharedStrings.xml']!)).toContain('=Go')
})

test('a text longer than a cell of a workbook is told and not cut; all other forms take it', async () => {
  const most = 'A coil of rope. '.repeat(2048).slice(1)
  const rowsWith = (text: string) => rowsOf(story({ 'line/quay.here/first': { text, of: 'x' } }))
  for (const form of TEXT_FORMS) {
    const { write, read } = await portOf('texts', form)
    const back = await read(bytesOf(written(await write(of('x'), rowsWith(most)))))
    expect(back.ok && back.value.texts.some(({ text }) => text === most)).toBe(true)
    const longer = await write(of('x'), rowsWith(`${most}.`))
    // what XML can't hold takes more signs
    const escaped = await write(of('x'), rowsWith(most.replace('.', '\u0001')))
    const fits = form.id !== 'xlsx'
    expect({ id: form.id, longer: longer.ok, escaped: escaped.ok }).toEqual({
      id: form.id,
      longer: fits,
      escaped: fits,
    })
    if (!longer.ok)
      expect(longer.error).toContain('takes 32,767 signs, and the text that begins “ coil of rope. A coil')
  }
})

test('XLIFF is what its standard describes, and other programs read it', async () => {
  const { write } = await portCalled('texts', 'xliff')!
  const folder = mkdtempSync(join(tmpdir(), 'paper-compass-xliff-'))
  const files: string[] = []
  for (let seed = 0; seed <= 60; seed += 1) {
    const doc = seed === 0 ? story({ 'choice/quay.here.go': { text: 'Los', of: 'Off' } }) : randomStory(seed)
    const rows = rowsOf(doc)
    const content = written(await write(of(doc.title, 'pl'), rows)) as string
    const file = join(folder, `${seed}.xlf`)
    files.push(file)
    writeFileSync(file, content)
    const read = await xliff2js(content)
    const units = Object.values(read.resources).flatMap((units) => Object.keys(units))
    expect({ seed, units: units.length }).toEqual({ seed, units: Math.max(1, rows.length) })
  }
  const schema = join(import.meta.dirname, '../../../test/schemas/xliff-core-2.0.xsd')
  const { status, stderr, error } = spawnSync('xmllint', ['--noout', '--nonet', '--schema', schema, ...files], {
    encoding: 'utf8',
  })
  if (error !== undefined) throw new Error(`xmllint is needed for this test: ${error.message}`)
  expect(stderr.split('\n').filter((line) => line !== '' && !line.endsWith(' validates'))).toEqual([])
  expect(status).toBe(0)
})

test('XLIFF protects what the story puts in, and has a form for each way in which the language counts', async () => {
  const { write, read } = await portCalled('texts', 'xliff')!
  const rows = rowsOf(story({ 'line/quay.here/coils': { text: '{rope, plural, other {# Rollen}}' } }))
  const content = written(await write(of('A quay', 'pl'), rows)) as string
  const unit = content.slice(content.indexOf('name="line/quay.here/coils"'))
  expect(unit).toContain('<data id="d1">{rope, plural, one {</data>')
  expect(unit).toContain('equiv="} few {"')
  expect(unit).toContain('equiv="} many {"')
  expect(unit).toMatch(/<source>(<ph [^>]*\/>)+ coil<ph/)
  // a program that parts a text and puts a code in anew
  const parted = content.replace(
    /<segment state="translated" canResegment="no">\s*<source>[^]*?<\/segment>/,
    '<segment state="reviewed"><source><ph id="1" dataRef="d1"/> coil</source><target>{rope, plural, other {</target></segment>' +
      '<ignorable><source> </source><target>#</target></ignorable>' +
      '<segment state="final"><source>x</source><target><mrk id="m1">x</mrk><cp hex="001F"/>}}</target></segment>',
  )
  expect(await read(strToU8(parted))).toMatchObject({
    ok: true,
    value: {
      language: 'pl',
      texts: expect.arrayContaining([
        expect.objectContaining({
          key: 'line/quay.here/coils',
          source: '{rope, plural, one {# coil} other {# coils}}',
          text: '{rope, plural, other {#x\u001f}}',
          state: 'checked',
        }),
      ]),
    },
  })
})

test('proof-read texts go in by key, each where it stands, as one step', () => {
  for (const seed of seeds(40)) {
    const doc = randomStory(seed)
    const rows = ownRows(linkStory(doc))
    const texts = new Map(rows.filter((_, at) => at % 2 === 0).map(({ key, source }) => [key, `${source} (read)`]))
    const change = proofChange(doc, texts)
    if (texts.size === 0) {
      expect(change).toBeUndefined()
      continue
    }
    const applied = applyChange(doc, change!)
    if (!applied.ok) throw new Error(applied.error)
    for (const row of ownRows(linkStory(applied.value.story)))
      expect({ seed, key: row.key, text: row.text }).toEqual({
        seed,
        key: row.key,
        text: texts.get(row.key) ?? rows.find(({ key }) => key === row.key)!.source,
      })
    const back = applyChange(applied.value.story, applied.value.inverse)
    expect(back.ok && back.value.story).toEqual(doc)
    expect(proofChange(doc, new Map(rows.map(({ key, source }) => [key, source])))).toBeUndefined()
  }
})
