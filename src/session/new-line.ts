import type { PlainLine } from '../core/story/types'

const LETTERS = 'abcdefghijklmnopqrstuvwxyz'
const SIGNS = `${LETTERS}0123456789`
/** So many signs that no beat ever has one twice, also of lines that are long gone. */
const LENGTH = 6

/** A name for a line, by which it is translated and spoken: short, stable, and never given twice. */
export function newLineId(): string {
  const [first, ...others] = crypto.getRandomValues(new Uint32Array(LENGTH))
  return LETTERS[first! % LETTERS.length]! + others.map((number) => SIGNS[number % SIGNS.length]!).join('')
}

/** An empty line, or one that says something already. */
export function newLine(text = ''): PlainLine {
  return { id: newLineId(), text }
}
