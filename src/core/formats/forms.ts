import type { Form, Use, Way } from './form'

const ALL = [
  {
    id: 'xliff',
    name: 'XLIFF 2.1',
    endings: ['.xlf', '.xliff'],
    type: 'application/xliff+xml',
    texts: { says: 'for translation agencies and their programs; what the story puts in is protected' },
  },
  {
    id: 'po',
    name: 'gettext PO',
    endings: ['.po', '.pot'],
    type: 'text/x-gettext-translation; charset=utf-8',
    texts: { says: 'for the programs that translators of software work with' },
  },
  {
    id: 'xlsx',
    name: 'XLSX workbook',
    endings: ['.xlsx'],
    type: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
    texts: { says: 'for people who work in a spreadsheet; only the columns text and state are meant to be changed' },
    voices: { says: 'for studios: a row for each wording that can really be said, with its file, situation and take' },
    manuscript: {
      says: 'for lines that were written in a workbook: a row a line, with columns scene, beat, who, text, kind, to',
    },
  },
  {
    id: 'csv',
    name: 'CSV table',
    endings: ['.csv'],
    type: 'text/csv; charset=utf-8',
    texts: {
      says: 'for scripts, and for spreadsheets of any kind; only the columns text and state are meant to be changed',
    },
    manuscript: {
      says: 'for lines that were written as a table: a row a line, with columns scene, beat, who, text, kind, to',
    },
  },
  {
    id: 'docx',
    name: 'DOCX document',
    endings: ['.docx'],
    type: 'application/vnd.openxmlformats-officedocument.wordprocessingml.document',
    copy: { says: 'for people who read and remark in a word processor' },
    manuscript: { says: 'for what was written in a word processor: headings are scenes and beats, list items choices' },
  },
  {
    id: 'html',
    name: 'HTML page',
    endings: ['.html', '.htm'],
    type: 'text/html; charset=utf-8',
    copy: { says: 'for people who read on paper: pages for printing, with running heads and numbers' },
    voices: { says: 'for those who stand at the microphone: large texts, printed' },
    manuscript: { says: 'for what was written on the web: headings are scenes and beats, list items choices' },
  },
  {
    id: 'markdown',
    name: 'Markdown',
    endings: ['.md', '.markdown'],
    type: 'text/markdown; charset=utf-8',
    copy: { says: 'for people who read and edit plain text; what they change in it can be taken in again' },
    proofs: { says: 'a copy in Markdown whose texts were edited' },
    manuscript: {
      says: 'for what was written as plain text: headings are scenes and beats, list items choices, links to headings where they lead',
    },
  },
  {
    id: 'fountain',
    name: 'Fountain',
    endings: ['.fountain', '.spmd'],
    type: 'text/plain; charset=utf-8',
    copy: { says: 'for screenwriters and their programs' },
    manuscript: { says: 'for screenplays: sections are scenes, scene headings beats' },
  },
  {
    id: 'scxml',
    name: 'SCXML',
    endings: ['.scxml'],
    type: 'application/scxml+xml',
    chart: { says: 'for people who test against the W3C’s state charts: the course of the story, decisions as events' },
  },
  {
    id: 'script',
    name: 'plain script',
    endings: ['.txt', '.text'],
    type: 'text/plain; charset=utf-8',
    manuscript: {
      says: 'for any plain text: “Name: line”, names in capitals over what is said, list items as choices',
    },
  },
] as const satisfies readonly Form[]

/**
 * Every form in which a story or what belongs to it leaves the Desk or comes to it: for the page, the command line and the docs. What
 * does it stands in `ports.ts`, which brings all that writes and reads them along.
 */
export const FORMS: readonly Form[] = ALL

/** A form that can be used for something. */
export type FormFor<Kind extends Use> = Extract<(typeof ALL)[number], Readonly<Record<Kind, Way>>>

/** The forms that can be used for something. */
export function formsFor<Kind extends Use>(use: Kind): FormFor<Kind>[] {
  return ALL.filter((form): form is FormFor<Kind> => use in form)
}

/** The form that is called so, or the one of a file's ending, among those for something. */
export function formCalled<Kind extends Use>(use: Kind, name: string): FormFor<Kind> | undefined {
  const lower = name.toLowerCase()
  return formsFor(use).find(({ id, endings }) => id === lower || endings.some((ending) => lower.endsWith(ending)))
}
