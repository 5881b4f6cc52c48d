import { parse, TYPE, type MessageFormatElement } from '@formatjs/icu-messageformat-parser'

interface Edit {
  readonly start: number
  readonly end: number
  readonly text: string
}

/**
 * Rewrites the names in a text in place: `argument` maps the name between { and }, `form` the keys
 * of a choice of forms. All else stays as the author wrote it, blanks and quotes included.
 */
export function mapTextNames(
  source: string,
  argument: (name: string) => string,
  form: (name: string, key: string) => string,
): string {
  if (!source.includes('{')) return source
  let parsed: MessageFormatElement[]
  try {
    parsed = parse(source, { ignoreTag: true, captureLocation: true })
  } catch {
    return source
  }
  const edits: Edit[] = []
  const visit = (parts: readonly MessageFormatElement[]): void => {
    for (const part of parts) {
      if (part.type === TYPE.literal || part.type === TYPE.pound || part.type === TYPE.tag) continue
      const name = argument(part.value)
      const start = source.indexOf(part.value, part.location!.start.offset)
      if (name !== part.value) edits.push({ start, end: start + part.value.length, text: name })
      if (part.type !== TYPE.select && part.type !== TYPE.plural) continue
      for (const [key, option] of Object.entries(part.options)) {
        const next = form(part.value, key)
        const end = source.slice(0, option.location!.start.offset).trimEnd().length
        if (next !== key) edits.push({ start: end - key.length, end, text: next })
        visit(option.value)
      }
    }
  }
  visit(parsed)
  return withEdits(source, edits)
}

/** Rewrites the words of a text, those inside of its forms too, and leaves every name and key alone. */
export function mapTextWords(source: string, map: (words: string) => string): string {
  if (!source.includes('{')) return map(source)
  let parsed: MessageFormatElement[]
  try {
    parsed = parse(source, { ignoreTag: true, captureLocation: true })
  } catch {
    // what can't be read is shown as written, so all of it is words
    return map(source)
  }
  const edits: Edit[] = []
  const visit = (parts: readonly MessageFormatElement[]): void => {
    for (const part of parts) {
      if (part.type === TYPE.literal) {
        const { start, end } = part.location!
        edits.push({ start: start.offset, end: end.offset, text: map(source.slice(start.offset, end.offset)) })
      } else if (part.type === TYPE.select || part.type === TYPE.plural)
        for (const option of Object.values(part.options)) visit(option.value)
    }
  }
  visit(parsed)
  return withEdits(source, edits)
}

function withEdits(source: string, edits: Edit[]): string {
  return edits
    .sort((a, b) => b.start - a.start)
    .reduce((text, edit) => text.slice(0, edit.start) + edit.text + text.slice(edit.end), source)
}
