import type { ArithmeticOp, CompareOp, Effect, Expr } from '../../expression/ast'
import { checkCondition, checkEffect, type Scope } from '../../expression/check'
import type { LinkedEntry, LinkedQuest } from '../../story/linked'
import type { At } from '../../base/at'

/** The names that a bundle's numbers stand for. */
export interface Names {
  readonly entries: readonly LinkedEntry[]
  readonly quests: readonly LinkedQuest[]
  readonly people: readonly string[]
  readonly beats: readonly string[]
  readonly choices: readonly string[]
}

const SPAN = { start: 0, end: 0 }
const COMPARISONS: readonly string[] = ['==', '!=', '<', '<=', '>', '>='] satisfies CompareOp[]
const SUMS: readonly string[] = ['+', '-', '*'] satisfies ArithmeticOp[]

/** A condition that is well typed where it stands. */
export function readCondition(at: At, names: Names, scope: Scope): Expr {
  const expr = readExpr(at, names)
  const [error] = checkCondition(expr, scope)
  if (error !== undefined) at.fail(`a condition that can be understood (${error.message})`)
  return expr
}

export function readEffect(at: At, names: Names, scope: Scope): Effect {
  const [head, target, value, ...more] = at.items()
  if (head === undefined || target === undefined || value === undefined || more.length > 0) at.fail('an effect')
  const kind = head.oneOf(['=', '+=', '-=', 'stage'])
  let effect: Effect
  if (kind === 'stage') {
    const quest = names.quests[target.index(names.quests.length, 'a quest')]!
    const stage = quest.stages[value.index(quest.stages.length, 'a stage')]!
    effect = { ...SPAN, kind, quest: quest.id, value: { ...SPAN, kind: 'string', value: stage } }
  } else {
    const entry = names.entries[target.index(names.entries.length, 'an entry')]!.id
    const kinds = { '=': 'set', '+=': 'add', '-=': 'subtract' } as const
    effect = { ...SPAN, kind: kinds[kind], entry, value: readExpr(value, names) }
  }
  const [error] = checkEffect(effect, scope)
  if (error !== undefined) at.fail(`an effect that can be understood (${error.message})`)
  return effect
}

function readExpr(at: At, names: Names): Expr {
  if (typeof at.value === 'boolean') return { ...SPAN, kind: 'bool', value: at.value }
  if (typeof at.value === 'number') return { ...SPAN, kind: 'int', value: at.integer() }
  if (typeof at.value === 'string') return { ...SPAN, kind: 'string', value: at.value }
  const [head, ...rest] = at.items()
  const kind = head?.string() ?? at.fail('an expression')
  const takes = (count: number) => {
    if (rest.length !== count) at.fail(`"${kind}" with ${count} part${count === 1 ? '' : 's'}`)
    return rest as unknown as readonly [At, At]
  }
  const two = () => {
    const [left, right] = takes(2)
    return { left: readExpr(left, names), right: readExpr(right, names) }
  }
  if (COMPARISONS.includes(kind)) return { ...SPAN, kind: 'compare', op: kind as CompareOp, ...two() }
  if (SUMS.includes(kind)) return { ...SPAN, kind: 'arithmetic', op: kind as ArithmeticOp, ...two() }
  switch (kind) {
    case 'entry':
      return { ...SPAN, kind, id: names.entries[takes(1)[0].index(names.entries.length, 'an entry')]!.id }
    case 'quest':
      return { ...SPAN, kind, id: names.quests[takes(1)[0].index(names.quests.length, 'a quest')]!.id }
    case 'visits':
      return { ...SPAN, kind, beat: names.beats[takes(1)[0].index(names.beats.length, 'a beat')]! }
    case 'taken':
      return { ...SPAN, kind, choice: names.choices[takes(1)[0].index(names.choices.length, 'a choice')]! }
    case 'not':
    case 'negate':
      return { ...SPAN, kind, operand: readExpr(takes(1)[0], names) }
    case 'and':
    case 'or':
      if (rest.length < 2) at.fail(`"${kind}" with 2 parts or more`)
      return joined(
        kind,
        rest.map((part) => readExpr(part, names)),
      )
    case 'in': {
      const [left, items] = takes(2)
      return { ...SPAN, kind, left: readExpr(left, names), items: items.list((item) => readExpr(item, names)) }
    }
    case 'atLeast':
    case 'before': {
      const [of, position] = takes(2)
      const subject = readExpr(of, names)
      const order =
        subject.kind === 'entry'
          ? names.entries.find(({ id }) => id === subject.id)!.positions
          : subject.kind === 'quest'
            ? names.quests.find(({ id }) => id === subject.id)!.stages
            : of.fail('a switch or a quest')
      return {
        ...SPAN,
        kind: 'order',
        name: kind,
        subject,
        position: order[position.index(order.length, 'a position')]!,
      }
    }
    default:
      return at.fail('an expression')
  }
}

/** A long row as a tree that is not deep. */
function joined(kind: 'and' | 'or', parts: readonly Expr[]): Expr {
  if (parts.length === 1) return parts[0]!
  const half = parts.length >> 1
  return {
    ...SPAN,
    kind,
    left: joined(kind, parts.slice(0, half)),
    right: joined(kind, parts.slice(half)),
    isRow: true,
  }
}
