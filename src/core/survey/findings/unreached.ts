import type { LinkedBeat } from '../../story/linked'
import { eachPart } from '../summaries/beat-parts'
import type { Explored } from './exploration'
import { finding, type Found } from './finding'

/**
 * What no route comes to. What lies in an unreached beat, choice or variant is not named for
 * itself: its owner is.
 */
export function unreached({ story, evidence: { events }, complete, pendingTurns }: Explored): Found[] {
  if (!complete) return []
  const found: Found[] = []
  // what lies in turns that are still followed is not decided
  const isPending = ({ key: [address] }: Found) => pendingTurns.some((group) => address!.startsWith(`${group}.turn`))
  for (const beat of story.inOrder) {
    if (events.hasSeenAll(beat.index)) continue
    for (const one of missingIn(beat, events.seenOf(beat.index))) if (!isPending(one)) found.push(one)
  }
  const check = (kind: 'ending' | 'stage', address: string, word: string) => {
    if (events.witnessOf(kind, address) === undefined) found.push(missed(address, word, 'error'))
  }
  for (const ending of story.endings) check('ending', ending.id, 'ending')
  for (const quest of story.quests) {
    for (const stage of quest.stages.slice(1)) check('stage', `${quest.id}.${stage}`, 'stage')
  }
  return found
}

/** What was missing in a beat the last time, and which of its parts had been seen, a sign for each. */
interface Missing {
  readonly seen: string
  readonly found: readonly Found[]
}

/** What is missing in a beat of whose parts these were seen, if it was reached. Beats that an edit left as they were mostly miss what they missed. */
function missingIn(beat: LinkedBeat, seen: Uint8Array | undefined): readonly Found[] {
  const signs = seen?.join('') ?? ''
  const known = beat.memo.missing as Missing | undefined
  if (known?.seen === signs) return known.found
  const found: Found[] = []
  let at = 0
  let next = 0
  eachPart(beat, (kind, address, word, within) => {
    // a group in turn is told by its turns
    if (at >= next && signs[at] !== '1' && kind !== 'turns') {
      found.push(missed(address, word))
      next = at + within + 1
    }
    at += 1
  })
  beat.memo.missing = { seen: signs, found } satisfies Missing
  return found
}

function missed(address: string, word: string, level?: 'error'): Found {
  return finding('unreached', [address], `no route comes to this ${word}`, undefined, level)
}
