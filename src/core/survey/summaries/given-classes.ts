import { TYPE, type MessageFormatElement } from '@formatjs/icu-messageformat-parser'
import { walk, type CompareOp, type Expr } from '../../expression/ast'
import type { LinkedBeat, LinkedEffect, LinkedEntry, LinkedStory } from '../../story/linked'
import { eachOwner, eachText, promiseParts } from '../../story/linked-parts'
import { boundsOf } from './number-bounds'
import { showsWords } from './variables'

/**
 * Values of a number that the game gives, put together where nothing in the story can tell them apart: a level from 1
 * to 1,000,000 that is only compared with 5 has two classes. Each is told by one of its values, the initial one where
 * it can be; rising. Undefined where every value may be told from every other.
 */
export function givenClasses(
  story: LinkedStory,
  entry: LinkedEntry,
  also?: ReadonlyMap<number, readonly number[] | undefined>,
): readonly number[] | undefined {
  const starts = classStarts(story, entry, also?.get(entry.index))
  if (starts === undefined || (also?.has(entry.index) === true && also.get(entry.index) === undefined)) return undefined
  const { max, initial } = entry
  return starts.map((start, at) => {
    const end = starts[at + 1] ?? max + 1
    return Number(initial) >= start && Number(initial) < end ? Number(initial) : start
  })
}

/** Where classes of a number's values begin, `also` among them; undefined where each value may be told from every other. */
export function classStarts(
  story: LinkedStory,
  entry: LinkedEntry,
  also: readonly number[] = [],
): readonly number[] | undefined {
  const cuts = new Cuts(story, entry)
  for (const beat of story.inOrder) cuts.readBeat(beat)
  for (const promise of story.promises) for (const expr of promiseParts(promise)) cuts.readExpr(expr)
  return cuts.starts(also)
}

/** What a beat tells apart of the numbers that the game gives, to be compared. */
export function cutsOfBeat(story: LinkedStory, beat: LinkedBeat): string {
  const given = story.entries.filter(isGivenNumber)
  if (given.length === 0) return ''
  return given
    .map((entry) => {
      const cuts = new Cuts(story, entry)
      cuts.readBeat(beat)
      return cuts.name
    })
    .join(' ')
}

export function isGivenNumber({ given, kind }: LinkedEntry): boolean {
  return given !== undefined && (kind === 'counter' || kind === 'item')
}

const FLIPPED: Readonly<Record<CompareOp, CompareOp>> = {
  '==': '==',
  '!=': '!=',
  '<': '>',
  '<=': '>=',
  '>': '<',
  '>=': '<=',
}

/** An expression as the entry, its negative or none of it, and a rest that stays between two numbers. */
interface Linear {
  readonly sign: 1 | -1 | 0
  readonly low: number
  readonly high: number
}

class Cuts {
  /** Stretches in each of whose values a class begins. */
  private readonly stretches: (readonly [number, number])[] = []
  private all = false

  constructor(
    private readonly story: LinkedStory,
    private readonly entry: LinkedEntry,
  ) {}

  get name(): string {
    return `${this.entry.id}:${this.all ? 'all' : JSON.stringify(this.stretches)}`
  }

  readBeat(beat: LinkedBeat): void {
    eachOwner(beat, (_, when, effects) => {
      if (when?.expr !== undefined) this.readExpr(when.expr)
      for (const one of effects) this.readEffect(one)
    })
    eachText(beat, ({ isPlain, parsed }) => {
      if (!isPlain && parsed !== undefined) this.readForms(parsed)
    })
  }

  readExpr(expr: Expr): void {
    walk(expr, (part) => {
      if (part.kind === 'compare') this.compare(part.op, part.left, part.right)
      if (part.kind === 'in') for (const item of part.items) this.compare('==', part.left, item)
    })
  }

  /** Undefined where each value is a class. */
  starts(also: readonly number[]): readonly number[] | undefined {
    const { min, max } = this.entry
    if (this.all) return undefined
    const starts = new Set([min, ...also.filter((value) => value > min && value <= max)])
    for (const [low, high] of this.stretches)
      for (let value = Math.max(low, min); value <= Math.min(high, max); value += 1) starts.add(value)
    if (starts.size === max - min + 1) return undefined
    return [...starts].sort((a, b) => a - b)
  }

  private readEffect({ effect }: LinkedEffect): void {
    if (effect.kind === 'stage') return
    const target = this.story.entries[this.story.entryOf.get(effect.entry)!]!
    if (target.kind === 'flag') return this.readExpr(effect.value)
    if (target.kind !== 'counter' && target.kind !== 'item') return
    const value = this.linear(effect.value)
    if (value === undefined) return void (this.all = true)
    if (value.sign === 0) return
    // the value that is stored: below the range, each in it, above
    const added = effect.kind === 'add' ? value : effect.kind === 'subtract' ? negated(value) : value
    const [low, high] = effect.kind === 'set' ? [0, 0] : [target.min, target.max]
    this.cut('==', added.sign, target.min - 1 - high - added.high, target.max + 1 - low - added.low)
  }

  private compare(op: CompareOp, left: Expr, right: Expr): void {
    if (!this.names(left) && !this.names(right)) return
    const [a, b] = [this.linear(left), this.linear(right)]
    if (a === undefined || b === undefined || (a.sign !== 0 && b.sign !== 0)) {
      this.all = true
      return
    }
    if (a.sign !== 0) this.cut(op, a.sign, b.low - a.high, b.high - a.low)
    else if (b.sign !== 0) this.cut(FLIPPED[op], b.sign, a.low - b.high, a.high - b.low)
  }

  /** The entry, or its negative, is held against every number from `low` to `high`. */
  private cut(op: CompareOp, sign: Linear['sign'], low: number, high: number): void {
    if (sign === -1) return this.cut(FLIPPED[op], 1, -high, -low)
    if (!Number.isFinite(low) || !Number.isFinite(high)) {
      this.all = true
      return
    }
    const first = op === '<=' || op === '>' ? low + 1 : low
    const last = op === '<' || op === '>=' ? high : high + 1
    this.stretches.push([first, last])
  }

  private linear(expr: Expr): Linear | undefined {
    if (!this.names(expr)) {
      const [low, high] = boundsOf(this.story, expr, Number.MAX_SAFE_INTEGER)
      return { sign: 0, low, high }
    }
    if (expr.kind === 'entry') return { sign: 1, low: 0, high: 0 }
    if (expr.kind === 'negate') {
      const inner = this.linear(expr.operand)
      return inner && negated(inner)
    }
    if (expr.kind !== 'arithmetic' || expr.op === '*') return undefined
    const [a, right] = [this.linear(expr.left), this.linear(expr.right)]
    if (a === undefined || right === undefined || (a.sign !== 0 && right.sign !== 0)) return undefined
    const b = expr.op === '-' ? negated(right) : right
    return { sign: a.sign === 0 ? b.sign : a.sign, low: a.low + b.low, high: a.high + b.high }
  }

  private names(expr: Expr): boolean {
    let found = false
    walk(expr, (part) => {
      found ||= part.kind === 'entry' && part.id === this.entry.id
    })
    return found
  }

  /** Forms that are chosen by the number, where it matters which is shown. */
  private readForms(parts: readonly MessageFormatElement[]): void {
    for (const part of parts) {
      if (part.type !== TYPE.select && part.type !== TYPE.plural) continue
      if (part.value === this.entry.id && showsWords(this.story, [part])) this.all = true
      for (const option of Object.values(part.options)) this.readForms(option.value)
    }
  }
}

function negated({ sign, low, high }: Linear): Linear {
  return { sign: sign === 0 ? 0 : sign === 1 ? -1 : 1, low: -high, high: -low }
}
