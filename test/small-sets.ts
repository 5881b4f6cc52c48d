import type { Random } from '../src/core/base/random'
import type { Diagrams } from '../src/core/survey/symbolic/diagrams'
import { EMPTY, UNIT } from '../src/core/survey/symbolic/node-table'
import { isIdle, type PlacedStep, type Step, type Variable } from '../src/core/survey/symbolic/relation'

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

/** Made-up commands, each with a step for each variable. */
export function commandsAmong(random: Random, variables: readonly Variable[], count: number): Step[][] {
  return Array.from({ length: count }, () =>
    variables.map(({ size, from, to }): Step => {
      const guard = from && random.chance(0.35) ? random.below(size) : -1
      return { guard, write: to && (!from || random.chance(0.3)) ? random.below(size) : -1 }
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
    for (const [index, { guard, write }] of steps.entries()) {
      const value = variables[index]!.from ? member[at++]! : -1
      if (guard !== -1 && value !== guard) return []
      if (variables[index]!.to) target.push(write === -1 ? value : write)
    }
    return [target.join()]
  })
}
