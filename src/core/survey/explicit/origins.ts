import { NumberList } from '../states/lists'
import type { QuestHorizon } from '../analysis/quest-horizon'

/** It was no state before the edit. */
export const NEW = 0x7fffffff
/** Whether it was one was not looked at. */
export const UNKNOWN = 0x7ffffffe
const TAKEN = 0x80000000

/** What the states of a search were in the one before an edit, as it was looked at one state after another. */
export class Origins {
  private readonly numbers = new NumberList()

  constructor(
    /** What was found out of the states and transitions there is known by this. */
    readonly graph: object,
    readonly horizon: QuestHorizon,
  ) {}

  /** Of the next state: its number before the edit, NEW or UNKNOWN, and whether its transitions are those that it had. */
  push(number: number, isTaken: boolean): void {
    this.numbers.push(isTaken ? number | TAKEN : number)
  }

  of(state: number): number {
    return this.numbers.items[state]! & ~TAKEN
  }

  isTaken(state: number): boolean {
    return this.numbers.items[state]! >= TAKEN
  }
}
