import { markOf } from '../../texts/incoming'
import type { TextRow } from '../../texts/rows'
import { writeCsv } from '../csv/csv'

export const TEXT_COLUMNS = ['key', 'source', 'text', 'state', 'where', 'who', 'before', 'gate', 'was'] as const

/** Texts of a language as a table, a row a text; `was` tells what the text was when it went out. */
export function writeTextsCsv(rows: readonly TextRow[]): string {
  const table = rows.map(({ key, source, text = '', state, where, who = '', before = '', gate = '' }) => [
    key,
    source,
    text,
    state,
    where,
    who,
    before,
    gate,
    // spreadsheets take digits with an e among them for a number
    `m${markOf(text)}`,
  ])
  // by its mark a spreadsheet knows that it is UTF-8
  return `\uFEFF${writeCsv([[...TEXT_COLUMNS], ...table])}`
}
