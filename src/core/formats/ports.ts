import { ok } from '../base/result'
import type { Ports, Use, Written } from './form'
import { formCalled, type FormFor } from './forms'
import type { Payload } from './payload'

/** What writes and reads each form, by what it is used for, loaded when it is asked for. */
const PORTS: { readonly [Kind in Use]: Readonly<Record<FormFor<Kind>['id'], () => Promise<Ports[Kind]>>> } = {
  texts: {
    xliff: async () => {
      const { writeXliff } = await import('./texts-xliff/write')
      const { readXliff } = await import('./texts-xliff/read')
      return { write: always(writeXliff), read: readXliff }
    },
    po: async () => {
      const { writePo } = await import('./texts-po/write')
      const { readPo } = await import('./texts-po/read')
      return { write: always(writePo), read: readPo }
    },
    xlsx: async () => {
      const { writeTextsXlsx } = await import('./texts-xlsx/write')
      const { readTextsXlsx } = await import('./texts-xlsx/read')
      return { write: writeTextsXlsx, read: readTextsXlsx }
    },
    csv: async () => {
      const { writeTextsCsv } = await import('./texts-csv/write')
      const { readTextsCsv } = await import('./texts-csv/read')
      return { write: always(writeTextsCsv), read: readTextsCsv }
    },
  },
  copy: {
    docx: async () => (await import('./copy-docx/write')).writeDocx,
    html: async () => (await import('./copy-html/write')).writeCopyHtml,
    markdown: async () => (await import('./copy-markdown/write')).writeMarkdown,
    fountain: async () => (await import('./copy-fountain/write')).writeFountain,
  },
  voices: {
    xlsx: async () => (await import('./voices-xlsx/write')).writeVoicesXlsx,
    html: async () => always((await import('./voices-html/write')).writeVoicesHtml),
  },
  chart: {
    scxml: async () => (await import('./chart-scxml/write')).writeScxml,
  },
  proofs: {
    markdown: async () => (await import('./copy-markdown/read-proofs')).readProofs,
  },
  manuscript: {
    xlsx: async () => (await import('./manuscript-table/read')).readLinesXlsx,
    csv: async () => (await import('./manuscript-table/read')).readLinesCsv,
    docx: async () => (await import('./manuscript-docx/read')).readDocx,
    html: async () => (await import('./manuscript-html/read')).readHtml,
    markdown: async () => (await import('./manuscript-markdown/read')).readMarkdown,
    fountain: async () => (await import('./manuscript-fountain/read')).readFountain,
    script: async () => (await import('./manuscript-script/read')).readPlainScript,
  },
}

/** What holds whatever it is given to write. */
function always<Of, Row>(write: (of: Of, rows: readonly Row[]) => Payload): (of: Of, rows: readonly Row[]) => Written {
  return (of, rows) => ok(write(of, rows))
}

/** What does something in a form that can be used for it. */
export function portOf<Kind extends Use>(use: Kind, { id }: FormFor<Kind>): Promise<Ports[Kind]> {
  const ports: Readonly<Record<string, () => Promise<Ports[Kind]>>> = PORTS[use]
  return ports[id]!()
}

/** The same of the form that is called so, or that has a file's ending; undefined where there is none. */
export function portCalled<Kind extends Use>(use: Kind, name: string): Promise<Ports[Kind]> | undefined {
  const form = formCalled(use, name)
  return form && portOf(use, form)
}

/** What reads the texts of a form, or of a file with its ending; `proofs`: also copies that were edited. */
export async function readerOfTexts(name: string, proofs: boolean): Promise<Ports['texts']['read'] | undefined> {
  const texts = await portCalled('texts', name)
  return texts?.read ?? (proofs ? portCalled('proofs', name) : undefined)
}
