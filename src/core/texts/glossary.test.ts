import { glossaryOf, termsMissed } from './glossary'
import type { TextRow } from './rows'

const name = (key: string, source: string, text?: string): TextRow => ({
  key,
  source,
  isName: true,
  where: '',
  state: 'draft',
  ...(text === undefined ? {} : { text }),
})

test('a name that is translated is looked for in what it stands in, whole and the longest first', () => {
  const glossary = glossaryOf([
    name('person/odile', 'Odile Marsh', 'Odile Marsch'),
    name('person/odi', 'Odile', 'Odilia'),
    name('person/aske', 'Brother Aske'),
    name('quest/mend', 'Mend the (old) sluice', 'Das Wehr'),
    name('stage/mend.half', 'Half-done', 'Halb fertig'),
    name('suggest/quay.here/1', 'Wren', 'Zaunkönig'),
    name('ending/x', 'No', 'Nein'),
    name('term/flats', 'the flats', 'das Watt'),
  ])
  expect(glossary.map(({ source }) => source)).toEqual([
    'Mend the (old) sluice',
    'Odile Marsh',
    'Half-done',
    'the flats',
    'Odile',
  ])
  const missed = (source: string, text: string) => termsMissed(source, text, glossary).map(({ source: term }) => term)
  expect(missed('Odile Marsh waits.', 'Odile Marsch wartet.')).toEqual([])
  expect(missed('Odile Marsh waits.', 'Odile Marsh wartet.')).toEqual(['Odile Marsh'])
  expect(missed('Odile and Odile Marsh', 'Odilia und die Marsch')).toEqual(['Odile Marsh'])
  expect(missed('Odiles, Wren and Brother Aske. No.', '…')).toEqual([])
  expect(missed('Over the flats.', 'Über den Strand.')).toEqual(['the flats'])
  expect(missed('Half-done.', 'Fertig.')).toEqual(['Half-done'])
  expect(missed('“Mend the (old) sluice”', '„das wehr“')).toEqual([])
})
