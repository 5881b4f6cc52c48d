import { po } from 'gettext-parser'
import { fail, ok, type Result } from '../../base/result'
import type { IncomingText } from '../../texts/incoming'
import type { IncomingFile } from '../../texts/files'
import { textOf } from '../payload'

/** Reads a PO file: what has a context that is a key. A file of something else is refused. */
export function readPo(bytes: Uint8Array): Result<IncomingFile> {
  const text = textOf(bytes)
  if (!text.ok) return text
  let file
  try {
    // without a byte order mark, which gettext does not know
    file = po.parse(text.value.replace(/^\uFEFF/, ''), { defaultCharset: 'utf-8' })
  } catch (error) {
    return fail(`this is no PO file: ${(error as Error).message}`)
  }
  const texts: IncomingText[] = []
  for (const [context, messages] of Object.entries(file.translations))
    for (const { msgid, msgstr, comments } of Object.values(messages)) {
      if (msgid === '' || context === '') continue
      const was = /(?:^|\n)was ([0-9a-f]{1,8})(?:\n|$)/.exec(comments?.extracted ?? '')?.[1]
      const isFuzzy = /\bfuzzy\b/.test(comments?.flag ?? '')
      texts.push({
        key: context,
        source: msgid,
        // a file that is cut off has a source without it
        text: (msgstr as readonly string[] | undefined)?.[0] ?? '',
        state: isFuzzy ? 'draft' : 'checked',
        ...(was === undefined ? {} : { was }),
      })
    }
  if (texts.length === 0) return fail('there is no text with a key (msgctxt) in this PO file')
  const language = file.headers['Language'] ?? file.headers['language']
  return ok({ ...(language ? { language: language.replaceAll('_', '-') } : {}), texts })
}
