import { IntlMessageFormat } from 'intl-messageformat'
import type { LinkedStory, LinkedText } from '../story/linked'
import { conditionHolds } from './choices'
import type { PlayState } from './state'

const formats = new WeakMap<LinkedText, IntlMessageFormat>()

/** A text as the player reads it: its forms chosen and its arguments filled in. */
export function formatText(story: LinkedStory, state: PlayState, text: LinkedText): string {
  if (text.parsed === undefined) return text.source
  if (text.parsed.every((part) => part.type === 0))
    return text.parsed.map((part) => ('value' in part ? part.value : '')).join('')
  let format = formats.get(text)
  if (format === undefined) {
    format = new IntlMessageFormat([...text.parsed], text.language ?? story.doc.language, undefined, {
      ignoreTag: true,
    })
    formats.set(text, format)
  }
  return String(format.format(textValues(story, state)))
}

function textValues(story: LinkedStory, state: PlayState): Record<string, string | number> {
  const values: Record<string, string | number> = {}
  for (const { id, index } of story.entries) {
    const value = state.entries[index]!
    // select compares by text, so a flag is "true" or "false"
    values[id] = typeof value === 'boolean' ? String(value) : value
  }
  for (const { id, index, stages } of story.quests) values[`quest_${id}`] = stages[state.stages[index]!]!
  for (const id of story.people.keys()) values[`person_${id}`] = nameOf(story, state, id)
  return values
}

/** What a person is called as the story stands; the id of one who is not in the cast. */
export function nameOf(story: LinkedStory, state: PlayState, id: string): string {
  const person = story.people.get(id)
  if (person === undefined) return id
  return (person.called.find(({ when }) => conditionHolds(story, state, when)) ?? person).name
}
