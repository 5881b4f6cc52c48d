import { never } from '../../base/assert'
import { walk, type CompareOp, type Expr } from '../../expression/ast'
import { add, multiply, negate, subtract, type Int } from '../../expression/integers'
import type { LinkedStory } from '../../story/linked'
import type { Slot, Slots } from '../analysis/slots'
import { isExact, typeOf } from '../summaries/number-bounds'
import type { FollowedTurns } from '../summaries/turn-plan'
import type { EventLog } from './events'
import type { Givens } from './givens'

/** What a search follows besides what the course of the story depends on. */
export interface Followed {
  /** Entries whose values are followed well enough to tell when an effect leaves their range. */
  readonly overruns: ReadonlySet<number>
  readonly turns: FollowedTurns
}

export type Test = () => boolean
type Count = () => Int

/**
 * Turns conditions into closures over the working vector, each specialised to the slots it touches, so that following a
 * road neither allocates nor looks anything up by name.
 */
export class ConditionCompiler {
  private readonly strings = new Map<string, number>()

  constructor(
    public story: LinkedStory,
    readonly slots: Slots,
    /** The working vector: one value a slot. */
    readonly values: Int32Array,
    readonly events: EventLog,
    /** Where `at` and `ended` look: the resting beat, and the ending there or -1. */
    readonly resting: { beat: number; ending: number },
    protected readonly followed: Followed,
    readonly givens: Givens,
  ) {}

  test(expr: Expr): Test {
    return this.touching(expr, this.plainTest(expr))
  }

  /** What the game gives is chosen where a part of a condition reads it, and not before. */
  private touching(expr: Expr, test: Test): Test {
    const { kind } = expr
    if (kind !== 'entry' && kind !== 'order' && kind !== 'compare' && kind !== 'in') return test
    // parts that are conditions choose for themselves
    if (kind === 'compare' && typeOf(this.story, expr.left) === 'bool') return test
    const touched = this.givenIn(expr)
    if (touched.length === 0) return test
    const { givens } = this
    return () => {
      for (let at = 0; at < touched.length; at += 1) givens.touch(touched[at]!)
      return test()
    }
  }

  /** Slots in an expression that the game sets. */
  givenIn(expr: Expr): readonly number[] {
    const slots = new Set<number>()
    walk(expr, (part) => {
      const slot = part.kind === 'entry' ? this.slotOf(part)!.index : -1
      if (slot !== -1 && this.givens.sets(slot)) slots.add(slot)
    })
    return [...slots]
  }

  private plainTest(expr: Expr): Test {
    const { values } = this
    switch (expr.kind) {
      case 'bool': {
        const { value } = expr
        return () => value
      }
      case 'entry': {
        const at = this.slots.ofEntry[this.story.entryOf.get(expr.id)!]!
        return () => values[at] === 1
      }
      case 'taken': {
        const at = this.slots.ofTaken[this.story.choiceOf.get(expr.choice)!]!
        return () => values[at] === 1
      }
      case 'at': {
        const { resting } = this
        const beat = this.story.beatOf.get(expr.beat)!
        return () => resting.beat === beat
      }
      case 'ended': {
        const { resting } = this
        const ending = this.story.endingOf.get(expr.ending)!
        return () => resting.ending === ending
      }
      case 'order': {
        const slot = this.slotOf(expr.subject)!
        const at = slot.index
        const rank = this.literalIn(slot, expr.position)
        return expr.name === 'atLeast' ? () => values[at]! >= rank : () => values[at]! < rank
      }
      case 'not': {
        const operand = this.test(expr.operand)
        return () => !operand()
      }
      case 'and': {
        const left = this.test(expr.left)
        const right = this.test(expr.right)
        return () => left() && right()
      }
      case 'or': {
        const left = this.test(expr.left)
        const right = this.test(expr.right)
        return () => left() || right()
      }
      case 'compare':
        return this.comparison(expr.op, expr.left, expr.right)
      case 'in': {
        const tests = expr.items.map((item) => this.comparison('==', expr.left, item))
        return () => {
          for (let at = 0; at < tests.length; at += 1) if (tests[at]!()) return true
          return false
        }
      }
      case 'int':
      case 'string':
      case 'quest':
      case 'visits':
      case 'negate':
      case 'arithmetic':
        throw new Error('internal: an unchecked condition was compiled')
      default:
        return never(expr)
    }
  }

  /** The slot that an entry, quest, count or taken choice is held in. */
  slotOf(expr: Expr): Slot | undefined {
    const { all, ofEntry, ofQuest, ofVisits, ofTaken } = this.slots
    switch (expr.kind) {
      case 'entry':
        return all[ofEntry[this.story.entryOf.get(expr.id)!]!]
      case 'quest':
        return all[ofQuest[this.story.questOf.get(expr.id)!]!]
      case 'visits':
        return all[ofVisits[this.story.beatOf.get(expr.beat)!]!]
      case 'taken':
        return all[ofTaken[this.story.choiceOf.get(expr.choice)!]!]
      case 'and':
      case 'arithmetic':
      case 'at':
      case 'bool':
      case 'compare':
      case 'ended':
      case 'in':
      case 'int':
      case 'negate':
      case 'not':
      case 'or':
      case 'order':
      case 'string':
        return undefined
    }
  }

  private comparison(op: CompareOp, left: Expr, right: Expr): Test {
    const type = typeOf(this.story, left)
    if (type === 'bool') {
      const first = this.test(left)
      const second = this.test(right)
      return op === '==' ? () => first() === second() : () => first() !== second()
    }
    if (type === 'string') return this.stringComparison(op === '==', left, right)
    return this.countComparison(op, left, right)
  }

  private stringComparison(equal: boolean, left: Expr, right: Expr): Test {
    const { values } = this
    if (left.kind === 'string' && right.kind === 'string') {
      const result = (left.value === right.value) === equal
      return () => result
    }
    const [subject, literal] = left.kind === 'string' ? [right, left] : [left, right]
    if (literal.kind === 'string') {
      const slot = this.slotOf(subject)!
      const at = slot.index
      const value = this.literalIn(slot, literal.value)
      return equal ? () => values[at] === value : () => values[at] !== value
    }
    // Two slots of different kinds number their strings differently: compare through one numbering.
    const [first, second] = [this.slotOf(left)!, this.slotOf(right)!]
    const [a, b] = [first.index, second.index]
    const [namesA, namesB] = [this.numbersOf(first), this.numbersOf(second)]
    return equal ? () => namesA[values[a]!] === namesB[values[b]!] : () => namesA[values[a]!] !== namesB[values[b]!]
  }

  /** Compares what a slot holds with a number. */
  protected comparing(op: CompareOp, at: number, value: number): Test {
    const { values } = this
    switch (op) {
      case '==':
        return () => values[at] === value
      case '!=':
        return () => values[at] !== value
      case '<':
        return () => values[at]! < value
      case '<=':
        return () => values[at]! <= value
      case '>':
        return () => values[at]! > value
      case '>=':
        return () => values[at]! >= value
    }
  }

  private countComparison(op: CompareOp, left: Expr, right: Expr): Test {
    const slot = this.slotOf(left)
    if (slot !== undefined && right.kind === 'int' && !(slot.kind === 'entry' && slot.wide !== undefined)) {
      return this.comparing(op, slot.index, right.value)
    }
    const first = this.count(left)
    const second = this.count(right)
    switch (op) {
      case '==':
        return () => first() === second()
      case '!=':
        return () => first() !== second()
      case '<':
        return () => first() < second()
      case '<=':
        return () => first() <= second()
      case '>':
        return () => first() > second()
      case '>=':
        return () => first() >= second()
    }
  }

  /** A number; plain arithmetic where no part of it can leave the exact range, BigInt-backed elsewhere. */
  protected count(expr: Expr): Count {
    const { values } = this
    switch (expr.kind) {
      case 'int': {
        const { value } = expr
        return () => value
      }
      case 'entry':
      case 'visits': {
        const slot = this.slotOf(expr)!
        const at = slot.index
        const wide = slot.kind === 'entry' ? slot.wide : undefined
        return wide === undefined ? () => values[at]! : () => wide.values[values[at]!]!
      }
      case 'negate': {
        const operand = this.count(expr.operand)
        return () => negate(operand())
      }
      case 'arithmetic': {
        const left = this.count(expr.left)
        const right = this.count(expr.right)
        if (isExact(this.story, expr)) {
          const [first, second] = [left as () => number, right as () => number]
          switch (expr.op) {
            case '+':
              return () => first() + second()
            case '-':
              return () => first() - second()
            case '*':
              // + 0 turns −0 into 0
              return () => first() * second() + 0
          }
        }
        switch (expr.op) {
          case '+':
            return () => add(left(), right())
          case '-':
            return () => subtract(left(), right())
          case '*':
            return () => multiply(left(), right())
        }
      }
      // falls through: anything else is no number
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
        throw new Error('internal: an unchecked number was compiled')
    }
  }

  literalIn(slot: Slot, literal: string): number {
    return this.stringsOf(slot).indexOf(literal)
  }

  private stringsOf(slot: Slot): readonly string[] {
    if (slot.kind === 'quest') return this.story.quests[slot.quest]!.stages
    if (slot.kind === 'entry') return slot.words?.values ?? this.story.entries[slot.entry]!.positions
    return []
  }

  numbersOf(slot: Slot): Int32Array {
    const strings = this.stringsOf(slot)
    return Int32Array.from(strings.length === 0 ? [''] : strings, (text) => {
      const known = this.strings.get(text) ?? this.strings.size
      this.strings.set(text, known)
      return known
    })
  }
}
