import type { TakeState, VoiceRow, VoicesOf } from '../../voices/takes'
import { wordsByPerson } from '../../voices/takes'
import { readFirstSheet, writeSheets } from '../xlsx/sheets'
import { fail, ok, type Result } from '../../base/result'

const COLUMNS: readonly (readonly [string, number])[] = [
  ['file', 34],
  ['who', 18],
  ['text', 56],
  ['manner', 10],
  ['situation', 36],
  ['before', 36],
  ['cue', 16],
  ['take', 10],
  ['since', 10],
  ['words', 8],
  ['key', 28],
]

/** A recording script as a workbook: a row a wording, and a sheet of how much each person has. */
export function writeVoicesXlsx(
  { made }: VoicesOf,
  rows: readonly VoiceRow[],
  states?: ReadonlyMap<string, TakeState>,
): Promise<Uint8Array> {
  const cells = rows.map(({ file, who, text, manner, situation, before, cue, words, key }) => [
    file,
    who,
    text,
    manner,
    situation,
    before,
    cue,
    '',
    states?.get(file) ?? '',
    words,
    key,
  ])
  const people = wordsByPerson(rows).map(({ who, texts, words }) => [who, texts, words])
  return writeSheets(
    [
      {
        name: 'Script',
        rows: [COLUMNS.map(([name]) => name), ...cells],
        widths: COLUMNS.map(([, width]) => width),
        open: [COLUMNS.findIndex(([name]) => name === 'take')],
      },
      { name: 'People', rows: [['who', 'texts', 'words'], ...people], widths: [28, 10, 10] },
    ],
    made,
  )
}

/** What stood in a recording script, by file: what has been recorded since. */
export async function readVoicesXlsx(bytes: Uint8Array): Promise<Result<Map<string, string>>> {
  const rows = await readFirstSheet(bytes)
  if (!rows.ok) return rows
  const [head = [], ...others] = rows.value
  const [file, text] = ['file', 'text'].map((name) => head.indexOf(name)) as [number, number]
  if (file === -1 || text === -1)
    return fail('this workbook is no recording script: it has no columns "file" and "text"')
  return ok(new Map(others.flatMap((row) => (row[file] ? [[row[file], row[text] ?? '']] : []))))
}
