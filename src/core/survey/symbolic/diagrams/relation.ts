import type { Slices } from '../../../base/slices'

/** A variable on the way from sets over some variables to sets over others; variables come in one order. */
export interface Variable {
  /** How many values it has. */
  readonly size: number
  /** Whether sets at the source, and at the target, tell it. */
  readonly from: boolean
  readonly to: boolean
}

/** What a command does to one variable. */
export interface Step {
  /** The least and the largest value that it may have at the source; both 0 where that does not tell it. */
  readonly first: number
  readonly last: number
  /** The value that it has at the target, or -1 where that is told by what it had; always told where only the target has it. */
  readonly write: number
  /** What is added to what it had; 0 where it is set, or stays. */
  readonly by: number
}

/** A step that does something, and what the commands that begin with it do after it. */
export interface Edge extends Step {
  readonly then: Relation
}

/**
 * What some commands between the same places do to a set, all at once: a command is found at the first variable that it
 * asks for or sets, those that begin alike together (after Ciardo, Marmorstein, Siminiceanu: The saturation algorithm for
 * symbolic state-space exploration, 2006, in which a command is applied at its topmost variable).
 */
export interface Relation {
  readonly number: number
  readonly variables: readonly Variable[]
  /** Whether some command does nothing more. */
  readonly isDone: boolean
  /** By variable: what commands do first. */
  readonly edges: readonly (readonly Edge[] | undefined)[]
  /** From this variable on no command does anything first. */
  readonly end: number
}

/** What a command does to the variable at a place among all. */
export interface PlacedStep extends Step {
  readonly at: number
}

/** A command from one of its steps on. */
interface Rest {
  readonly steps: readonly PlacedStep[]
  readonly next: number
}

/** Commands that are put together before others get their turn. */
const COMMANDS_A_TURN = 256

/** More than any variable has values. */
const VALUES = 2 ** 11

/** Makes relations, each with a number of its own. */
export class RelationMaker {
  private count = 0
  /** By what they do, so that those that do the same are one. */
  private readonly known = new Map<readonly Variable[], Map<string, Relation>>()

  /** The relation of some commands, each told by the steps that do something, in the order of variables. */
  of(variables: readonly Variable[], commands: readonly (readonly PlacedStep[])[]): Relation {
    return this.from(variables, beginning(commands))
  }

  /** The same; others get their turn where there are many. */
  inTurns(variables: readonly Variable[], commands: readonly (readonly PlacedStep[])[]): Slices<Relation> {
    return this.fromInTurns(variables, beginning(commands))
  }

  private *fromInTurns(variables: readonly Variable[], commands: readonly Rest[]): Slices<Relation> {
    if (commands.length < COMMANDS_A_TURN) return this.from(variables, commands)
    const { isDone, groups } = grouped(commands)
    yield
    const made: Edge[][] = []
    for (const { step, rests } of groups) addEdge(made, step, yield* this.fromInTurns(variables, rests))
    return this.made(variables, isDone, made)
  }

  private from(variables: readonly Variable[], commands: readonly Rest[]): Relation {
    const { isDone, groups } = grouped(commands)
    const made: Edge[][] = []
    for (const { step, rests } of groups) addEdge(made, step, this.from(variables, rests))
    return this.made(variables, isDone, made)
  }

  private made(variables: readonly Variable[], isDone: boolean, edges: Edge[][]): Relation {
    let known = this.known.get(variables)
    if (known === undefined) this.known.set(variables, (known = new Map<string, Relation>()))
    const key = keyOf(isDone, edges)
    const same = known.get(key)
    if (same !== undefined) return same
    this.count += 1
    const relation = { number: this.count, variables, isDone, edges, end: edges.length }
    known.set(key, relation)
    return relation
  }
}

function beginning(commands: readonly (readonly PlacedStep[])[]): Rest[] {
  return commands.map((steps) => ({ steps, next: 0 }))
}

/** What a relation does. */
function keyOf(isDone: boolean, edges: readonly (readonly Edge[] | undefined)[]): string {
  let key = isDone ? '1' : '0'
  edges.forEach((own, at) => {
    for (const { first, last, write, by, then } of own ?? [])
      key += ` ${at} ${first} ${last} ${write} ${by} ${then.number}`
  })
  return key
}

function addEdge(edges: Edge[][], { at, first, last, write, by }: PlacedStep, then: Relation): void {
  ;(edges[at] ??= []).push({ first, last, write, by, then })
}

/** Commands that begin with the same step together; `isDone`: some do nothing more. */
function grouped(commands: readonly Rest[]): {
  readonly isDone: boolean
  readonly groups: Iterable<{ readonly step: PlacedStep; readonly rests: readonly Rest[] }>
} {
  const groups = new Map<number, { readonly step: PlacedStep; readonly rests: Rest[] }>()
  let isDone = false
  for (const { steps, next } of commands) {
    const step = steps[next]
    if (step === undefined) {
      isDone = true
      continue
    }
    const { at, first, last, write, by } = step
    const becomes = write === -1 ? VALUES + by : 2 * VALUES + write
    const key = ((at * VALUES + first) * VALUES + last) * 4 * VALUES + becomes
    const group = groups.get(key) ?? { step, rests: [] }
    groups.set(key, group)
    group.rests.push({ steps, next: next + 1 })
  }
  return { isDone, groups: groups.values() }
}

/** Whether a step does nothing to a variable. */
export function isIdle({ from, to, size }: Variable, { first, last, write, by }: Step): boolean {
  return from && to && first === 0 && last === size - 1 && write === -1 && by === 0
}

/** What a step makes of a value that it may have. */
export function becomes({ write, by }: Step, value: number): number {
  return write === -1 ? value + by : write
}
