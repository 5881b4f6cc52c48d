'use client'

import type { FindingKind } from '../../../core/survey/findings/finding'
import { LevelMark, VerdictMark } from '../../../ui/marks'
import { findingsLeft } from '../../../core/survey/findings/set-aside'
import { useSessionState } from '../../shared/session/use-session'
import { useRowFindings } from '../../shared/session/verdicts'

/** How a finding reads beside the row that it is about; those that a beat or choice shows itself are left out. */
const SAID: Partial<Record<FindingKind, string>> = {
  unreached: 'never plays',
  overrun: 'leaves its range',
  'unset-text': 'shows an empty text',
  'always-open': 'always true',
  'no-way-out': 'no way out from here',
}

/** What the survey found at a row, said beside it. */
export function RowMarks({ address, isChoice = false }: { address: string; isChoice?: boolean }) {
  const setAside = useSessionState((state) => state.story.setAside)
  const findings = findingsLeft(useRowFindings(address), setAside)
  return findings.map(({ kind, level, key, message }) => {
    const said = isChoice && kind === 'unreached' ? 'never open' : SAID[kind]
    if (said === undefined) return null
    return (
      <span key={`${kind} ${key.join(' ')}`} className={`mark ${level}`} title={message} data-mark={kind}>
        {kind === 'unreached' ? <VerdictMark verdict="unreached" size={9} /> : <LevelMark level={level} size={9} />}{' '}
        {said}
      </span>
    )
  })
}
