import type { Random } from '../src/core/base/random'
import type { Diagrams } from '../src/core/survey/symbolic/diagrams/diagrams'
import { EMPTY, UNIT } from '../src/core/survey/symbolic/diagrams/node-table'
import { isIdle, type PlacedStep, type Step, type Variable } from '../src/core/survey/symbolic/diagrams/relation'

/** A set written out: its members as texts. */
export type Plain = Set<string>

export const SIZES = [2, 3, 1, 4, 2]

export function someMembers(random: Random, sizes: readonly number[]): number[][] {
  return Array.from({ length: random.below(30) }, () => sizes.map((size) => random.below(size)))
}

export function built(diagrams: Diagrams, members: readonly number[][], sizes: readonly number[]): number {
  return members.reduce((set, values) => diagrams.union(set, diagrams.single(values, sizes)), EMPTY)
}

export const plain = (members: readonly number[][]): Plain => new Set(members.map((values) => values.join()))

export function listed(diagrams: Diagrams, set: number): string[] {
  if (set === EMPTY) return []
  if (set === UNIT) return ['']
  return Array.from({ length: diagrams.sizeOf(set) }, (_, value) =>
    listed(diagrams, diagrams.part(set, value)).map((rest) => (rest === '' ? String(value) : `${value},${rest}`)),
  ).flat()
}

/** All assignments to variables of some sizes. */
export function everyMember(sizes: readonly number[]): number[][] {
  return sizes.reduce<number[][]>(
    (members, size) => members.flatMap((member) => Array.from({ length: size }, (_, value) => [...member, value])),
    [[]],
  )
}

/** What does nothing to a variable. */
export function anyValue({ size, from }: Variable): Step {
  return { first: 0, last: from ? size - 1 : 0, write: -1, by: 0 }
}

/** Made-up commands, each with a step for each variable. */
export function commandsAmong(random: Random, variables: readonly Variable[], count: number): Step[][] {
  const valuesOf = (one: Variable): Step => {
    const any = anyValue(one)
    if (!one.from || random.chance(0.5)) return any
    const [first, other] = [random.below(one.size), random.below(one.size)]
    return random.chance(0.7)
      ? { ...any, first, last: first }
      : { ...any, first: Math.min(first, other), last: Math.max(first, other) }
  }
  return Array.from({ length: count }, () =>
    variables.map((one): Step => {
      const { from, to, size } = one
      const step = valuesOf(one)
      if (to && (!from || random.chance(0.3))) return { ...step, write: random.below(size) }
      if (!to || random.chance(0.7)) return step
      return { ...step, by: random.below(size - step.last + step.first) - step.first }
    }),
  )
}

/** The steps of commands that do something. */
export function stepsOf(variables: readonly Variable[], commands: readonly (readonly Step[])[]): PlacedStep[][] {
  return commands.map((steps) =>
    steps.map((step, at) => ({ at, ...step })).filter((step) => !isIdle(variables[step.at]!, step)),
  )
}

/** Where commands lead from a member, by their definition. */
export function targetsOf(
  member: readonly number[],
  variables: readonly Variable[],
  commands: readonly (readonly Step[])[],
): string[] {
  return commands.flatMap((steps) => {
    const target: number[] = []
    let at = 0
    for (const [index, { first, last, write, by }] of steps.entries()) {
      const value = variables[index]!.from ? member[at++]! : 0
      if (value < first || value > last) return []
      if (variables[index]!.to) target.push(write === -1 ? value + by : write)
    }
    return [target.join()]
  })
}
