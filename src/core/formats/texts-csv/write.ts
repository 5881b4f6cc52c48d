import { markOf } from '../../texts/incoming'
import type { TextsOf } from '../../texts/files'
import type { TextRow } from '../../texts/rows'
import { writeCsv } from '../csv/csv'

export const TEXT_COLUMNS = ['key', 'source', 'text', 'state', 'where', 'who', 'before', 'gate', 'was'] as const

/** A row for each text, in the order of the columns; `was` tells what the text was when it went out. */
export function tableOf(rows: readonly TextRow[]): string[][] {
  return rows.map(({ key, source, text = '', state, where, who = '', before = '', gate = '' }) => [
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
}

/** Texts of a language as a table, a row a text. */
export function writeTextsCsv(_: TextsOf, rows: readonly TextRow[]): string {
  // by its mark a spreadsheet knows that it is UTF-8
  return `\uFEFF${writeCsv([[...TEXT_COLUMNS], ...tableOf(rows)])}`
}
