import { fail, ok, type Result } from '../base/result'
import type { ExpressionError, Span } from './ast'

export type Token =
  | (Span & { readonly type: 'name'; readonly text: string })
  | (Span & { readonly type: 'int'; readonly value: number })
  | (Span & { readonly type: 'string'; readonly value: string })
  | (Span & { readonly type: 'symbol'; readonly text: string })
  | (Span & { readonly type: 'end' })

const SYMBOLS = [
  '&&',
  '||',
  '==',
  '!=',
  '<=',
  '>=',
  '+=',
  '-=',
  '<',
  '>',
  '=',
  '!',
  '+',
  '-',
  '*',
  '(',
  ')',
  '[',
  ']',
  ',',
  '.',
]
const SPACE = /(?:[ \t\n\f\r]+|\/\/[^\n]*)+/y
const NAME = /[A-Za-z_][A-Za-z0-9_]*/y
const NUMBER = /0[xX][0-9a-fA-F]+|[0-9]+/y

const SIMPLE_ESCAPES: Readonly<Record<string, string>> = {
  n: '\n',
  r: '\r',
  t: '\t',
  a: '\x07',
  b: '\b',
  f: '\f',
  v: '\v',
  '"': '"',
  "'": "'",
  '\\': '\\',
  '?': '?',
  '`': '`',
}

/** Splits an expression into tokens (the lexis of CEL's specification, its subset used here). */
export function tokenize(text: string): Result<Token[], ExpressionError> {
  const tokens: Token[] = []
  let at = 0
  const match = (pattern: RegExp): string | undefined => {
    pattern.lastIndex = at
    return pattern.exec(text)?.[0]
  }
  for (;;) {
    at += match(SPACE)?.length ?? 0
    if (at >= text.length) break
    const start = at
    const name = match(NAME)
    if (name !== undefined) {
      at += name.length
      const quote = text[at]
      if ((quote === "'" || quote === '"') && /^(r|b|rb|br)$/i.test(name)) {
        return fail({ start, end: at + 1, message: `a string has no "${name}" before its quotes here` })
      }
      tokens.push({ type: 'name', text: name, start, end: at })
      continue
    }
    const digits = match(NUMBER)
    if (digits !== undefined) {
      at += digits.length
      const after = text[at]
      if (after !== undefined && /[A-Za-z0-9_]/.test(after)) {
        return fail({ start, end: at + 1, message: `"${digits}${after}" is not a whole number` })
      }
      if (after === '.' && /[0-9]/.test(text[at + 1] ?? '')) {
        return fail({ start, end: at + 2, message: 'numbers are whole numbers here, without a decimal point' })
      }
      const value = Number(digits)
      if (!Number.isSafeInteger(value)) {
        return fail({ start, end: at, message: `${digits} is too large a number (2^53 − 1 is the largest)` })
      }
      tokens.push({ type: 'int', value, start, end: at })
      continue
    }
    const quote = text[at]!
    if (quote === "'" || quote === '"') {
      const read = readString(text, at)
      if (!read.ok) return read
      at = read.value.end
      tokens.push(read.value)
      continue
    }
    const symbol = SYMBOLS.find((candidate) => text.startsWith(candidate, at))
    if (symbol === undefined) {
      const shown = String.fromCodePoint(text.codePointAt(at)!)
      return fail({ start, end: at + shown.length, message: unknownSign(shown) })
    }
    at += symbol.length
    tokens.push({ type: 'symbol', text: symbol, start, end: at })
  }
  tokens.push({ type: 'end', start: text.length, end: text.length })
  return ok(tokens)
}

function unknownSign(sign: string): string {
  if (sign === '&') return 'write && for "and"'
  if (sign === '|') return 'write || for "or"'
  if ('‘’“”'.includes(sign)) return `${sign} is a curly quote; strings stand in straight quotes, ' or "`
  if (/\s|\p{C}/u.test(sign)) {
    return `an invisible character (U+${sign.codePointAt(0)!.toString(16).toUpperCase().padStart(4, '0')}) stands here; delete it`
  }
  return `"${sign}" has no meaning here`
}

function readString(text: string, start: number): Result<Token & { type: 'string' }, ExpressionError> {
  const quote = text[start]!
  let value = ''
  let at = start + 1
  for (;;) {
    const sign = text[at]
    if (sign === undefined || sign === '\n' || sign === '\r') {
      return fail({ start, end: at, message: `this string has no closing ${quote}` })
    }
    if (sign === quote) return ok({ type: 'string', value, start, end: at + 1 })
    if (sign !== '\\') {
      value += sign
      at += 1
      continue
    }
    const escape = readEscape(text, at)
    if (!escape.ok) return escape
    value += escape.value.text
    at = escape.value.end
  }
}

function readEscape(text: string, start: number): Result<{ text: string; end: number }, ExpressionError> {
  const sign = text[start + 1] ?? ''
  const simple = SIMPLE_ESCAPES[sign]
  if (simple !== undefined) return ok({ text: simple, end: start + 2 })
  const numeric = /^(?:[xX]([0-9a-fA-F]{2})|u([0-9a-fA-F]{4})|U([0-9a-fA-F]{8})|([0-3][0-7]{2}))/.exec(
    text.slice(start + 1, start + 10),
  )
  if (numeric !== null) {
    const hex = numeric[1] ?? numeric[2] ?? numeric[3]
    const code = hex === undefined ? parseInt(numeric[4]!, 8) : parseInt(hex, 16)
    const surrogate = code >= 0xd800 && code <= 0xdfff
    if (code <= 0x10ffff && !surrogate)
      return ok({ text: String.fromCodePoint(code), end: start + 1 + numeric[0].length })
  }
  return fail({
    start,
    end: Math.min(start + 2, text.length),
    message: `"\\${sign}" is no known escape; write \\\\ for a backslash`,
  })
}
