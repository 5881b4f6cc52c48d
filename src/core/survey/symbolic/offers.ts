import type { Expr } from '../../expression/ast'
import type { LinkedStory } from '../../story/linked'
import type { Search } from '../explicit/search'
import type { Engine } from '../interpreter/engine'
import { TO_PLACE, type ChoiceProgram } from '../interpreter/programs'
import type { ConditionReader } from './condition-reader'
import type { WatchedValues } from './watched-values'

/** Choices of a beat that are asked about together, at least. */
const CHOICES_TOGETHER = 2

/** Whether some choice of a beat is open, as far as that is not known. */
export interface Offered {
  /** The condition that tells it; undefined where none is. */
  readonly some: Expr | undefined
  /** Gates of choices, by their events, that are asked and false if none is open. */
  readonly gates: readonly number[]
  /**
   * Gates that are asked then and may still be true, as their choices may have been taken before; that they have been true is known of
   * that. With what each of them asks for.
   */
  readonly unsure: readonly (readonly [event: number, gate: Expr])[]
}

/** Tells as one condition whether some choice of a beat is open, so that not every choice parts the ways. */
export class Offers {
  /** By choice and by what is known of its gate: what is left of that. */
  private readonly rests = new Map<string, Expr>()
  /** By choice: that it was not taken yet. */
  private readonly untaken = new Map<string, Expr>()
  /** By the choices that it asks about: whether one of them is open. */
  private readonly known = new Map<string, Expr>()

  constructor(
    private readonly story: LinkedStory,
    private readonly search: Search,
    private readonly engine: Engine,
    private readonly values: WatchedValues,
    private readonly read: ConditionReader,
  ) {}

  /**
   * Whether some choice of a beat, of those from one place to before another, is open: as far as it is known, or as one condition on
   * what is not, so that not every choice parts the way. Undefined where it takes more than that, or asks for what the game gives
   * (`inputs`), which no state holds.
   */
  now(
    beat: number,
    knows: (slot: number) => boolean,
    inputs: ReadonlySet<number>,
    from: number,
    end: number,
  ): Offered | boolean | undefined {
    if (end - from < CHOICES_TOGETHER) return undefined
    const { choices } = this.engine.programs.of(beat)
    const { bare, watched } = this.values
    const place = this.search.slots.place
    const isBack = ({ to, rules }: ChoiceProgram) => to === TO_PLACE || rules?.some((rule) => rule.to === TO_PLACE)
    if (!knows(place) && choices.slice(from, end).some(isBack)) void watched[place]
    const isAtPlace = knows(place) && bare[place] !== 0
    // looked at first, as asking a condition that is known is noted
    const open: { choice: ChoiceProgram; address: string; isKnown: boolean; gate: Part }[] = []
    for (let at = from; at < end; at += 1) {
      const { when, address } = this.story.beats[beat]!.choices[at]!
      const choice = choices[at]!
      const slots = when?.expr === undefined ? [] : this.read.slotsIn(when.expr)
      const isKnown = slots.every(knows)
      const gate = isKnown ? true : this.leftOf(address, when!.expr!, inputs)
      if (!leadsSomewhere(choice, isAtPlace) || gate === undefined) return undefined
      open.push({ choice, address, isKnown, gate })
    }
    const parts: Expr[] = []
    const gates: number[] = []
    const unsure: [event: number, gate: Expr][] = []
    const names: string[] = []
    const { asked } = this.engine.events
    const isTaken = ({ once, taken }: ChoiceProgram) => (!once ? false : knows(taken) ? bare[taken] !== 0 : undefined)
    for (const { choice, address, isKnown, gate } of open) {
      const isOver = isTaken(choice)
      if (!isKnown && typeof gate === 'object') {
        if (isOver === false) gates.push(choice.event)
        else unsure.push([choice.event, gate.expr])
        if (isOver === true) continue
        parts.push(isOver === false ? gate.expr : this.untakenWith(gate.name, gate.expr, address))
        names.push(isOver === false ? gate.name : `${gate.name}!`)
        continue
      }
      if (!isKnown) asked[choice.event]! |= gate === true ? 2 : 1
      if (isKnown ? choice.when !== undefined && !choice.when() : gate !== true) continue
      if (isOver === false) return true
      if (isOver === true) continue
      parts.push(this.untakenOf(address))
      names.push(`!${address}`)
    }
    if (parts.length === 0) return unsure.length === 0 ? false : { some: undefined, gates, unsure }
    const key = names.join(' ')
    const some = this.known.get(key) ?? parts.reduce((left, right) => either(left, right))
    this.known.set(key, some)
    return { some, gates, unsure }
  }

  /**
   * What is left of a condition on states where some of what it asks for was set meanwhile; undefined where a part asks for both, or for
   * what the game gives.
   */
  private leftOf(name: string, expr: Expr, inputs: ReadonlySet<number>): Part {
    // which parts are known, and how they turn out
    let outcomes = ''
    const left = (part: Expr): Expr | boolean | undefined => {
      const slots = this.read.slotsIn(part).filter((slot) => slot !== -1)
      const isSet = slots.filter((slot) => this.values.isWritten(slot)).length
      if (isSet === slots.length) {
        const outcome = this.read.testOf(part)()
        outcomes += outcome ? '1' : '0'
        return outcome
      }
      if (part.kind === 'not') {
        const operand = left(part.operand)
        if (operand === undefined) return undefined
        return typeof operand === 'boolean' ? !operand : notOf(part, operand)
      }
      if (part.kind === 'and' || part.kind === 'or') {
        outcomes += '('
        const sides = [left(part.left), left(part.right)] as const
        outcomes += ')'
        const settles = part.kind === 'or'
        if (sides.includes(settles)) return settles
        if (sides.includes(undefined)) return undefined
        const [one, other] = sides
        if (typeof one === 'boolean') return other
        if (typeof other === 'boolean') return one
        return one === part.left && other === part.right ? part : { ...part, left: one!, right: other! }
      }
      outcomes += '?'
      return isSet > 0 || slots.some((slot) => inputs.has(slot)) ? undefined : part
    }
    const found = left(expr)
    if (found === undefined || typeof found === 'boolean') return found
    const own = found === expr ? name : `${name}:${outcomes}`
    const known = this.rests.get(own) ?? found
    this.rests.set(own, known)
    return { expr: known, name: own }
  }

  /**
   * When some choice of a location is open, as one condition on states that rest there; undefined where it takes more than
   * that, or asks for what states there do not tell.
   */
  at(location: number): Expr | undefined {
    const { beats } = this.story
    if (location >= beats.length || this.engine.programs.of(location).asks) return undefined
    const { choices } = this.engine.programs.of(location)
    const inputs = new Set(this.search.givens.plan.free)
    let some: Expr | undefined
    for (const [at, { when, address }] of beats[location]!.choices.entries()) {
      const choice = choices[at]!
      if (!leadsSomewhere(choice, beats[location]!.place) || (when !== undefined && when.expr === undefined))
        return undefined
      const gate = when?.expr
      if (gate !== undefined && this.read.slotsIn(gate).some((slot) => slot !== -1 && inputs.has(slot)))
        return undefined
      if (gate === undefined && !choice.once) return undefined
      const parts = [...(gate === undefined ? [] : [gate]), ...(choice.once ? [this.untakenOf(address)] : [])]
      const open = parts.reduce(both)
      some = some === undefined ? open : either(some, open)
    }
    return some
  }

  /** That a gate is open whose choice was not taken yet. */
  private untakenWith(name: string, gate: Expr, choice: string): Expr {
    const own = `${name}!`
    const known = this.rests.get(own) ?? both(gate, this.untakenOf(choice))
    this.rests.set(own, known)
    return known
  }

  private untakenOf(choice: string): Expr {
    const known = this.untaken.get(choice) ?? {
      ...NOWHERE,
      kind: 'not' as const,
      operand: { ...NOWHERE, kind: 'taken' as const, choice },
    }
    this.untaken.set(choice, known)
    return known
  }
}

/** What is left to be asked of a gate: nothing, since it is open or closed; a condition with a name of its own; undefined where that is not told. */
type Part = { readonly expr: Expr; readonly name: string } | boolean | undefined

function notOf(part: Expr & { kind: 'not' }, operand: Expr): Expr {
  return operand === part.operand ? part : { ...part, operand }
}

/** Whether a choice leads somewhere wherever its gate is open: by its road, or by a rule that has no gate. */
function leadsSomewhere({ rules, to }: ChoiceProgram, isAtPlace: boolean): boolean {
  const isSome = (one: number) => one >= 0 || (one === TO_PLACE && isAtPlace)
  return rules === undefined ? isSome(to) : rules.some((rule) => rule.when === undefined && isSome(rule.to))
}

/** Where what nobody wrote stands. */
const NOWHERE = { start: 0, end: 0 }

function both(left: Expr, right: Expr): Expr {
  return { ...NOWHERE, kind: 'and', left, right }
}

function either(left: Expr, right: Expr): Expr {
  return { ...NOWHERE, kind: 'or', left, right }
}
