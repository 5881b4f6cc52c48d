'use client'

import { useCallback, useRef } from 'react'
import { beatOfAddress } from '../../core/base/ids'
import type { Finding, FindingKind, Level } from '../../core/survey/result'
import type { Beat, SetAside, Story } from '../../core/story/types'
import { useSessionState } from './use-session'

export const LEVELS: readonly Level[] = ['error', 'warning', 'note']

/** What each kind of finding is called on the page. */
export const KIND_NAMES: Readonly<Record<FindingKind, string>> = {
  problem: 'not understood',
  unreached: 'never reached',
  'dead-end': 'dead end',
  'no-way-out': 'no way out',
  'endless-run': 'endless run',
  'promise-broken': 'promise broken',
  'route-broken': 'route broken',
  'undeclared-move': 'undeclared move',
  'stranded-stage': 'stranded stage',
  'left-open': 'left open',
  overrun: 'overrun',
  'unset-text': 'shown unset',
  'always-open': 'always open',
  unread: 'never read',
  unwritten: 'never changed',
}

const NONE: readonly Finding[] = []
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
  return (
    kind === finding.kind && about.length === finding.key.length && about.every((part, at) => part === finding.key[at])
  )
}

/** The findings that were not set aside, in the survey's order. */
export function useFindings(): readonly Finding[] {
  return useSessionState((state) => findingsLeft(state.survey.report?.findings ?? NONE, state.story.setAside))
}

const sorted = new WeakMap<readonly Finding[], readonly Finding[]>()

export function byLevel(findings: readonly Finding[]): readonly Finding[] {
  let list = sorted.get(findings)
  if (list === undefined) {
    list = [...findings].sort((a, b) => LEVELS.indexOf(a.level) - LEVELS.indexOf(b.level))
    sorted.set(findings, list)
  }
  return list
}

/** The beat at which a finding is mended, where it has one. */
export function placeOfFinding(story: Story, finding: Finding): string | undefined {
  for (const part of finding.key) {
    const beat = beatOfAddress(part)
    if (beat === undefined) continue
    const [scene, id] = beat.split('.')
    if (story.scenes.find((one) => one.id === scene)?.beats.some((one) => one.id === id)) return beat
  }
  if (finding.kind === 'unreached') return beatWithEnding(story, finding.key[0]!)
  return undefined
}

function beatWithEnding(story: Story, ending: string): string | undefined {
  for (const scene of story.scenes) {
    const beat = scene.beats.find((one: Beat) => one.ending === ending)
    if (beat !== undefined) return `${scene.id}.${beat.id}`
  }
  return undefined
}

/** Steps through the findings that have a place. */
export function useNextFinding(): (step: 1 | -1) => Finding | undefined {
  const findings = useFindings()
  const story = useSessionState((state) => state.story)
  const last = useRef<string>(undefined)
  return useCallback(
    (step) => {
      const list = byLevel(findings).filter((finding) => placeOfFinding(story, finding) !== undefined)
      if (list.length === 0) return undefined
      const name = (finding: Finding) => `${finding.kind} ${finding.key.join(' ')}`
      const at = list.findIndex((finding) => name(finding) === last.current)
      const next = list[(at === -1 ? (step === 1 ? 0 : list.length - 1) : at + step + list.length) % list.length]!
      last.current = name(next)
      return next
    },
    [findings, story],
  )
}
