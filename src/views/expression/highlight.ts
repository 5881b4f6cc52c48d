import { tokenize } from '../../core/expression/tokens'
import type { ExpressionError } from '../../core/expression/ast'
import type { CodePart } from '../../ui/code-line'

const FUNCTIONS = new Set(['visits', 'taken', 'atLeast', 'before', 'at', 'ended'])
const WORDS = new Set(['true', 'false', 'in'])

/** The parts of an expression by what they are to the story: a name that it knows or not, a function, a literal. */
export function partsOf(
  text: string,
  knows: (id: string) => boolean,
  error: ExpressionError | undefined,
): readonly CodePart[] {
  const wrong: CodePart[] =
    error === undefined ? [] : [{ start: error.start, end: Math.max(error.end, error.start + 1), className: 'wrong' }]
  // what can't be read as a whole is told apart as far as it can
  const tokens = tokenize(text)
  const readable = tokens.ok ? tokens : tokenize(text.slice(0, tokens.error.start))
  if (!readable.ok) return wrong
  const parts: CodePart[] = []
  readable.value.forEach((token, at) => {
    const { start, end } = token
    if (token.type === 'string') parts.push({ start, end, className: 'string' })
    if (token.type === 'int') parts.push({ start, end, className: 'number' })
    if (token.type !== 'name') return
    const before = readable.value[at - 1]
    const isMember = before?.type === 'symbol' && before.text === '.'
    if (FUNCTIONS.has(token.text)) parts.push({ start, end, className: 'function' })
    else if (WORDS.has(token.text)) parts.push({ start, end, className: 'word' })
    else if (token.text === 'quest' || isMember) parts.push({ start, end, className: 'quest' })
    else parts.push({ start, end, className: knows(token.text) ? 'known' : 'unknown' })
  })
  return [...parts, ...wrong]
}
