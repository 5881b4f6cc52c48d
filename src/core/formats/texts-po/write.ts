import { po } from 'gettext-parser'
import { markOf } from '../../texts/incoming'
import type { TextRow } from '../../texts/rows'
import type { TextsOf } from '../../texts/files'

/**
 * Texts of a language as a gettext PO file: the key is the context, so that equal sources stay apart; what is draft or out of
 * date is fuzzy, as those who work with such files expect. ICU forms stand in the texts as they are.
 */
export function writePo({ title, language, own, made }: TextsOf, rows: readonly TextRow[]): string {
  const translations: Record<string, Record<string, object>> = { '': {} }
  for (const row of rows) {
    // gettext has no empty source, and nothing is to be translated there
    if (row.source === '') continue
    const { key, source, where, who, before, gate, notes, text = '', of, state } = row
    const said = [
      where,
      who && `says: ${who}`,
      before && `after: ${before}`,
      gate,
      notes,
      `was ${markOf(text)}`,
    ].filter((one) => one !== undefined && one !== '')
    translations[key] = {
      [source]: {
        msgctxt: key,
        msgid: source,
        msgstr: [text],
        comments: {
          extracted: said.join('\n').replaceAll('\r', ''),
          ...(text !== '' && state !== 'checked' ? { flag: 'fuzzy' } : {}),
          ...(of === undefined ? {} : { previous: `msgid ${JSON.stringify(of)}` }),
        },
      },
    }
  }
  const headers = {
    'Project-Id-Version': title.replaceAll(/[\r\n]/g, ' '),
    Language: language.replaceAll('-', '_'),
    'PO-Revision-Date': made.toISOString().slice(0, 16).replace('T', ' ') + '+0000',
    'Last-Translator': 'nobody yet',
    'Language-Team': 'none',
    'X-Source-Language': own,
    'MIME-Version': '1.0',
    'Content-Type': 'text/plain; charset=UTF-8',
    'Content-Transfer-Encoding': '8bit',
    'X-Generator': 'Paper Compass',
  }
  const file = { charset: 'utf-8', headers, translations }
  return `${po.compile(file as never, { foldLength: 0 }).toString()}\n`
}
