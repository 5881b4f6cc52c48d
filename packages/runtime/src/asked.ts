import type { Value as ExprValue } from '../../../src/core/expression/evaluate'
import { sayCondition } from '../../../src/core/expression/words'
import type { PlayState } from '../../../src/core/play/state'
import { openness } from '../../../src/core/play/choices'
import { formatText, nameOf } from '../../../src/core/play/text'
import { whyClosed } from '../../../src/core/play/why-closed'
import type { LinkedChoice, LinkedStory } from '../../../src/core/story/linked'
import { linkedNames } from '../../../src/core/story/linked-names'
import type { Choice, Closed, Prompt, Value } from './types'

/** Why a choice can't be taken now; undefined where it can. */
function closedReason(story: LinkedStory, state: PlayState, choice: LinkedChoice): Closed | undefined {
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

/** The choices that are open where the story rests, and those that are shown closed. */
export function choicesAt(story: LinkedStory, state: PlayState): Choice[] {
  if (state.status !== 'choice' && state.status !== 'stuck') return []
  return (story.beats[state.at]?.choices ?? []).flatMap((choice): Choice[] => {
    const { open } = openness(story, state, choice)
    if (!open && !choice.shownClosed) return []
    const why = open ? undefined : closedReason(story, state, choice)
    return [
      {
        id: choice.address,
        text: formatText(story, state, choice.text),
        ...(choice.who === undefined ? {} : { who: choice.who, name: nameOf(story, state, choice.who) }),
        open,
        ...(why === undefined ? {} : { why }),
      },
    ]
  })
}

/** What word the player is asked for where the story rests. */
export function promptAt(story: LinkedStory, state: PlayState): Prompt | undefined {
  const ask = state.status === 'word' ? story.beats[state.at]?.ask : undefined
  if (ask === undefined) return undefined
  return {
    text: formatText(story, state, ask.prompt),
    suggest: ask.suggest,
    ...(ask.default === undefined ? {} : { default: ask.default }),
  }
}
