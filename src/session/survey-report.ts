import { beatOf, ownerOf } from '../core/base/address'
import { splice } from '../core/base/spliced'
import { isSame } from '../core/base/same'
import { farBrief } from '../core/survey/far-survey'
import { VERDICT, type Figures, type Reachable, type Reached, type SurveyBrief } from '../core/survey/result'
import { columnOf, type Finding } from '../core/survey/findings/finding'
import type { PromiseVerdict } from '../core/survey/findings/exploration'
import type { Report } from '../workers/protocol'
import { findingsOfBeat } from './findings-of-beat'
import { PlacedNames } from './placed-names'

/** `waiting`: the survey has not seen it yet. */
export type Said = 'reached' | 'unreached' | 'undecided' | 'waiting'

const NOTHING: readonly Finding[] = []

type Ends = 'endings' | 'stages'
type Many = 'beats' | 'choices'

/** All that the page knows of a survey; what a report did not tell anew is what the one before it told. */
export class SurveyReport {
  readonly complete: boolean
  readonly reached: Readonly<Record<Ends, Readonly<Record<string, Reached>>>>
  readonly unreached: Readonly<Record<Reachable, readonly string[]>>
  readonly undecided: Readonly<Record<Reachable | 'promises', readonly string[]>>
  readonly promises: Readonly<Record<string, PromiseVerdict>>
  readonly findings: readonly Finding[]
  readonly figures: Figures
  /** From the edit to the answer, in milliseconds. */
  readonly took: number
  private named: ReadonlySet<string> | undefined
  private readonly rows = new Map<string, readonly Finding[]>()
  private readonly addresses: Readonly<Record<Many, PlacedNames>>
  private readonly verdicts: Readonly<Record<Many, Uint8Array>>
  private readonly ends: SurveyBrief['ends']

  constructor(report: Report, before: SurveyReport | undefined) {
    const { complete, ends, promises, figures, took, beats, choices } = report
    this.complete = complete
    this.promises = promises
    this.figures = figures
    this.took = took
    this.reached = ends.reached
    this.findings = splice(before?.findings ?? [], report.findings)
    const named = (what: Many) => (before?.addresses[what] ?? PlacedNames.of([])).after(report.addresses[what])
    this.addresses = { beats: named('beats'), choices: named('choices') }
    this.verdicts = { beats, choices }
    this.ends = ends
    this.unreached = this.withMany(ends.unreached, VERDICT.unreached)
    this.undecided = this.withMany(ends.undecided, VERDICT.undecided)
  }

  /** How many beats the story has. */
  get beats(): number {
    return this.verdicts.beats.length
  }

  /** The same as the survey told it. */
  get brief(): SurveyBrief {
    const { complete, ends, promises, findings, figures } = this
    return { complete, ...this.verdicts, ends, promises, findings, figures }
  }

  /** Whether another report says the same, whatever it cost. */
  saysAs(other: SurveyReport): boolean {
    const said = ({ brief }: SurveyReport) => ({ ...farBrief(brief), figures: undefined })
    return isSame(said(this), said(other))
  }

  of(what: Reachable, address: string): Said {
    if (what === 'beats' || what === 'choices') {
      const verdict = this.verdicts[what][this.addresses[what].indexOf(address)]
      return verdict === VERDICT.reached
        ? 'reached'
        : verdict === VERDICT.unreached
          ? 'unreached'
          : verdict === VERDICT.undecided
            ? 'undecided'
            : 'waiting'
    }
    if (this.reached[what][address] !== undefined) return 'reached'
    if (this.unreached[what].includes(address)) return 'unreached'
    return this.undecided[what].includes(address) ? 'undecided' : 'waiting'
  }

  /** What was found at a row: a line, a variant, a turn, a road, a choice; by its address. */
  at(address: string): readonly Finding[] {
    let found = this.rows.get(address)
    if (found === undefined) {
      const beat = beatOf(address)
      // what is about a whole beat is said at its name
      const some = beat === undefined || beat === address ? NOTHING : findingsOfBeat(this.findings, beat)
      found = some.filter(({ kind, key }) => key[columnOf(kind, 'item', 'address')] === address)
      // the very same, so that nobody draws anew
      if (found.length === 0) found = NOTHING
      this.rows.set(address, found)
    }
    return found
  }

  /** Of a turn: what is not named as unreached is reached with its beat, once all is decided. */
  ofTurn(address: string): Said {
    this.named ??= new Set(this.findings.flatMap(({ kind, key }) => (kind === 'unreached' ? [key[0]!] : [])))
    const owner = this.of('beats', ownerOf(address))
    if (owner !== 'reached') return owner
    const isNamed = this.named.has(address) || this.named.has(address.slice(0, address.lastIndexOf('.')))
    return isNamed ? 'unreached' : this.complete ? 'reached' : 'waiting'
  }

  /** Beats and choices are listed when they are asked for. */
  private withMany<T>(ends: T, verdict: number): T & Record<Many, readonly string[]> {
    const list = (what: Many) => this.addresses[what].list.filter((_, at) => this.verdicts[what][at] === verdict)
    return Object.defineProperties({ ...ends } as T & Record<Many, readonly string[]>, {
      beats: { get: () => list('beats') },
      choices: { get: () => list('choices') },
    })
  }
}
