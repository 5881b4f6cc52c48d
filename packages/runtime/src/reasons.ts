import { plainId } from '../../../src/core/base/ids'
import type { Value as ExprValue } from '../../../src/core/expression/evaluate'
import { sayCondition, type Names } from '../../../src/core/expression/words'
import type { PlayState } from '../../../src/core/play/state'
import { whyClosed } from '../../../src/core/play/why-closed'
import type { LinkedChoice, LinkedStory } from '../../../src/core/story/linked'
import type { Closed, Value } from './types'

/** Why a choice can't be taken now; undefined where it can. */
export function closedReason(story: LinkedStory, state: PlayState, choice: LinkedChoice): Closed | undefined {
  const why = whyClosed(story, state, choice)
  if (why === undefined) return undefined
  if (why.kind === 'broken-gate') return { kind: 'gate', parts: [] }
  if (why.kind !== 'gate') return { kind: why.kind, parts: [] }
  const names = namesOf(story)
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

function namesOf(story: LinkedStory): Names {
  const quest = (id: string) => story.quests[story.questOf.get(id) ?? -1]
  const last = (address: string) => plainId(address.slice(address.lastIndexOf('.') + 1))
  return {
    entry: (id) => story.entries[story.entryOf.get(id) ?? -1]?.entry.name ?? plainId(id),
    quest: (id) => quest(id)?.name ?? plainId(id),
    stage: (id, stage) => {
      const at = quest(id)?.stages.indexOf(stage) ?? -1
      return at > 0 ? quest(id)!.names[at]! : plainId(stage)
    },
    beat: last,
    choice: last,
    ending: (id) => story.endings[story.endingOf.get(id) ?? -1]?.name ?? plainId(id),
  }
}
