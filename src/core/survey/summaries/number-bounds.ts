import { VISITS_MAX } from '../../base/limits'
import type { Expr } from '../../expression/ast'
import type { LinkedEntry, LinkedStory } from '../../story/linked'

const INT32_MAX = 2 ** 31 - 1

/** Whether no part of a number can leave the range in which integers are exact. */
export function isExact(story: LinkedStory, expr: Expr): boolean {
  return Number.isFinite(boundsOf(story, expr, Number.MAX_SAFE_INTEGER)[0])
}

/** Whether no part of a number can leave 32 bits. */
export function isSmall(story: LinkedStory, expr: Expr): boolean {
  return Number.isFinite(boundsOf(story, expr, INT32_MAX)[0])
}

/** Whether a counter's sum with a number stays within 32 bits. */
export function isSmallSum(story: LinkedStory, entry: LinkedEntry, expr: Expr): boolean {
  const [low, high] = boundsOf(story, expr, INT32_MAX)
  const most = Math.max(-low, high) + Math.max(-entry.min, entry.max)
  return most <= INT32_MAX
}

/** Between which numbers the expression stays; infinite when some part may be more or less than `most`. */
export function boundsOf(story: LinkedStory, expr: Expr, most: number): readonly [number, number] {
  const exact = (low: number, high: number): [number, number] =>
    low >= -most && high <= most ? [low, high] : [-Infinity, Infinity]
  switch (expr.kind) {
    case 'int':
      return exact(expr.value, expr.value)
    case 'entry': {
      const entry = story.entries[story.entryOf.get(expr.id)!]!
      return exact(entry.min, entry.max)
    }
    case 'visits':
      return [0, VISITS_MAX]
    case 'negate': {
      const [low, high] = boundsOf(story, expr.operand, most)
      return exact(-high, -low)
    }
    case 'arithmetic': {
      const [a, b] = boundsOf(story, expr.left, most)
      const [c, d] = boundsOf(story, expr.right, most)
      if (![a, b, c, d].every(Number.isFinite)) return [-Infinity, Infinity]
      if (expr.op === '+') return exact(a + c, b + d)
      if (expr.op === '-') return exact(a - d, b - c)
      const products = [a * c, a * d, b * c, b * d]
      return exact(Math.min(...products), Math.max(...products))
    }
    case 'and':
    case 'at':
    case 'bool':
    case 'compare':
    case 'ended':
    case 'in':
    case 'not':
    case 'or':
    case 'order':
    case 'quest':
    case 'string':
    case 'taken':
      return [-Infinity, Infinity]
  }
}

/** The type of a checked expression. */
export function typeOf(story: LinkedStory, expr: Expr): 'bool' | 'int' | 'string' {
  switch (expr.kind) {
    case 'int':
    case 'visits':
    case 'negate':
    case 'arithmetic':
      return 'int'
    case 'string':
    case 'quest':
      return 'string'
    case 'entry': {
      const { kind } = story.entries[story.entryOf.get(expr.id)!]!
      return kind === 'flag' ? 'bool' : kind === 'switch' || kind === 'text' ? 'string' : 'int'
    }
    case 'and':
    case 'at':
    case 'bool':
    case 'compare':
    case 'ended':
    case 'in':
    case 'not':
    case 'or':
    case 'order':
    case 'taken':
      return 'bool'
  }
}
