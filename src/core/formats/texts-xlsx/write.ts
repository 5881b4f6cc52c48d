import { directionOf } from '../../base/direction'
import { countStates, type TextRow } from '../../texts/rows'
import type { TextsOf } from '../../texts/files'
import { TEXT_COLUMNS, tableOf } from '../texts-csv/write'
import type { Written } from '../form'
import { writeSheets } from '../xlsx/sheets'

const WIDTHS: Readonly<Record<(typeof TEXT_COLUMNS)[number], number>> = {
  key: 26,
  source: 48,
  text: 48,
  state: 10,
  where: 28,
  who: 18,
  before: 36,
  gate: 28,
  was: 11,
}

/** Texts of a language as a workbook, a row a text, and what is to be known about it on a sheet of its own. */
export function writeTextsXlsx(of: TextsOf, rows: readonly TextRow[]): Promise<Written> {
  const { title, language, own, made } = of
  const counts = countStates(rows)
  return writeSheets(
    [
      {
        name: 'Texts',
        rows: [[...TEXT_COLUMNS], ...tableOf(rows)],
        widths: TEXT_COLUMNS.map((column) => WIDTHS[column]),
        open: [TEXT_COLUMNS.indexOf('text'), TEXT_COLUMNS.indexOf('state')],
        rightToLeft: directionOf(language) === 'rtl',
      },
      {
        name: 'About',
        rows: [
          [title, ''],
          ['language', language],
          ['translated from', own],
          ['made', made.toISOString().slice(0, 10)],
          ...Object.entries(counts),
          ['', ''],
          ['Only the columns text and state are meant to be changed. state: draft or checked.', ''],
          ['What stands in braces is put in by the story: {name} stays as it is.', ''],
        ],
        widths: [72, 20],
      },
    ],
    made,
  )
}
