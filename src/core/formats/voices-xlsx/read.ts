import { fail, ok, type Result } from '../../base/result'
import { readFirstSheet } from '../xlsx/sheets'

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
