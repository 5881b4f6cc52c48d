import type { Followed } from '../interpreter/condition-compiler'
import type { Search } from '../explicit/search'
import type { Exploration } from '../findings/exploration'
import { answers, type Answers } from './answers'
import { ifNotTooMuch, TooMuch, type DiagramLimits } from './diagrams/node-table'
import { SetBearings, type Passed } from './set-bearings'
import { SymbolicSearch } from './symbolic-search'

/** The search over sets of states with all that is answered from it, a bit at a time. */
export class SymbolicSurvey {
  readonly search: SymbolicSearch
  private answers: Answers | undefined
  /** It can't be done, or would take too much. */
  failed = false
  private readonly bearings: SetBearings
  private readonly steps: Generator<void, Answers | undefined>

  constructor(search: Search, followed: Followed, limits?: DiagramLimits) {
    this.search = new SymbolicSearch(search, followed, limits)
    this.steps = steps(this.search)
    this.bearings = new SetBearings(this.search)
  }

  /** How much has been done, in sets that were put together. */
  get work(): number {
    return this.search.work
  }

  /** What can be true at a beat; undefined where that would take too much. */
  passed(beat: number, slots: readonly number[]): Passed | undefined {
    return ifNotTooMuch(() => this.bearings.at(beat, slots))
  }

  get isDecided(): boolean {
    return this.answers !== undefined
  }

  /** Once all is decided. */
  get exploration(): Exploration | undefined {
    const { answers: known } = this
    if (known === undefined) return undefined
    return {
      evidence: this.search,
      promises: () => known.promises,
      lostEndings: () => known.lostEndings,
      questEnds: () => known.questEnds,
    }
  }

  advance(): void {
    try {
      const step = this.steps.next()
      if (step.done !== true) return
      this.answers = step.value
      this.failed = step.value === undefined
    } catch (error) {
      if (!(error instanceof TooMuch)) throw error
      this.failed = true
    }
  }
}

function* steps(search: SymbolicSearch): Generator<void, Answers | undefined> {
  return (yield* search.run()) ? yield* answers(search) : undefined
}
