import type { LinkedTurns } from './linked'

/**
 * How groups in turn go on. A group's *phase* is all of how often it was come to that still makes a difference: which
 * turn comes next, or that none does.
 */
export function phasesOf({ order, turns }: LinkedTurns): number {
  return order === 'any' ? 1 : order === 'once' ? turns.length + 1 : turns.length
}

/** The phase after a group was come to so often. */
export function phaseAfter(group: LinkedTurns, times: number): number {
  const phases = phasesOf(group)
  return group.order === 'again' ? times % phases : Math.min(times, phases - 1)
}

/** The counts that make a difference for a group: exactly below `from`, from there on only over `over`. */
export function countOf({ order, turns }: LinkedTurns): { readonly from: number; readonly over: number } {
  switch (order) {
    case 'again':
      return { from: 0, over: turns.length }
    case 'last':
      return { from: turns.length - 1, over: 1 }
    case 'once':
      return { from: turns.length, over: 1 }
    case 'any':
      return { from: 0, over: 1 }
  }
}

/** The turn that is shown in a phase; -1 once all are used up. Of `any` the first stands for all. */
export function turnIn({ turns }: LinkedTurns, phase: number): number {
  return phase < turns.length ? phase : -1
}

/** Whether it makes no difference for the course of the story which turn is shown. */
export function isWithoutEffects({ turns }: LinkedTurns): boolean {
  return turns.every(({ lines }) => lines.every(({ effects }) => effects.length === 0))
}
