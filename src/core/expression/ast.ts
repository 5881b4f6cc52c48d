/** Where a part of an expression stands in its text: offsets in UTF-16 units, end not included. */
export interface Span {
  readonly start: number
  readonly end: number
}

export type CompareOp = '==' | '!=' | '<' | '<=' | '>' | '>='
export type ArithmeticOp = '+' | '-' | '*'

/** A parsed expression. Names are kept as written; the checker decides whether they exist. */
export type Expr =
  | (Span & { readonly kind: 'bool'; readonly value: boolean })
  | (Span & { readonly kind: 'int'; readonly value: number })
  | (Span & { readonly kind: 'string'; readonly value: string })
  | (Span & { readonly kind: 'entry'; readonly id: string })
  | (Span & { readonly kind: 'quest'; readonly id: string })
  | (Span & { readonly kind: 'visits'; readonly beat: string })
  | (Span & { readonly kind: 'taken'; readonly choice: string })
  | (Span & { readonly kind: 'at'; readonly beat: string })
  | (Span & { readonly kind: 'ended'; readonly ending: string })
  | (Span & {
      readonly kind: 'order'
      readonly name: 'atLeast' | 'before'
      readonly subject: Expr
      readonly position: string
    })
  | (Span & { readonly kind: 'not'; readonly operand: Expr })
  | (Span & { readonly kind: 'negate'; readonly operand: Expr })
  /** `isRow`: a part of a long row, put together as a tree. */
  | (Span & { readonly kind: 'and' | 'or'; readonly left: Expr; readonly right: Expr; readonly isRow?: boolean })
  | (Span & { readonly kind: 'compare'; readonly op: CompareOp; readonly left: Expr; readonly right: Expr })
  | (Span & { readonly kind: 'arithmetic'; readonly op: ArithmeticOp; readonly left: Expr; readonly right: Expr })
  | (Span & { readonly kind: 'in'; readonly left: Expr; readonly items: readonly Expr[] })

/** A parsed effect: one assignment. */
export type Effect =
  | (Span & { readonly kind: 'set' | 'add' | 'subtract'; readonly entry: string; readonly value: Expr })
  | (Span & { readonly kind: 'stage'; readonly quest: string; readonly value: Expr })

/** What is wrong with an expression, and where in its text. */
export interface ExpressionError extends Span {
  readonly message: string
  /** What it names and the story does not have, where that is what is wrong. */
  readonly missing?: Missing
}

/** Something that an expression names and that could be made. */
export type Missing =
  | { readonly of: 'entry' | 'quest' | 'beat' | 'choice' | 'ending'; readonly id: string }
  /** A position of a switch, or a stage of a quest. */
  | { readonly of: 'position'; readonly entry: string; readonly id: string }
  | { readonly of: 'stage'; readonly quest: string; readonly id: string }

/** Calls `visit` for `expr` and every part of it, outermost first. */
export function walk(expr: Expr, visit: (part: Expr) => void): void {
  visit(expr)
  for (const child of children(expr)) walk(child, visit)
}

/** The parts of a condition that all have to hold ("and"), or of which one has to ("or"), in order: of a long row, which may be nested thousands deep. */
export function operandsOf(expr: Expr, kind: 'and' | 'or'): Expr[] {
  const parts: Expr[] = []
  const open = [expr]
  for (let part = open.pop(); part !== undefined; part = open.pop()) {
    if (part.kind === kind) open.push(part.right, part.left)
    else parts.push(part)
  }
  return parts
}

export function children(expr: Expr): readonly Expr[] {
  switch (expr.kind) {
    case 'not':
    case 'negate':
      return [expr.operand]
    case 'and':
    case 'or':
    case 'compare':
    case 'arithmetic':
      return [expr.left, expr.right]
    case 'in':
      return [expr.left, ...expr.items]
    case 'order':
      return [expr.subject]
    case 'at':
    case 'bool':
    case 'ended':
    case 'entry':
    case 'int':
    case 'quest':
    case 'string':
    case 'taken':
    case 'visits':
      return []
  }
}
