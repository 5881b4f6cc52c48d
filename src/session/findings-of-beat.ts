import { beatOf } from '../core/base/address'
import type { Finding } from '../core/survey/findings/finding'

const NONE: readonly Finding[] = []

/** The beats that a finding names, or names something in. Most findings are the same objects from report to report. */
const named = new WeakMap<Finding, ReadonlySet<string>>()

function beatsNamed(finding: Finding): ReadonlySet<string> {
  let beats = named.get(finding)
  if (beats === undefined) {
    beats = new Set(finding.key.flatMap((part) => beatOf(part) ?? []))
    named.set(finding, beats)
  }
  return beats
}

const sorted = new WeakMap<readonly Finding[], ReadonlyMap<string, readonly Finding[]>>()

/** Of a list of findings those about a beat, or something in it, in the order of the list. */
export function findingsOfBeat(findings: readonly Finding[], beat: string): readonly Finding[] {
  let byBeat = sorted.get(findings)
  if (byBeat === undefined) {
    byBeat = byBeats(findings)
    sorted.set(findings, byBeat)
  }
  return byBeat.get(beat) ?? NONE
}

function byBeats(findings: readonly Finding[]): Map<string, Finding[]> {
  const lists = new Map<string, Finding[]>()
  for (const finding of findings) {
    for (const beat of beatsNamed(finding)) {
      const list = lists.get(beat)
      if (list === undefined) lists.set(beat, [finding])
      else list.push(finding)
    }
  }
  return lists
}
