import type { SurveyContext } from '../context'
import type { MarkKind } from '../marks'
import { finding, type Finding } from '../result'

/**
 * What no route comes to. What lies in an unreached beat, choice or variant is not named for
 * itself: its owner is.
 */
export function unreached({ story, search, complete }: SurveyContext): Finding[] {
  if (!complete) return []
  const found: Finding[] = []
  const check = (kind: MarkKind, address: string, word: string, level?: 'error'): boolean => {
    if (search.marks.find(kind, address) !== undefined) return true
    found.push(finding('unreached', [address], `no route comes to this ${word}`, undefined, level))
    return false
  }
  for (const beat of story.beats) {
    if (!check('beat', beat.address, 'beat')) continue
    for (const rule of beat.redirects) check('redirect', rule.address, 'redirect')
    for (const rule of beat.arrive) check('arrive', rule.address, 'effect on arrival')
    for (const line of beat.lines) {
      if (line.kind === 'line') {
        check('line', line.address, 'line')
        continue
      }
      for (const variant of line.variants) {
        if (!check('variant', variant.address, 'variant')) continue
        for (const inner of variant.lines) check('line', inner.address, 'line')
      }
    }
    for (const choice of beat.choices) {
      if (!check('choice', choice.address, 'choice') || choice.to.kind !== 'rules') continue
      for (const rule of choice.to.rules) check('rule', rule.address, 'rule of the choice')
    }
    for (const rule of beat.onward) check('onward', rule.address, 'onward road')
  }
  for (const ending of story.endings) check('ending', ending.id, 'ending', 'error')
  for (const quest of story.quests) {
    for (const stage of quest.stages.slice(1)) check('stage', `${quest.id}.${stage}`, 'stage', 'error')
  }
  return found
}
