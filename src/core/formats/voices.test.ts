import { quay } from '../../../test/quay'
import { inOneGo } from '../base/slices'
import { portCalled } from './ports'
import { readVoicesXlsx } from './voices-xlsx/read'
import { applyChange } from '../story/changes/apply'
import type { Change } from '../story/changes/types'
import { linkStory } from '../story/link'
import { readStory } from '../story/read'
import type { Story } from '../story/types'
import { spokenValues } from '../survey/questions/spoken-values'
import { voiceRows } from '../voices/script'
import { markChange, matchRecordings, recordedIn, sinceRecorded, stillToRecord, wordsByPerson } from '../voices/takes'
import { written } from '../../../test/written'

const story = linkStory(
  quay(
    [
      {
        id: 'here',
        title: 'Morning',
        arrive: [{ do: ['rope += 1'] }],
        lines: [
          { id: 'first', text: 'The tide turns.' },
          {
            id: 'coils',
            speaker: 'odile',
            manner: 'thought',
            when: 'rope >= 1',
            text: '{rope, plural, one {One coil} other {# coils}}, {name}.',
          },
          { id: 'never', speaker: 'odile', when: 'rope > 2', text: 'Too many, {rope}.' },
          { speaker: 'odile', text: 'Nobody can record this.' },
        ],
        choices: [
          { id: 'again', text: 'Again', when: 'rope < 2', to: 'quay.here' },
          { id: 'go', text: 'Go', to: 'quay.end' },
        ],
      },
      { id: 'end', ending: 'across' },
    ],
    {
      cast: [{ id: 'odile', name: 'Odile Marsh' }],
      ledger: [
        { id: 'rope', kind: 'item', max: 9 },
        { id: 'name', kind: 'text', initial: 'Wren' },
      ],
      languages: { de: { texts: { 'line/quay.here/first': { text: 'Die Flut kehrt um.' } } } },
    },
  ),
)
const values = inOneGo(spokenValues(story))

test('a script has a row for each wording that is really said, with its file, situation and what was said before', () => {
  expect(voiceRows(story, 'en', values)).toMatchObject([
    { file: 'quay.here.first', person: 'narrator', text: 'The tide turns.', words: 3 },
    {
      file: 'quay.here.coils.rope-1.name-Wren',
      key: 'line/quay.here/coils',
      who: 'Odile Marsh',
      situation: 'Quay · Morning · when rope is at least 1 · rope 1, name Wren',
      before: 'The tide turns.',
      text: 'One coil, Wren.',
      manner: 'thought',
    },
    { file: 'quay.here.coils.rope-2.name-Wren', text: '2 coils, Wren.' },
    // on no route: as it is written
    { file: 'quay.here.never', text: 'Too many, ‹rope›.' },
  ])
  expect(voiceRows(story, 'de', values)[0]).toMatchObject({ file: 'quay.here.first', text: 'Die Flut kehrt um.' })
  expect(wordsByPerson(voiceRows(story, 'en', values))).toEqual([
    { person: 'odile', who: 'Odile Marsh', texts: 3, words: 3 + 3 + 3 },
    { person: 'narrator', who: 'narrator', texts: 1, words: 3 },
  ])
})

test('a recorded script tells what changed since, and recordings are present, missing or outdated', async () => {
  const rows = voiceRows(story, 'en', values)
  const write = await portCalled('voices', 'xlsx')!
  const of = { title: 'A quay', language: 'en', made: new Date(0), part: '', recorded: new Map() }
  const book = written(await write(of, rows))
  const read = await readVoicesXlsx(book as Uint8Array)
  if (!read.ok) throw new Error(read.error)
  expect(sinceRecorded(rows, read.value)).toEqual({ states: new Map(rows.map(({ file }) => [file, 'same'])), gone: [] })
  const later = [
    { ...rows[0]!, text: 'The tide has turned.' },
    ...rows.slice(2),
    { ...rows[0]!, file: 'quay.here.other' },
  ]
  const since = sinceRecorded(later, read.value)
  expect([...since.states].filter(([, state]) => state !== 'same')).toEqual([
    ['quay.here.first', 'changed'],
    ['quay.here.other', 'new'],
  ])
  expect(since.gone).toEqual(['quay.here.coils.rope-1.name-Wren'])
  const folder = ['take2/QUAY.here.first.WAV', 'quay.here.never.ogg', 'quay.gone.mp3', 'notes.txt']
  expect(matchRecordings(later, folder, read.value)).toEqual({
    outdated: ['quay.here.first'],
    present: ['quay.here.never'],
    missing: ['quay.here.coils.rope-2.name-Wren', 'quay.here.other'],
    unknown: ['quay.gone.mp3'],
  })
  expect((await readVoicesXlsx(new Uint8Array())).ok).toBe(false)
})

test('what was recorded is marked in the story with its wording, and the rest is still to be recorded', async () => {
  const rows = voiceRows(story, 'en', values)
  const doc = { ...story.doc, recordings: [{ id: 'de/quay.here.first', text: 'Die Flut.', notes: 'twice' }] }
  const wordings = new Map(rows.slice(0, 2).map(({ file, text }) => [file, text]))
  const marked = after(doc, markChange(doc, 'en', wordings))
  expect(recordedIn(marked, 'en')).toEqual(wordings)
  expect(markChange(marked, 'en', wordings)).toBeUndefined()
  expect(stillToRecord(rows, recordedIn(marked, 'en'))).toEqual(rows.slice(2))
  // a wording that was changed since is to be recorded again, and told with what was recorded
  const changed = [{ ...rows[0]!, text: 'The tide has turned.' }, ...rows.slice(1)]
  expect(stillToRecord(changed, wordings).map(({ file }) => file)).toEqual([
    rows[0]!.file,
    rows[2]!.file,
    rows[3]!.file,
  ])
  const write = await portCalled('voices', 'html')!
  const of = { title: '', language: 'en', made: new Date(0), part: '', recorded: wordings }
  const printed = written(await write(of, changed))
  expect(printed).toContain(`recorded as: ${rows[0]!.text}`)
  // marked anew, and one taken away; the other language's mark stays as it is
  const later = after(marked, markChange(marked, 'en', new Map([[rows[0]!.file, 'Other.']]), [rows[1]!.file]))
  expect(later.recordings).toEqual([...doc.recordings, { id: `en/${rows[0]!.file}`, text: 'Other.' }])
  expect(readStory(JSON.stringify(later))).toMatchObject({ ok: true })
})

function after(doc: Story, change: Change | undefined): Story {
  const applied = applyChange(doc, change!)
  if (!applied.ok) throw new Error(applied.error)
  return applied.value.story
}
