import type { Expr } from '../../../expression/ast'
import type { LinkedStory } from '../../../story/linked'
import type { Search } from '../../explicit/search'
import type { Engine } from '../../interpreter/engine'
import { TO_PLACE, type ChoiceProgram } from '../../interpreter/programs'
import type { ConditionReader } from './condition-reader'
import type { Standing } from './standing'

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

/** What is left to be asked of a gate: nothing, since it is open or closed; a condition with a name of its own; undefined where that is not told. */
type Part = { readonly expr: Expr; readonly name: string } | boolean | undefined

/** The gate of a choice: whether it is known, and else what is left to be asked; undefined where that is not told. */
export interface Gate {
  readonly choice: ChoiceProgram
  readonly address: string
  readonly slots: readonly number[]
  readonly isKnown: boolean
  readonly left: Part
}

/** The gates of some choices where some slots were told, by their places: of which too little is told, which are settled, and by other slots which ask for it. */
export interface Gates {
  readonly all: Gate[]
  readonly untold: number[]
  readonly known: number[]
  readonly asking: ReadonlyMap<number, readonly number[]>
  /** By place: how a settled gate that nothing else was told of turned out, where that was asked. */
  readonly outcomes: (boolean | undefined)[]
  /** Whether one of them is open, by what is otherwise where something else was told. */
  readonly together: Map<string, Offered | false>
}

/** Gates where nothing was told. */
export interface BareGates extends Gates {
  /** Slots for which most of them ask. */
  readonly common: readonly number[]
  /** The same gates where some of those were told, by what they hold. */
  readonly told: Map<string, Gates>
  /** By slot: the parts of them that ask for it, where each asks for nothing else. */
  readonly asks: Map<number, readonly Expr[] | undefined>
}

/** What is known of slots where a gate is looked at. */
export interface Told {
  isTold(slot: number): boolean
  /** Whether it was set on the way. */
  isSet(slot: number): boolean
  valueOf(slot: number): number
}

/** Looks at the gates of choices, as far as what they ask for is told. */
export class GateReader {
  /** By choice and by what is known of its gate: what is left of that. */
  private readonly rests = new Map<string, Expr>()

  constructor(
    private readonly story: LinkedStory,
    private readonly search: Search,
    private readonly engine: Engine,
    private readonly read: ConditionReader,
  ) {}

  /** The gate of a choice of a beat, by its place. */
  gateOf(beat: number, at: number, { inputs }: Standing, told: Told): Gate {
    const { place } = this.search.slots
    const { when, address } = this.story.beats[beat]!.choices[at]!
    const choice = this.engine.programs.of(beat).choices[at]!
    const slots = when?.expr === undefined ? [] : this.read.slotsIn(when.expr)
    const isKnown = slots.every((slot) => told.isTold(slot))
    const isAtPlace = told.isTold(place) && told.valueOf(place) !== 0
    const leads = leadsSomewhere(choice, isAtPlace)
    const left = !leads ? undefined : isKnown ? true : this.leftOf(address, when!.expr!, inputs, told)
    return { choice, address, slots, isKnown, left }
  }

  /**
   * What is left of a condition on states where some of what it asks for was set meanwhile; undefined where a part asks for both, or for
   * what the game gives.
   */
  private leftOf(name: string, expr: Expr, inputs: ReadonlySet<number>, told: Told): Part {
    // which parts are known, and how they turn out
    let outcomes = ''
    const left = (part: Expr): Expr | boolean | undefined => {
      const slots = this.read.slotsIn(part).filter((slot) => slot !== -1)
      const isSet = slots.filter((slot) => told.isSet(slot)).length
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

  /** The parts of conditions that ask for a slot; undefined where one of them asks for others too. */
  askingAlone(slot: number, conditions: readonly Expr[]): readonly Expr[] | undefined {
    const found: Expr[] = []
    const waiting = [...conditions]
    for (let part = waiting.pop(); part !== undefined; part = waiting.pop()) {
      const slots = this.read.slotsIn(part)
      if (!slots.includes(slot)) continue
      if (slots.length === 1) found.push(part)
      else if (part.kind === 'not') waiting.push(part.operand)
      else if (part.kind === 'and' || part.kind === 'or') waiting.push(part.left, part.right)
      else return undefined
    }
    return found
  }
}

function notOf(part: Expr & { kind: 'not' }, operand: Expr): Expr {
  return operand === part.operand ? part : { ...part, operand }
}

/** What is left of a gate, by name. */
export function nameOf({ left }: Gate, isOpen: boolean): string {
  return typeof left === 'object' ? left.name : isOpen ? 'open' : 'closed'
}

export function gatesAmong(all: Gate[], asking: Gates['asking']): Gates {
  const untold: number[] = []
  const known: number[] = []
  for (const [at, { left }] of all.entries()) {
    if (left === undefined) untold.push(at)
    else if (typeof left !== 'object') known.push(at)
  }
  return { all, untold, known, asking, outcomes: [], together: new Map() }
}

/** Whether the gate of a choice is open by what is known of it. */
export function isOpen({ when }: ChoiceProgram): boolean {
  return when === undefined || when()
}

export function isBack({ to, rules }: ChoiceProgram): boolean {
  return to === TO_PLACE || rules?.some((rule) => rule.to === TO_PLACE) === true
}

/** Whether a slot is the same in all states of a standing. */
export function isFixed({ inputs, held }: Standing, slot: number): boolean {
  return slot === -1 || (!inputs.has(slot) && !held.has(slot))
}

/** Whether a choice leads somewhere wherever its gate is open: by its road, or by a rule that has no gate. */
export function leadsSomewhere({ rules, to }: ChoiceProgram, isAtPlace: boolean): boolean {
  const isSome = (one: number) => one >= 0 || (one === TO_PLACE && isAtPlace)
  return rules === undefined ? isSome(to) : rules.some((rule) => rule.when === undefined && isSome(rule.to))
}
