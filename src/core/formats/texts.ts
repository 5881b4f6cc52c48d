import type { Result } from '../base/result'
import type { IncomingText } from '../texts/incoming'
import type { TextRow } from '../texts/rows'
import { readTextsCsv } from './texts-csv/read'
import { writeTextsCsv } from './texts-csv/write'
import { readPo } from './texts-po/read'
import { writePo } from './texts-po/write'

/** Texts as they come back; the language, where the file says it. */
export interface IncomingFile {
  readonly language?: string
  readonly texts: readonly IncomingText[]
}

/** Whose texts go out, in which language, and when. */
export interface TextsOf {
  readonly title: string
  readonly language: string
  /** The story's own language. */
  readonly own: string
  readonly made: Date
}

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
