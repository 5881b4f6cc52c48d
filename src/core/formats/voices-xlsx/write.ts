import { wordsByPerson, type VoiceRow, type VoicesOf } from '../../voices/takes'
import type { Written } from '../form'
import { writeSheets } from '../xlsx/sheets'

const COLUMNS: readonly (readonly [string, number])[] = [
  ['file', 34],
  ['who', 18],
  ['text', 56],
  ['manner', 10],
  ['situation', 36],
  ['before', 36],
  ['cue', 16],
  ['take', 10],
  ['recorded', 30],
  ['words', 8],
  ['key', 28],
]

/** A recording script as a workbook: a row a wording, and a sheet of how much each person has. */
export function writeVoicesXlsx({ made, recorded }: VoicesOf, rows: readonly VoiceRow[]): Promise<Written> {
  const cells = rows.map(({ file, who, text, manner, situation, before, cue, words, key }) => [
    file,
    who,
    text,
    manner,
    situation,
    before,
    cue,
    '',
    sayRecorded(recorded.get(file), text),
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

function sayRecorded(was: string | undefined, text: string): string {
  return was === undefined ? '' : was === text ? 'yes' : `as: ${was}`
}
