import { beatParts } from '../beat-parts'
import type { SurveyContext } from '../context'
import type { MarkKind } from '../marks'
import { finding, type Found } from '../result'

/**
 * What no route comes to. What lies in an unreached beat, choice or variant is not named for
 * itself: its owner is.
 */
export function unreached({ story, search, complete }: SurveyContext): Found[] {
  if (!complete) return []
  const found: Found[] = []
  const { marks, programs } = search
  for (const beat of story.beats) {
    const own = programs.marksOf(beat.index)
    if (own === undefined || marks.seen[own[0]!] === 0) {
      found.push((beat.memo.missing ??= missed(beat.address, 'beat')) as Found)
      continue
    }
    let all = true
    for (let at = 1; at < own.length; at += 1) if (marks.seen[own[at]!] === 0) all = false
    if (all) continue
    const parts = beatParts(beat)
    for (let at = 1; at < parts.length; at += 1) {
      if (marks.seen[own[at]!] === 1) continue
      const { address, word, within } = parts[at]!
      found.push(missed(address, word))
      at += within
    }
  }
  const check = (kind: MarkKind, address: string, word: string) => {
    if (marks.find(kind, address) === undefined) found.push(missed(address, word, 'error'))
  }
  for (const ending of story.endings) check('ending', ending.id, 'ending')
  for (const quest of story.quests) {
    for (const stage of quest.stages.slice(1)) check('stage', `${quest.id}.${stage}`, 'stage')
  }
  return found
}

function missed(address: string, word: string, level?: 'error'): Found {
  return finding('unreached', [address], `no route comes to this ${word}`, undefined, level)
}
