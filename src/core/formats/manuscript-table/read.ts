import { fail, ok, type Result } from '../../base/result'
import type { ScriptPart } from '../../story/reshape/script-paste'
import { readCsv } from '../csv/csv'
import type { ReadManuscript } from '../manuscript'
import { textOf } from '../payload'
import { readFirstSheet } from '../xlsx/sheets'

/** What a column may be called. */
const COLUMNS = {
  scene: ['scene'],
  beat: ['beat', 'place', 'moment'],
  who: ['who', 'speaker', 'character', 'name', 'person'],
  text: ['text', 'line', 'dialogue'],
  kind: ['kind', 'type', 'manner'],
  to: ['to', 'destination', 'leads to'],
  notes: ['notes', 'note'],
} as const

export function readLinesCsv(bytes: Uint8Array): Result<ReadManuscript> {
  const text = textOf(bytes)
  return text.ok ? linesInTable(readCsv(text.value)) : text
}

export async function readLinesXlsx(bytes: Uint8Array): Promise<Result<ReadManuscript>> {
  const rows = await readFirstSheet(bytes)
  return rows.ok ? linesInTable(rows.value) : rows
}

/**
 * A table of lines, a row a line: a column `text`, and of `scene`, `beat`, `who`, `kind` (line, action, choice), `to` and
 * `notes` those that there are. A scene or beat that is other than the row's before begins one.
 */
function linesInTable([head, ...rows]: readonly (readonly string[])[]): Result<ReadManuscript> {
  const names = (head ?? []).map((name) => name.trim().toLowerCase())
  const at = (column: keyof typeof COLUMNS) =>
    names.findIndex((name) => (COLUMNS[column] as readonly string[]).includes(name))
  if (at('text') === -1) return fail('the first row names the columns, and "text" is not among them')
  const parts: ScriptPart[] = []
  let scene = ''
  let beat = ''
  for (const row of rows) {
    const cell = (column: keyof typeof COLUMNS) => (at(column) === -1 ? '' : (row[at(column)] ?? '').trim())
    const [inScene, inBeat, who, text, kind, to, notes] = (
      ['scene', 'beat', 'who', 'text', 'kind', 'to', 'notes'] as const
    ).map(cell)
    if (inScene !== '' && inScene !== scene) {
      parts.push({ of: 'scene', title: inScene! })
      scene = inScene!
      beat = ''
    }
    if (inBeat !== '' && inBeat !== beat) {
      parts.push({ of: 'beat', title: inBeat! })
      beat = inBeat!
    }
    if (text !== '') {
      if (kind!.toLowerCase() === 'choice') parts.push({ of: 'choice', text: text!, ...(to === '' ? {} : { to: to! }) })
      else {
        const isAction = kind!.toLowerCase() === 'action'
        parts.push({ of: 'line', text: text!, isAction, ...(who === '' ? {} : { speaker: who! }) })
      }
    }
    if (notes !== '') parts.push({ of: 'note', text: notes! })
  }
  return parts.some(({ of }) => of === 'line' || of === 'choice')
    ? ok({ parts })
    : fail('there is no text in this table')
}
