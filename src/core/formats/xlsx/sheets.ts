import ExcelJS from 'exceljs'
import { fail, ok, type Result } from '../../base/result'
import { UNFIT_FOR_XML } from '../../base/xml'
import { safeArchive } from '../zip/unpack'

export interface Sheet {
  readonly name: string
  /** The first row names the columns and stays in sight. */
  readonly rows: readonly (readonly (string | number)[])[]
  /** Of columns, in signs. */
  readonly widths: readonly number[]
  /** Columns that are meant to be changed; they stand out. */
  readonly open?: readonly number[]
  readonly rightToLeft?: boolean
}

/** What XML can't hold, as workbooks write it; and what would be taken for that. */
const UNSAFE = new RegExp(`[${UNFIT_FOR_XML}\\r]|_(?=x[0-9A-Fa-f]{4}_)|\\p{Surrogate}`, 'gu')
const ESCAPED = /_x([0-9A-Fa-f]{4})_/g
/** As many signs as a cell takes. */
const CELL_MAX = 32_767
/** As many signs of a text are told where it does not fit. */
const TOLD = 40

/** A workbook; every text is a cell of text, which no spreadsheet runs. Refused where one is longer than a cell can be. */
export async function writeSheets(sheets: readonly Sheet[], made: Date): Promise<Result<Uint8Array>> {
  const book = new ExcelJS.Workbook()
  book.created = made
  book.modified = made
  for (const { name, rows, widths, open = [], rightToLeft = false } of sheets) {
    const sheet = book.addWorksheet(name, { views: [{ state: 'frozen', ySplit: 1, rightToLeft }] })
    sheet.columns = widths.map((width) => ({ width }))
    for (const row of rows) {
      const cells = row.map((cell) => (typeof cell === 'number' ? cell : escaped(cell)))
      const long = cells.find((cell): cell is string => typeof cell === 'string' && cell.length > CELL_MAX)
      if (long !== undefined) return fail(tooLong(long))
      sheet.addRow(cells).alignment = { wrapText: true, vertical: 'top' }
    }
    sheet.getRow(1).font = { bold: true }
    for (const column of open)
      sheet.getColumn(column + 1).eachCell((cell, row) => {
        cell.numFmt = '@'
        if (row > 1) cell.fill = { type: 'pattern', pattern: 'solid', fgColor: { argb: 'FFFBF6EA' } }
      })
    sheet.autoFilter = { from: { row: 1, column: 1 }, to: { row: 1, column: widths.length } }
  }
  return ok(new Uint8Array(await book.xlsx.writeBuffer()))
}

function escaped(text: string): string {
  return text.replace(UNSAFE, (sign) => `_x${sign.charCodeAt(0).toString(16).toUpperCase().padStart(4, '0')}_`)
}

function tooLong(cell: string): string {
  const most = CELL_MAX.toLocaleString('en')
  return `a cell of a workbook takes ${most} signs, and the text that begins “${cell.slice(0, TOLD)}…” has more; part it, or save it in another form`
}

/** The cells of a workbook's first sheet as texts; empty rows are left out. A formula is what it last came to. */
export async function readFirstSheet(bytes: Uint8Array): Promise<Result<string[][]>> {
  const archive = safeArchive(bytes, 'xl/workbook.xml', 'XLSX')
  if (!archive.ok) return archive
  const book = new ExcelJS.Workbook()
  try {
    await book.xlsx.load(archive.value.buffer as ArrayBuffer)
  } catch {
    return fail('this XLSX file can not be read')
  }
  const [sheet] = book.worksheets
  if (sheet === undefined) return fail('there is no sheet in this XLSX file')
  const rows: string[][] = []
  sheet.eachRow((row) => {
    const cells: string[] = []
    row.eachCell({ includeEmpty: true }, (cell) => {
      cells.push(textOfCell(cell.value))
    })
    if (cells.some((cell) => cell !== '')) rows.push(cells)
  })
  return ok(rows)
}

function textOfCell(value: ExcelJS.CellValue): string {
  if (value === null || value === undefined) return ''
  if (typeof value === 'string')
    return value.replace(ESCAPED, (_, hex: string) => String.fromCharCode(Number.parseInt(hex, 16)))
  if (value instanceof Date) return value.toISOString()
  if (typeof value !== 'object') return String(value)
  if ('richText' in value) return textOfCell(value.richText.map(({ text }) => text).join(''))
  if ('text' in value) return textOfCell(value.text)
  if ('result' in value) return textOfCell(value.result)
  return ''
}
