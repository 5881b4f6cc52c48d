import { textParts, type TextPart } from './text-forms'
import { plainId } from '../base/ids'

/** A text as somebody reads it on paper: what is put in by name, forms beside one another. */
export function readableText(source: string): string {
  const parts = textParts(source)
  return parts === undefined ? source : parts.map(sayPart).join('')
}

function sayPart(part: TextPart): string {
  switch (part.kind) {
    case 'words':
      return part.text
    case 'count':
      return '‹number›'
    case 'value':
      return `‹${plainId(part.argument.id)}›`
    case 'forms':
      return `[${part.forms.map(({ key, parts }) => `${plainId(key)}: ${parts.map(sayPart).join('')}`).join(' / ')}]`
  }
}
