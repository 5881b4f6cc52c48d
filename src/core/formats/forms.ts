import type { Form, TextsPort, Use } from './form'

/** Every form in which a story or what belongs to it leaves the Desk or comes to it: for the page, the command line and the docs. */
export const FORMS: readonly Form[] = [
  {
    id: 'xliff',
    name: 'XLIFF 2.1',
    endings: ['.xlf', '.xliff'],
    type: 'application/xliff+xml',
    texts: {
      says: 'for translation agencies and their programs; what the story puts in is protected',
      load: async () => {
        const { writeXliff } = await import('./texts-xliff/write')
        const { readXliff } = await import('./texts-xliff/read')
        return { write: writeXliff, read: readXliff }
      },
    },
  },
  {
    id: 'po',
    name: 'gettext PO',
    endings: ['.po', '.pot'],
    type: 'text/x-gettext-translation; charset=utf-8',
    texts: {
      says: 'for the programs that translators of software work with',
      load: async () => {
        const { writePo } = await import('./texts-po/write')
        const { readPo } = await import('./texts-po/read')
        return { write: writePo, read: readPo }
      },
    },
  },
  {
    id: 'xlsx',
    name: 'XLSX workbook',
    endings: ['.xlsx'],
    type: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
    texts: {
      says: 'for people who work in a spreadsheet; only the columns text and state are meant to be changed',
      load: async () => {
        const { writeTextsXlsx } = await import('./texts-xlsx/write')
        const { readTextsXlsx } = await import('./texts-xlsx/read')
        return { write: writeTextsXlsx, read: readTextsXlsx }
      },
    },
    voices: {
      says: 'for studios: a row for each wording that can really be said, with its file, situation and take',
      load: async () => (await import('./voices-xlsx/write')).writeVoicesXlsx,
    },
    manuscript: {
      says: 'for lines that were written in a workbook: a row a line, with columns scene, beat, who, text, kind, to',
      load: async () => (await import('./manuscript-table/read')).readLinesXlsx,
    },
  },
  {
    id: 'csv',
    name: 'CSV table',
    endings: ['.csv'],
    type: 'text/csv; charset=utf-8',
    texts: {
      says: 'for scripts, and for spreadsheets of any kind; only the columns text and state are meant to be changed',
      load: async () => {
        const { writeTextsCsv } = await import('./texts-csv/write')
        const { readTextsCsv } = await import('./texts-csv/read')
        return { write: writeTextsCsv, read: readTextsCsv }
      },
    },
    manuscript: {
      says: 'for lines that were written as a table: a row a line, with columns scene, beat, who, text, kind, to',
      load: async () => (await import('./manuscript-table/read')).readLinesCsv,
    },
  },
  {
    id: 'docx',
    name: 'DOCX document',
    endings: ['.docx'],
    type: 'application/vnd.openxmlformats-officedocument.wordprocessingml.document',
    copy: {
      says: 'for people who read and remark in a word processor',
      load: async () => (await import('./copy-docx/write')).writeDocx,
    },
    manuscript: {
      says: 'for what was written in a word processor: headings are scenes and beats, list items choices',
      load: async () => (await import('./manuscript-docx/read')).readDocx,
    },
  },
  {
    id: 'html',
    name: 'HTML page',
    endings: ['.html', '.htm'],
    type: 'text/html; charset=utf-8',
    copy: {
      says: 'for people who read on paper: pages for printing, with running heads and numbers',
      load: async () => (await import('./copy-html/write')).writeCopyHtml,
    },
    voices: {
      says: 'for those who stand at the microphone: large texts, printed',
      load: async () => (await import('./voices-html/write')).writeVoicesHtml,
    },
    manuscript: {
      says: 'for what was written on the web: headings are scenes and beats, list items choices',
      load: async () => (await import('./manuscript-html/read')).readHtml,
    },
  },
  {
    id: 'markdown',
    name: 'Markdown',
    endings: ['.md', '.markdown'],
    type: 'text/markdown; charset=utf-8',
    copy: {
      says: 'for people who read and edit plain text; what they change in it can be taken in again',
      load: async () => (await import('./copy-markdown/write')).writeMarkdown,
    },
    proofs: {
      says: 'a copy in Markdown whose texts were edited',
      load: async () => (await import('./copy-markdown/read-proofs')).readProofs,
    },
    manuscript: {
      says: 'for what was written as plain text: headings are scenes and beats, list items choices, links to headings where they lead',
      load: async () => (await import('./manuscript-markdown/read')).readMarkdown,
    },
  },
  {
    id: 'fountain',
    name: 'Fountain',
    endings: ['.fountain', '.spmd'],
    type: 'text/plain; charset=utf-8',
    copy: {
      says: 'for screenwriters and their programs',
      load: async () => (await import('./copy-fountain/write')).writeFountain,
    },
    manuscript: {
      says: 'for screenplays: sections are scenes, scene headings beats',
      load: async () => (await import('./manuscript-fountain/read')).readFountain,
    },
  },
  {
    id: 'scxml',
    name: 'SCXML',
    endings: ['.scxml'],
    type: 'application/scxml+xml',
    chart: {
      says: 'for people who test against the W3C’s state charts: the course of the story, decisions as events',
      load: async () => (await import('./chart-scxml/write')).writeScxml,
    },
  },
  {
    id: 'script',
    name: 'plain script',
    endings: ['.txt', '.text'],
    type: 'text/plain; charset=utf-8',
    manuscript: {
      says: 'for any plain text: “Name: line”, names in capitals over what is said, list items as choices',
      load: async () => (await import('./manuscript-script/read')).readPlainScript,
    },
  },
]

export type FormWith<Kind extends Use> = Form & Required<Pick<Form, Kind>>

/** The forms that can be used for something. */
export function formsFor<Kind extends Use>(use: Kind): FormWith<Kind>[] {
  return FORMS.filter((form): form is FormWith<Kind> => form[use] !== undefined)
}

/** The form that is called so, or the one of a file's ending, among those for something. */
export function formCalled<Kind extends Use>(use: Kind, name: string): FormWith<Kind> | undefined {
  const lower = name.toLowerCase()
  return formsFor(use).find(({ id, endings }) => id === lower || endings.some((ending) => lower.endsWith(ending)))
}

/** What reads the texts of a form, or of a file with its ending; `proofs`: also copies that were edited. */
export async function readerOfTexts(name: string, proofs: boolean): Promise<TextsPort['read'] | undefined> {
  const texts = formCalled('texts', name)
  if (texts !== undefined) return (await texts.texts.load()).read
  return proofs ? formCalled('proofs', name)?.proofs.load() : undefined
}
