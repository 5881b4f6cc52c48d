import { REACHABLE, type Reachable, type SurveyResult } from '../result'
import { nameOfFinding, type Finding } from '../findings/finding'
import type { PromiseVerdict } from '../findings/exploration'

/** What one survey says that another does not. */
export interface SurveyDifference {
  /** Reached before and on no route after. */
  readonly lost: Readonly<Record<Reachable, readonly string[]>>
  /** Reached after and on no route before. */
  readonly won: Readonly<Record<Reachable, readonly string[]>>
  /** Findings that are there only after, and only before. */
  readonly appeared: readonly Finding[]
  readonly settled: readonly Finding[]
  readonly promises: readonly {
    readonly id: string
    readonly before: PromiseVerdict['verdict'] | undefined
    readonly after: PromiseVerdict['verdict'] | undefined
  }[]
}

export function surveyDifference(before: SurveyResult, after: SurveyResult): SurveyDifference {
  const only = (one: SurveyResult, other: SurveyResult) =>
    Object.fromEntries(
      // what is not there at all is no more reached than what is on no route
      REACHABLE.map((what) => [
        what,
        Object.keys(one.reached[what]).filter(
          (id) => other.reached[what][id] === undefined && !other.undecided[what].includes(id),
        ),
      ]),
    ) as Record<Reachable, string[]>
  const without = (findings: readonly Finding[], others: readonly Finding[]) => {
    const known = new Set(others.map(nameOfFinding))
    return findings.filter((finding) => !known.has(nameOfFinding(finding)))
  }
  const ids = [...new Set([...Object.keys(before.promises), ...Object.keys(after.promises)])]
  return {
    lost: only(before, after),
    won: only(after, before),
    appeared: without(after.findings, before.findings),
    settled: without(before.findings, after.findings),
    promises: ids
      .map((id) => ({ id, before: before.promises[id]?.verdict, after: after.promises[id]?.verdict }))
      .filter((promise) => promise.before !== promise.after),
  }
}

/** Whether the two surveys say the same. */
export function isSame(difference: SurveyDifference): boolean {
  const { lost, won, appeared, settled, promises } = difference
  return (
    REACHABLE.every((what) => lost[what].length === 0 && won[what].length === 0) &&
    appeared.length + settled.length + promises.length === 0
  )
}
