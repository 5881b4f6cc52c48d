'use client'

import { useCallback, useRef } from 'react'
import { beatOf } from '../../../core/base/address'
import { beatAt } from '../../../core/story/beat-at'
import { FINDING_KINDS, nameOfFinding, type Finding, type Level } from '../../../core/survey/findings/finding'
import { findingsLeft } from '../../../core/survey/findings/set-aside'
import type { Beat, Story } from '../../../core/story/types'
import { useSessionState } from './use-session'

export const LEVELS: readonly Level[] = ['error', 'warning', 'note']

const NONE: readonly Finding[] = []
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

/** Where a finding is mended: an address, and the part of what stands there. */
export interface Place {
  readonly address: string
  readonly part?: string
}

/** The row at which a finding is mended, where it has one. */
export function placeOfFinding(story: Story, finding: Finding): Place | undefined {
  const column = finding.key.findIndex((one) => {
    const beat = beatOf(one)
    return beat !== undefined && beatAt(story, beat) !== undefined
  })
  if (column !== -1) {
    const address = finding.key[column]!
    const part = FINDING_KINDS[finding.kind].keyedBy[column + 1] === 'part' ? finding.key[column + 1] : undefined
    return part === undefined ? { address } : { address, part }
  }
  const ending = finding.kind === 'unreached' ? beatWithEnding(story, finding.key[0]!) : undefined
  return ending === undefined ? undefined : { address: ending }
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
      const at = list.findIndex((finding) => nameOfFinding(finding) === last.current)
      const next = list[(at === -1 ? (step === 1 ? 0 : list.length - 1) : at + step + list.length) % list.length]!
      last.current = nameOfFinding(next)
      return next
    },
    [findings, story],
  )
}
