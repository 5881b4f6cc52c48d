import type { Slices } from '../../../base/slices'
import { freshId } from '../../../base/ids'
import { linkStory } from '../../../story/link'
import type { Choice, Quest, Story } from '../../../story/types'
import { callSheet, type CallSheet, type Cell } from './call-sheet'

/**
 * What people say when they are met first, and what later. To tell the two apart each person in
 * turn gets a quest that is begun by approaching them, so each has a survey of their own.
 * Undefined when `stop` said so before it was done.
 */
export function* meetings(story: Story, stop: () => boolean): Slices<CallSheet | undefined> {
  const people = [
    ...new Set(
      story.scenes.flatMap((scene) =>
        scene.beats.flatMap((beat) => (beat.choices ?? []).flatMap(({ who }) => (who === undefined ? [] : [who]))),
      ),
    ),
  ]
  const id = freshId('meeting', (taken) => (story.quests ?? []).some((quest) => quest.id === taken))
  const rows: Record<string, readonly (Cell | undefined)[]> = {}
  const reached = [false, false]
  for (const person of people) {
    const sheet = yield* callSheet(linkStory(withMeeting(story, person, id)), { quest: id }, stop)
    if (sheet === undefined) return undefined
    const own = sheet.rows[person]
    // the quest is not one of the story's
    if (own !== undefined)
      rows[person] = own.map(
        (cell) => cell && { ...cell, offers: cell.offers.filter((quest) => quest !== id), movesOn: false },
      )
    sheet.reached.forEach((yes, at) => (reached[at] ||= yes))
  }
  return {
    axis: { quest: '' },
    columns: [['first'], ['later']],
    reached,
    rows,
    presences: [],
    twoPlaces: [],
    nowhere: [],
  }
}

function withMeeting(story: Story, person: string, id: string): Story {
  const quest: Quest = { id, name: '', stages: [{ id: 'met', name: '' }] }
  const met = (choice: Choice): Choice =>
    choice.who === person ? { ...choice, do: [`quest.${id} = 'met'`, ...(choice.do ?? [])] } : choice
  return {
    ...story,
    routes: [],
    promises: [],
    quests: [...(story.quests ?? []), quest],
    scenes: story.scenes.map((scene) => ({
      ...scene,
      beats: scene.beats.map((beat) =>
        beat.choices?.some(({ who }) => who === person) ? { ...beat, choices: beat.choices.map(met) } : beat,
      ),
    })),
  }
}
