import { parse, TYPE, type MessageFormatElement } from '@formatjs/icu-messageformat-parser'
import { textArgument, type TextArgument } from './text'

/** One form of a text, and where it stands between its braces in the whole. */
export interface TextForm {
  /** `true`, `one`, a position, `other` … */
  readonly key: string
  readonly start: number
  readonly end: number
  readonly parts: readonly TextPart[]
}

/** A text as it is read: words, values that are put in, and forms of which one is shown. */
export type TextPart =
  | { readonly kind: 'words'; readonly text: string }
  | { readonly kind: 'value'; readonly argument: TextArgument }
  | { readonly kind: 'count' }
  | {
      readonly kind: 'forms'
      readonly argument: TextArgument
      readonly plural: boolean
      readonly forms: readonly TextForm[]
    }

/** The parts of a text; undefined when it can't be read, or when it is nothing but words. */
export function textParts(source: string): readonly TextPart[] | undefined {
  if (!source.includes('{')) return undefined
  try {
    const parts = parse(source, { ignoreTag: true, captureLocation: true }).map(partOf)
    return parts.every(({ kind }) => kind === 'words') ? undefined : parts
  } catch {
    return undefined
  }
}

function partOf(element: MessageFormatElement): TextPart {
  switch (element.type) {
    case TYPE.literal:
      return { kind: 'words', text: element.value }
    case TYPE.pound:
      return { kind: 'count' }
    case TYPE.select:
    case TYPE.plural:
      return {
        kind: 'forms',
        argument: textArgument(element.value),
        plural: element.type === TYPE.plural,
        forms: Object.entries(element.options).map(([key, { value, location }]) => ({
          key,
          start: location!.start.offset + 1,
          end: location!.end.offset - 1,
          parts: value.map(partOf),
        })),
      }
    case TYPE.argument:
    case TYPE.date:
    case TYPE.number:
    case TYPE.tag:
    case TYPE.time:
      return { kind: 'value', argument: textArgument(element.value) }
  }
}

/** What can be put into a text for an entry or quest: its value, or forms by it, with the words to be written marked. */
export interface Insertion {
  readonly source: string
  /** What of it is to be written first: offsets. */
  readonly select: readonly [number, number]
}

export function insertValue(name: string): Insertion {
  const source = `{${name}}`
  return { source, select: [source.length, source.length] }
}

export function insertForms(name: string, keys: readonly string[]): Insertion {
  const plural = keys.includes('one')
  const forms = keys.map((key) => `${key} {${plural && key === 'other' ? '# …' : '…'}}`).join(' ')
  const source = `{${name}, ${plural ? 'plural' : 'select'}, ${forms}}`
  const first = source.indexOf('…')
  return { source, select: [first, first + 1] }
}
