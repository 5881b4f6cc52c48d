import type { Value as ExprValue } from '../../../src/core/expression/evaluate'
import { sayCondition } from '../../../src/core/expression/words'
import type { PlayState } from '../../../src/core/play/state'
import { whyClosed } from '../../../src/core/play/why-closed'
import type { LinkedChoice, LinkedStory } from '../../../src/core/story/linked'
import { linkedNames } from '../../../src/core/story/linked-names'
import type { Closed, Value } from './types'

/** Why a choice can't be taken now; undefined where it can. */
export function closedReason(story: LinkedStory, state: PlayState, choice: LinkedChoice): Closed | undefined {
  const why = whyClosed(story, state, choice)
  if (why === undefined) return undefined
  if (why.kind === 'broken-gate') return { kind: 'gate', parts: [] }
  if (why.kind !== 'gate') return { kind: why.kind, parts: [] }
  const names = linkedNames(story)
  return {
    kind: 'gate',
    parts: why.parts.map(({ part, saw }) => ({
      words: sayCondition(part, names),
      saw: saw.map(({ of, id, value }) => ({
        id: of === 'entry' ? id : `quest.${id}`,
        name: of === 'entry' ? names.entry(id) : names.quest(id),
        value: plain(value),
      })),
    })),
  }
}

/** What an entry or stage holds is always a plain number. */
function plain(value: ExprValue): Value {
  return typeof value === 'bigint' ? Number(value) : value
}
