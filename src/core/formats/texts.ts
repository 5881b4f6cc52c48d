import type { Result } from '../base/result'
import type { IncomingFile, TextsOf } from '../texts/files'
import type { TextRow } from '../texts/rows'
import { readTextsCsv } from './texts-csv/read'
import { writeTextsCsv } from './texts-csv/write'
import { readPo } from './texts-po/read'
import { writePo } from './texts-po/write'

interface TextFormat {
  readonly id: string
  readonly name: string
  /** For whom it is. */
  readonly says: string
  readonly ending: string
  readonly type: string
  write(of: TextsOf, rows: readonly TextRow[]): string
  read(text: string): Result<IncomingFile>
}

/** The forms in which texts go out to whoever works on them, and come back. */
export const TEXT_FORMATS: readonly TextFormat[] = [
  {
    id: 'po',
    name: 'gettext (PO)',
    says: 'for the programs that translators of software work with',
    ending: '.po',
    type: 'text/x-gettext-translation; charset=utf-8',
    write: writePo,
    read: readPo,
  },
  {
    id: 'csv',
    name: 'a table (CSV)',
    says: 'for a spreadsheet; only the columns text and state are meant to be changed',
    ending: '.csv',
    type: 'text/csv; charset=utf-8',
    write: (_, rows) => writeTextsCsv(rows),
    read: readTextsCsv,
  },
]

export function textFormat(id: string): TextFormat | undefined {
  return TEXT_FORMATS.find((format) => format.id === id)
}
