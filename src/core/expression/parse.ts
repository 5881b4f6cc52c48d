import { EXPRESSION_DEPTH, EXPRESSION_LENGTH, EXPRESSION_ROW } from '../base/limits'
import { fail, ok, type Result } from '../base/result'
import type { CompareOp, Effect, Expr, ExpressionError, Span } from './ast'
import { tokenize, type Token } from './tokens'

/**
 * Recursive descent over CEL's grammar (Common Expression Language specification,
 * "Syntax"): or < and < relation (left-associative, `in` among them) < sum < product < unary < member.
 */

class Trouble {
  constructor(readonly error: ExpressionError) {}
}

const RELATIONS: readonly string[] = ['==', '!=', '<', '<=', '>', '>=']
const CEL_WORDS = new Set(
  'as break const continue else for function if import let loop namespace package return var void while null'.split(
    ' ',
  ),
)

/** Reads a condition or a value. */
export function parseExpression(text: string): Result<Expr, ExpressionError> {
  return run(text, (parser) => {
    const expr = parser.expression()
    parser.end()
    return expr
  })
}

/** Reads an effect: `entry = …`, `entry += …`, `entry -= …` or `quest.ID = …`. */
export function parseEffect(text: string): Result<Effect, ExpressionError> {
  return run(text, (parser) => parser.effect())
}

function run<T>(text: string, read: (parser: Parser) => T): Result<T, ExpressionError> {
  if (text.length > EXPRESSION_LENGTH) {
    return fail({ start: 0, end: text.length, message: `this is longer than ${EXPRESSION_LENGTH} characters` })
  }
  const tokens = tokenize(text)
  if (!tokens.ok) return tokens
  try {
    return ok(read(new Parser(tokens.value)))
  } catch (trouble) {
    if (trouble instanceof Trouble) return fail(trouble.error)
    throw trouble
  }
}

/** Rows longer than this are put together as a tree: their order stays, and nothing that walks them goes deep. */
const LONG_ROW = 24

function inRow(kind: 'or' | 'and', parts: readonly Expr[], from: number, to: number): Expr {
  if (to - from === 1) return parts[from]!
  const isLong = parts.length > LONG_ROW
  const middle = isLong ? (from + to) >> 1 : to - 1
  const left = inRow(kind, parts, from, middle)
  const right = inRow(kind, parts, middle, to)
  const row = { kind, left, right, start: left.start, end: right.end }
  return isLong ? { ...row, isRow: true } : row
}

class Parser {
  private at = 0
  private depth = 0

  constructor(private readonly tokens: readonly Token[]) {}

  effect(): Effect {
    const first = this.peek()
    if (first.type !== 'name') this.refuse(first, 'an effect starts with the entry it changes, as in "tide -= 1"')
    const target = this.primary()
    const sign = this.next()
    const word = sign.type === 'symbol' ? sign.text : ''
    if (word !== '=' && word !== '+=' && word !== '-=') {
      this.refuse(sign, word === '==' ? 'one "=" sets a value; "==" compares' : 'expected =, += or -= here')
    }
    const value = this.expression()
    this.end()
    const span: Span = { start: first.start, end: value.end }
    if (target.kind === 'quest') {
      if (word !== '=') this.refuse(sign, 'a quest is set to a stage with "="')
      return { kind: 'stage', quest: target.id, value, ...span }
    }
    if (target.kind !== 'entry') this.refuse(target, 'only a ledger entry or a quest can be changed')
    const kind = word === '=' ? 'set' : word === '+=' ? 'add' : 'subtract'
    return { kind, entry: target.id, value, ...span }
  }

  expression(): Expr {
    this.depth += 1
    if (this.depth > EXPRESSION_DEPTH) this.refuse(this.peek(), 'this is nested too deeply')
    const expr = this.chain('or', '||', () => this.chain('and', '&&', () => this.relation()))
    this.depth -= 1
    return expr
  }

  end(): void {
    const token = this.peek()
    if (token.type === 'end') return
    const single = token.type === 'symbol' && token.text === '='
    this.refuse(
      token,
      single
        ? 'write == to compare; a single = only sets a value, in an effect'
        : `${shown(token)} is not expected here`,
    )
  }

  private chain(kind: 'or' | 'and', symbol: string, part: () => Expr): Expr {
    const parts = [part()]
    while (this.accept(symbol)) parts.push(part())
    return inRow(kind, parts, 0, parts.length)
  }

  /** One more in a row of relations, sums or products, which can't be put together otherwise than one after another. */
  private step(count: number): number {
    if (count >= EXPRESSION_ROW) this.refuse(this.peek(), `more than ${EXPRESSION_ROW} of these stand in one row`)
    return count + 1
  }

  private relation(): Expr {
    let left = this.sum()
    for (let count = 0; ; count = this.step(count)) {
      const token = this.peek()
      if (token.type === 'symbol' && RELATIONS.includes(token.text)) {
        this.at += 1
        const right = this.sum()
        left = { kind: 'compare', op: token.text as CompareOp, left, right, start: left.start, end: right.end }
      } else if (token.type === 'name' && token.text === 'in') {
        this.at += 1
        left = this.membership(left)
      } else return left
    }
  }

  private membership(left: Expr): Expr {
    this.expect('[', '"in" is followed by a list, as in "lantern in [\'lit\', \'lost\']"')
    const items: Expr[] = []
    while (!this.accept(']')) {
      if (items.length > 0) this.expect(',', 'expected , or ] in this list')
      if (items.length > 0 && this.accept(']')) break
      items.push(this.expression())
    }
    return { kind: 'in', left, items, start: left.start, end: this.before() }
  }

  private sum(): Expr {
    let left = this.product()
    for (let count = 0; ; count = this.step(count)) {
      const op = this.accept('+') ? '+' : this.accept('-') ? '-' : undefined
      if (op === undefined) return left
      const right = this.product()
      left = { kind: 'arithmetic', op, left, right, start: left.start, end: right.end }
    }
  }

  private product(): Expr {
    let left = this.unary()
    for (let count = 0; this.accept('*'); count = this.step(count)) {
      const right = this.unary()
      left = { kind: 'arithmetic', op: '*', left, right, start: left.start, end: right.end }
    }
    return left
  }

  private unary(): Expr {
    const first = this.peek()
    const sign = first.type === 'symbol' && (first.text === '!' || first.text === '-') ? first.text : undefined
    if (sign === undefined) return this.primary()
    const starts: number[] = []
    for (let next = this.peek(); next.type === 'symbol' && next.text === sign; next = this.peek()) {
      starts.push(next.start)
      this.at += 1
      if (starts.length > EXPRESSION_DEPTH) this.refuse(next, 'this is nested too deeply')
    }
    let operand = this.primary()
    for (const start of starts.reverse()) {
      operand = { kind: sign === '!' ? 'not' : 'negate', operand, start, end: operand.end }
    }
    return operand
  }

  private primary(): Expr {
    const token = this.next()
    if (token.type === 'int') return { kind: 'int', value: token.value, start: token.start, end: token.end }
    if (token.type === 'string') return { kind: 'string', value: token.value, start: token.start, end: token.end }
    if (token.type === 'symbol' && token.text === '(') {
      const inner = this.expression()
      this.expect(')', 'expected ) here')
      return { ...inner, start: token.start, end: this.before() }
    }
    if (token.type !== 'name') {
      this.refuse(
        token,
        token.type === 'end' ? 'something is missing at the end' : `${shown(token)} is not expected here`,
      )
    }
    return this.named(token.text, token)
  }

  private named(name: string, span: Span): Expr {
    if (name === 'true' || name === 'false') return { kind: 'bool', value: name === 'true', ...place(span) }
    if (name === 'in' || CEL_WORDS.has(name)) this.refuse(span, `"${name}" is a reserved word and can't stand here`)
    if (name === 'quest') {
      this.expect('.', 'a quest is named with its id, as in quest.sluice')
      const id = this.next()
      if (id.type !== 'name') this.refuse(id, 'a quest is named with its id, as in quest.sluice')
      return { kind: 'quest', id: id.text, start: span.start, end: id.end }
    }
    if (this.accept('(')) return this.call(name, span)
    const dot = this.peek()
    if (dot.type === 'symbol' && dot.text === '.') {
      this.refuse(dot, `"${name}" has no parts; an address stands in quotes, as in visits('quay.morning')`)
    }
    return { kind: 'entry', id: name, ...place(span) }
  }

  private call(name: string, span: Span): Expr {
    switch (name) {
      case 'visits':
        return { kind: 'visits', beat: this.quoted(name, "a beat's address"), start: span.start, end: this.close() }
      case 'taken':
        return { kind: 'taken', choice: this.quoted(name, "a choice's address"), start: span.start, end: this.close() }
      case 'at':
        return { kind: 'at', beat: this.quoted(name, "a beat's address"), start: span.start, end: this.close() }
      case 'ended':
        return { kind: 'ended', ending: this.quoted(name, "an ending's id"), start: span.start, end: this.close() }
      case 'atLeast':
      case 'before': {
        const subject = this.expression()
        this.expect(',', `${name}(…) needs two parts: what is compared, and a position in quotes`)
        return {
          kind: 'order',
          name,
          subject,
          position: this.quoted(name, 'a position'),
          start: span.start,
          end: this.close(),
        }
      }
      default:
        return this.refuse(
          span,
          `there is no function "${name}"; there are visits, taken, atLeast, before (in promises also at, ended)`,
        )
    }
  }

  private quoted(name: string, what: string): string {
    const token = this.next()
    if (token.type !== 'string') this.refuse(token, `${name}(…) takes ${what} in quotes`)
    return token.value
  }

  private close(): number {
    this.expect(')', 'expected ) here')
    return this.before()
  }

  private peek(): Token {
    return this.tokens[this.at]!
  }

  private next(): Token {
    const token = this.peek()
    if (token.type !== 'end') this.at += 1
    return token
  }

  private before(): number {
    return this.tokens[this.at - 1]!.end
  }

  private accept(symbol: string): boolean {
    const token = this.peek()
    if (token.type !== 'symbol' || token.text !== symbol) return false
    this.at += 1
    return true
  }

  private expect(symbol: string, message: string): void {
    if (!this.accept(symbol)) this.refuse(this.peek(), message)
  }

  private refuse(span: Span, message: string): never {
    throw new Trouble({ message, ...place(span) })
  }
}

function place(span: Span): Span {
  return { start: span.start, end: span.end }
}

function shown(token: Token): string {
  switch (token.type) {
    case 'end':
      return 'the end'
    case 'string':
      return 'this string'
    case 'int':
      return `the number ${token.value}`
    case 'name':
    case 'symbol':
      return `"${token.text}"`
  }
}
