import {
  parse,
  TYPE,
  type LiteralElement,
  type MessageFormatElement,
  type PoundElement,
} from '@formatjs/icu-messageformat-parser'
import { IntlMessageFormat } from 'intl-messageformat'
import { TEXT_DEPTH, TEXT_LENGTH } from '../base/limits'
import { fail, ok, type Result } from '../base/result'
import type { Scope } from '../expression/check'

const QUEST_ARGUMENT = 'quest_'
const PERSON_ARGUMENT = 'person_'

/** Text without any of these is itself, whatever the format. */
const FORMATTED = /[{}']/

/** Words, and between them nothing but arguments without a format. */
const WITH_NAMES = /^(?:[^{}']|\{[a-z]\w*\})*$/

/** The parts of such a text, as the parser gives them; nearly all texts that show something are of this kind. */
function wordsAndNames(source: string): MessageFormatElement[] {
  const parts: MessageFormatElement[] = []
  for (let at = 0; at < source.length;) {
    const open = source.indexOf('{', at)
    if (open !== at) parts.push({ type: TYPE.literal, value: open === -1 ? source.slice(at) : source.slice(at, open) })
    if (open === -1) break
    const close = source.indexOf('}', open)
    parts.push({ type: TYPE.argument, value: source.slice(open + 1, close) })
    at = close + 1
  }
  return parts
}

const cache = new Map<string, Result<readonly MessageFormatElement[], string>>()
const CACHE_MAX = 200_000

/** Whether a text shows just what is written. */
export function isPlain(source: string): boolean {
  return !FORMATTED.test(source)
}

/** Parses ICU MessageFormat. Angle brackets are ordinary signs: an author's text is never markup. */
export function parseText(source: string): Result<readonly MessageFormatElement[], string> {
  if (isPlain(source)) return ok([{ type: TYPE.literal, value: source }])
  if (WITH_NAMES.test(source)) return ok(wordsAndNames(source))
  const known = cache.get(source)
  if (known !== undefined) return known
  const parsed = parseAnew(source)
  if (cache.size >= CACHE_MAX) cache.clear()
  cache.set(source, parsed)
  return parsed
}

function parseAnew(source: string): Result<readonly MessageFormatElement[], string> {
  if (source.length > TEXT_LENGTH)
    return fail(`a text with forms or entries in it has at most ${TEXT_LENGTH} characters; divide it`)
  if (depthOf(source) > TEXT_DEPTH) return fail(`its forms are nested more than ${TEXT_DEPTH} deep`)
  try {
    return ok(parse(source, { ignoreTag: true, captureLocation: false }))
  } catch (error) {
    return fail(explain((error as Error).message))
  }
}

/** How deep braces are nested; those in quotes are counted too, which only makes it more. */
function depthOf(source: string): number {
  let depth = 0
  let deepest = 0
  for (const sign of source) {
    if (sign === '{') deepest = Math.max(deepest, (depth += 1))
    else if (sign === '}') depth = Math.max(0, depth - 1)
  }
  return deepest
}

/** Why a text with number styles can't be shown, found by showing it once. */
export function formatTrouble(elements: readonly MessageFormatElement[]): string | undefined {
  const styled = [...namingParts(elements)].filter((part) => part.type === TYPE.number && part.style)
  for (const part of styled) {
    try {
      // what a style can be does not depend on the language
      new IntlMessageFormat([part], 'en', undefined, { ignoreTag: true }).format({ [part.value]: 1 })
    } catch (error) {
      return `the number style of "${part.value}" can not be shown (${(error as Error).message.split('\n')[0]!})`
    }
  }
  return undefined
}

function explain(code: string): string {
  switch (code) {
    case 'EXPECT_ARGUMENT_CLOSING_BRACE':
    case 'UNCLOSED_QUOTE_IN_ARGUMENT_STYLE':
    case 'EXPECT_SELECT_ARGUMENT_SELECTOR_FRAGMENT':
    case 'EXPECT_PLURAL_ARGUMENT_SELECTOR_FRAGMENT':
      return 'a { is not closed, or something inside it is cut off'
    case 'EMPTY_ARGUMENT':
      return '{} names no entry'
    case 'MALFORMED_ARGUMENT':
      return 'between { and } stands the id of an entry'
    case 'MISSING_OTHER_CLAUSE':
      return 'a choice of forms needs the form "other"'
    case 'UNMATCHED_CLOSING_TAG':
    case 'UNCLOSED_TAG':
    case 'INVALID_TAG':
      return 'this can not be read as text'
    default:
      return `the text's forms can't be read (${code.toLowerCase().replaceAll('_', ' ')})`
  }
}

/** An argument of a text: the entry, quest or person that it names. */
export interface TextArgument {
  readonly of: 'entry' | 'quest' | 'person'
  readonly id: string
}

export function textArgument(name: string): TextArgument {
  if (name.startsWith(QUEST_ARGUMENT)) return { of: 'quest', id: name.slice(QUEST_ARGUMENT.length) }
  if (name.startsWith(PERSON_ARGUMENT)) return { of: 'person', id: name.slice(PERSON_ARGUMENT.length) }
  return { of: 'entry', id: name }
}

/** The parts of a text that show or choose by something, forms of forms included, in order of appearance. */
function* namingParts(
  elements: readonly MessageFormatElement[],
): Generator<Exclude<MessageFormatElement, LiteralElement | PoundElement>> {
  for (const part of elements) {
    if (part.type === TYPE.literal || part.type === TYPE.pound) continue
    yield part
    if (part.type === TYPE.select || part.type === TYPE.plural)
      for (const option of Object.values(part.options)) yield* namingParts(option.value)
  }
}

/** The arguments of a text in order of appearance, or what is wrong with one of them. */
export function textArguments(elements: readonly MessageFormatElement[], scope: Scope): Result<TextArgument[], string> {
  const found: TextArgument[] = []
  for (const part of namingParts(elements)) {
    if (part.type === TYPE.tag) return fail('this can not be read as text')
    const argument = textArgument(part.value)
    const trouble = argumentTrouble(argument, part, scope)
    if (trouble !== undefined) return fail(trouble)
    found.push(argument)
  }
  return ok(found)
}

/** The arguments of a text that was found sound. */
export function argumentsIn(elements: readonly MessageFormatElement[]): TextArgument[] {
  return [...namingParts(elements)].map(({ value }) => textArgument(value))
}

function argumentTrouble(argument: TextArgument, part: MessageFormatElement, scope: Scope): string | undefined {
  let type = 'string'
  if (argument.of === 'quest') {
    if (scope.quest(argument.id) === undefined) return `there is no quest "${argument.id}"`
  } else if (argument.of === 'person') {
    if (!scope.hasPerson(argument.id)) return `"${argument.id}" is not in the cast`
  } else {
    const entry = scope.entry(argument.id)
    if ('trouble' in entry) return entry.trouble
    type = entry.type
  }
  if (part.type === TYPE.date || part.type === TYPE.time) return `"${argument.id}" is no date or time`
  if ((part.type === TYPE.plural || part.type === TYPE.number) && type !== 'int') {
    return `only counters and items have number forms; "${argument.id}" is neither`
  }
  return undefined
}
