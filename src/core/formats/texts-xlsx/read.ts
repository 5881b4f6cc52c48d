import { fail, type Result } from '../../base/result'
import type { IncomingFile } from '../../texts/files'
import { textsInTable } from '../texts-csv/read'
import { readFirstSheet } from '../xlsx/sheets'

/** Reads a workbook of texts: its first sheet, as a table of texts is read. */
export async function readTextsXlsx(bytes: Uint8Array): Promise<Result<IncomingFile>> {
  const rows = await readFirstSheet(bytes)
  return rows.ok ? textsInTable(rows.value) : fail(rows.error)
}
