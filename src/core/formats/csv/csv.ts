import Papa from 'papaparse'

/** A cell that a spreadsheet would take for a formula; what is a number is none. */
const FORMULA = /^'*[=+\-@\t\r](?!\d+(?:\.\d+)?$)/

/** Rows as CSV, with `newline` between them; a text that begins like a formula stands behind an apostrophe, so that no spreadsheet runs it. */
export function writeCsv(rows: readonly (readonly (string | number)[])[], newline = '\r\n'): string {
  return Papa.unparse(rows as (string | number)[][], { newline, escapeFormulae: FORMULA })
}

/** The rows of a CSV file as it is written here or by a spreadsheet; empty ones are left out. */
export function readCsv(text: string): string[][] {
  const { data } = Papa.parse<string[]>(text.replace(/^\uFEFF/, ''), { skipEmptyLines: 'greedy' })
  return data.map((row) => row.map((cell) => (cell.startsWith("'") && FORMULA.test(cell) ? cell.slice(1) : cell)))
}
