import type { SetAside, Story } from '../../story/types'
import { nameOfFinding, type Finding } from './finding'

const left = new WeakMap<
  readonly Finding[],
  { readonly setAside: Story['setAside']; readonly findings: readonly Finding[] }
>()

/** What the survey found, but for what was set aside. */
export function findingsLeft(findings: readonly Finding[], setAside: Story['setAside']): readonly Finding[] {
  if (setAside === undefined || setAside.length === 0) return findings
  let known = left.get(findings)
  if (known === undefined || known.setAside !== setAside) {
    known = { setAside, findings: findings.filter((finding) => !setAside.some((one) => isAbout(one, finding))) }
    left.set(findings, known)
  }
  return known.findings
}

export function isAbout({ kind, about }: SetAside, finding: Finding): boolean {
  return nameOfFinding({ kind, key: about }) === nameOfFinding(finding)
}
