import type { Random } from '../src/core/base/random'
import type { Expr } from '../src/core/expression/ast'
import { parseExpression } from '../src/core/expression/parse'
import { quote } from '../src/core/expression/print'

/** An expression that is known to be one. */
export function parsed(text: string): Expr {
  const result = parseExpression(text)
  if (!result.ok) throw new Error(`${text}: ${result.error.message}`)
  return result.value
}

/** Well-typed conditions over a few names, with more and fewer parentheses than they need. */
export function randomCondition(random: Random, depth = 3): string {
  if (depth > 0 && random.chance(0.6)) {
    switch (random.below(4)) {
      case 0:
        return `${bracket(random, randomCondition(random, depth - 1))} && ${bracket(random, randomCondition(random, depth - 1))}`
      case 1:
        return `${bracket(random, randomCondition(random, depth - 1))} || ${bracket(random, randomCondition(random, depth - 1))}`
      case 2:
        return `!(${randomCondition(random, depth - 1)})`
      default:
        return `(${randomCondition(random, depth - 1)}) ${random.pick(['==', '!='])} (${randomCondition(random, depth - 1)})`
    }
  }
  switch (random.below(6)) {
    case 0:
      return random.pick(['lit', 'paid', 'true', 'false', '!lit', '!!paid'])
    case 1:
      return `${randomNumber(random, 2)} ${random.pick(['==', '!=', '<', '<=', '>', '>='])} ${randomNumber(random, 2)}`
    case 2:
      return `name ${random.pick(['==', '!='])} ${randomString(random)}`
    case 3:
      return `name in [${Array.from({ length: random.below(4) }, () => randomString(random)).join(', ')}]`
    case 4:
      return `${randomNumber(random, 1)} in [${Array.from({ length: 1 + random.below(3) }, () => String(random.below(5))).join(', ')}]`
    default:
      return `${randomString(random)} == name`
  }
}

function bracket(random: Random, text: string): string {
  return random.chance(0.6) ? `(${text})` : text
}

function randomNumber(random: Random, depth: number): string {
  if (depth > 0 && random.chance(0.6)) {
    const [left, right] = [randomNumber(random, depth - 1), randomNumber(random, depth - 1)]
    return `${random.chance(0.5) ? `(${left})` : left} ${random.pick(['+', '-', '*'])} ${random.chance(0.5) ? `(${right})` : right}`
  }
  if (depth > 0 && random.chance(0.2)) return `-(${randomNumber(random, depth - 1)})`
  return random.pick(['tide', 'coin', String(random.below(9)), `-${random.below(5)}`, '--3', '-tide', '0x1F', '(coin)'])
}

function randomString(random: Random): string {
  const text = random.pick(['Wren', '', "it's", 'a "b"', 'tab\there', 'é☂', 'back\\slash', 'new\nline'])
  return random.chance(0.5) ? quote(text) : JSON.stringify(text)
}
