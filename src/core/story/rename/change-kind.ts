import { fail, ok, type Result } from '../../base/result'
import type { CompareOp, Effect, Expr } from '../../expression/ast'
import { literal } from '../../expression/pick'
import { applyChange } from '../changes/apply'
import type { Change } from '../changes/types'
import { linkStory } from '../link'
import { ownersIn } from '../owners-in'
import { linesOf, type Beat, type Entry, type Story } from '../types'
import { entryChanges } from './rename'
import { Rewriter } from './rewrite'
import { mapTextNames } from './text-names'

type Value = boolean | number | string

/** What a change of kind rewrites, to be shown before it is made. */
export interface KindChange {
  readonly change: Change
  readonly rewritten: readonly { readonly address: string; readonly before: string; readonly after: string }[]
  /** Parts that would not be understood any more, as `address part: message`. */
  readonly broken: readonly string[]
}

/** The values of an entry in their order, as far as they can be told one by one. */
export function valuesOf(entry: Entry): Value[] | undefined {
  switch (entry.kind) {
    case 'flag':
      return [false, true]
    case 'switch':
      return entry.positions
    case 'counter':
      return entry.max - entry.min < VALUES_MAX
        ? Array.from({ length: entry.max - entry.min + 1 }, (_, at) => entry.min + at)
        : undefined
    case 'item':
      return entry.max < VALUES_MAX ? Array.from({ length: entry.max + 1 }, (_, at) => at) : undefined
    case 'text':
      return undefined
  }
}

/** A range of more values is not turned into positions. */
const VALUES_MAX = 40

/**
 * Turns an entry into one of another kind: the first value of the old kind becomes the first of the
 * new one, and so on, in every gate, effect, text, promise and route. What can't be said of the new kind
 * stays as it is and is told.
 */
export function changeKind(story: Story, old: Entry, made: Entry): Result<KindChange> {
  const from = valuesOf(old)
  const to = valuesOf(made)
  if (old.id !== made.id) return fail('a change of kind keeps the name')
  const paired =
    from !== undefined && to !== undefined && from.length <= to.length
      ? new Map(from.map((value, at) => [value, to[at]!]))
      : undefined
  const isNumber = (entry: Entry) => entry.kind === 'counter' || entry.kind === 'item'
  const keep = isNumber(old) && isNumber(made)
  const rewriter = new Rewriter(
    paired === undefined || keep
      ? {}
      : {
          expr: (part) => turned(part, old, made, paired),
          effect: (effect) => (effect.kind === 'set' && effect.entry === old.id ? withLiteral(effect, paired) : effect),
          text: (source) =>
            mapTextNames(
              source,
              (name) => name,
              (name, key) => (name === old.id && key !== 'other' ? String(paired.get(keyValue(old, key)) ?? key) : key),
            ),
          held: (of, id, value) => (of === 'entry' && id === old.id ? (paired.get(value) ?? value) : value),
        },
  )
  const beats = rewriter.changes(story)
  const initial = paired?.get(old.initial ?? from![0]!)
  const kept = {
    ...(old.name === undefined ? {} : { name: old.name }),
    ...(old.given === undefined ? {} : { given: old.given }),
  }
  const next = { ...kept, ...made, ...(paired === undefined || keep || initial === to![0] ? {} : { initial }) } as Entry
  const change: Change = { op: 'batch', changes: [...entryChanges(story, old.id, () => next), ...beats] }
  const applied = applyChange(story, change)
  if (!applied.ok) return applied
  const known = new Set(linkStory(story).problems.map(problemName))
  const broken = linkStory(applied.value.story)
    .problems.filter((problem) => !known.has(problemName(problem)))
    .map(({ address, part, message }) => `${address} ${part}: ${message}`)
  return ok({ change, rewritten: rewrittenParts(story, applied.value.story), broken })
}

function problemName({ address, part }: { readonly address: string; readonly part: string }): string {
  return `${address} ${part}`
}

/** What a form of a text is chosen by, as a value. */
function keyValue(entry: Entry, key: string): Value {
  return entry.kind === 'flag'
    ? key === 'true'
    : entry.kind === 'counter' || entry.kind === 'item'
      ? Number(key.replace('=', ''))
      : key
}

const NOWHERE = { start: 0, end: 0 }
const FLIPPED: Readonly<Record<CompareOp, CompareOp>> = {
  '==': '==',
  '!=': '!=',
  '<': '>',
  '<=': '>=',
  '>': '<',
  '>=': '<=',
}

/** One part of an expression whose own parts are turned already. */
function turned(part: Expr, old: Entry, made: Entry, paired: ReadonlyMap<Value, Value>): Expr {
  const own: Expr = { kind: 'entry', id: old.id, ...NOWHERE }
  const is = (value: Value, op: CompareOp = '=='): Expr => {
    const next = paired.get(value)
    if (next === undefined) return { kind: 'compare', op, left: own, right: literal(value), ...NOWHERE }
    if (made.kind === 'flag') return (next === true) === (op === '==') ? own : { kind: 'not', operand: own, ...NOWHERE }
    return { kind: 'compare', op, left: own, right: literal(next), ...NOWHERE }
  }
  // a flag stands by itself; what is compared with it was turned with it
  if (old.kind === 'flag' && part.kind === 'entry' && part.id === old.id) return is(true)
  if (old.kind === 'flag' && part.kind === 'not' && isTest(part.operand, old.id, paired.get(true))) return is(false)
  if (part.kind === 'compare') {
    const [subject, other, op] =
      part.left.kind === 'entry' && part.left.id === old.id
        ? [part.left, part.right, part.op]
        : [part.right, part.left, FLIPPED[part.op]]
    if (subject.kind !== 'entry' || subject.id !== old.id || old.kind === 'flag') return part
    const value = valueIn(other)
    if (value === undefined) return part
    if (op === '==' || op === '!=') return paired.has(value) ? is(value, op) : part
    return typeof value === 'number' ? ordered(own, op, value, made, paired) : part
  }
  if (part.kind === 'order' && part.subject.kind === 'entry' && part.subject.id === old.id) {
    const next = paired.get(part.position)
    if (typeof next === 'number')
      return { kind: 'compare', op: part.name === 'atLeast' ? '>=' : '<', left: own, right: literal(next), ...NOWHERE }
    if (typeof next === 'boolean')
      return next
        ? part.name === 'atLeast'
          ? own
          : { kind: 'not', operand: own, ...NOWHERE }
        : literal(part.name === 'atLeast')
    return part
  }
  if (part.kind === 'in' && part.left.kind === 'entry' && part.left.id === old.id && made.kind !== 'flag') {
    return { ...part, items: part.items.map((item) => literal(paired.get(valueIn(item) ?? '') ?? valueIn(item) ?? '')) }
  }
  return part
}

function isTest(expr: Expr, id: string, value: Value | undefined): boolean {
  return (
    expr.kind === 'compare' &&
    expr.op === '==' &&
    expr.left.kind === 'entry' &&
    expr.left.id === id &&
    valueIn(expr.right) === value
  )
}

/** A comparison of a number by order, said of positions. */
function ordered(own: Expr, op: CompareOp, value: number, made: Entry, paired: ReadonlyMap<Value, Value>): Expr {
  const bound = op === '>' || op === '<=' ? value + 1 : value
  const isAtLeast = op === '>' || op === '>='
  const position = paired.get(bound)
  if (made.kind !== 'switch' || typeof position !== 'string')
    return { kind: 'compare', op, left: own, right: literal(value), ...NOWHERE }
  return { kind: 'order', name: isAtLeast ? 'atLeast' : 'before', subject: own, position, ...NOWHERE }
}

function withLiteral(effect: Effect, paired: ReadonlyMap<Value, Value>): Effect {
  const value = valueIn(effect.value)
  const next = value === undefined ? undefined : paired.get(value)
  return next === undefined ? effect : { ...effect, value: literal(next) }
}

function valueIn(expr: Expr): Value | undefined {
  if (expr.kind === 'bool' || expr.kind === 'int' || expr.kind === 'string') return expr.value
  return expr.kind === 'negate' && expr.operand.kind === 'int' ? -expr.operand.value : undefined
}

/** Gates, effects and texts that read otherwise in another version of the same beats. */
function rewrittenParts(before: Story, after: Story): KindChange['rewritten'] {
  return before.scenes.flatMap((scene, at) =>
    scene.beats.flatMap((beat, index) => {
      const other = after.scenes[at]!.beats[index]!
      if (other === beat) return []
      const now = partsOf(scene.id, other)
      return partsOf(scene.id, beat).flatMap(({ address, text }, number) =>
        now[number]!.text === text ? [] : [{ address, before: text, after: now[number]!.text }],
      )
    }),
  )
}

function partsOf(scene: string, beat: Beat): { readonly address: string; readonly text: string }[] {
  const texts = [
    ...linesOf(beat).map(({ text }) => text),
    ...(beat.choices ?? []).map(({ text }) => text),
    ...(beat.ask === undefined ? [] : [beat.ask.prompt]),
  ]
  return [
    ...ownersIn(scene, beat).flatMap(({ address, part }) =>
      [part.when ?? '', ...(part.do ?? [])].map((text) => ({ address, text })),
    ),
    ...texts.map((text) => ({ address: `${scene}.${beat.id}`, text })),
  ]
}
