import { fail, ok, type Result } from '../../base/result'
import type { IncomingText } from '../../texts/incoming'
import { readCsv } from '../csv/csv'
import type { IncomingFile } from '../../texts/files'
import { textOf } from '../payload'

/** Reads a table of texts as CSV. */
export function readTextsCsv(bytes: Uint8Array): Result<IncomingFile> {
  const text = textOf(bytes)
  return text.ok ? textsInTable(readCsv(text.value)) : text
}

/** The texts of a table: a column `key` and a column `text` are needed, in any order and among others. */
export function textsInTable([head, ...rows]: readonly (readonly string[])[]): Result<IncomingFile> {
  const columns = head?.map((name) => name.trim().toLowerCase()) ?? []
  const at = (name: string) => columns.indexOf(name)
  if (at('key') === -1 || at('text') === -1)
    return fail('the first row names the columns, and "key" and "text" are not both among them')
  const cell = (row: readonly string[], name: string) => (at(name) === -1 ? undefined : row[at(name)])
  return ok({
    texts: rows.flatMap((row): IncomingText[] => {
      const key = cell(row, 'key')?.trim()
      if (key === undefined || key === '') return []
      const source = cell(row, 'source')
      const was = /^m([0-9a-f]{1,8})$/.exec(cell(row, 'was') ?? '')?.[1]
      return [
        {
          key,
          text: cell(row, 'text') ?? '',
          ...(source === undefined ? {} : { source }),
          state: cell(row, 'state')?.trim().toLowerCase() === 'checked' ? 'checked' : 'draft',
          ...(was === undefined ? {} : { was }),
        },
      ]
    }),
  })
}
