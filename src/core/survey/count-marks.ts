import type { LinkedStory } from '../story/linked'
import { ownersOf, textsOf } from './story-parts'

/** An upper bound of the marks and conditions that a story can have. */
export function countMarks(story: LinkedStory): { marks: number; conditions: number } {
  let marks = story.endings.length
  let conditions = 0
  for (const beat of story.beats) {
    // the beat itself, its ending, dead end, endless run
    marks += 4
    for (const owner of ownersOf(beat)) {
      marks += 1
      conditions += 1
      for (const { effect } of owner.effects) {
        marks += effect.kind === 'stage' ? story.quests[story.questOf.get(effect.quest)!]!.stages.length + 1 : 1
      }
    }
    // every { begins one argument at most
    for (const { source } of textsOf(beat)) marks += source.split('{').length - 1
  }
  return { marks: marks + 64, conditions: conditions + 1 }
}
