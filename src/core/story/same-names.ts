import { eachTurnGroup } from './declare'
import type { Beat, Choice, Scene, Story } from './types'

/** Whether two versions of a story declare the same outside of their scenes, and have as many of these. */
export function sameAroundScenes(before: Story, after: Story): boolean {
  return (
    before.cast === after.cast &&
    before.cues === after.cues &&
    before.ledger === after.ledger &&
    before.quests === after.quests &&
    before.terms === after.terms &&
    before.endings === after.endings &&
    before.scenes.length === after.scenes.length
  )
}

/** Whether two versions of a scene are called the same, and have the same entries of their own. */
export function sameAroundBeats(before: Scene, after: Scene): boolean {
  return before.id === after.id && before.ledger === after.ledger
}

/** Whether two versions of a story name the same things in the same places; what makes a choice or a beat the same is told. */
export function sameNames(
  before: Story,
  after: Story,
  sameChoice: (before: Choice, after: Choice) => boolean,
  sameBeat: (before: Beat, after: Beat) => boolean,
): boolean {
  if (!sameAroundScenes(before, after)) return false
  return after.scenes.every((scene, s) => {
    const old = before.scenes[s]!
    if (scene === old) return true
    if (!sameAroundBeats(old, scene) || scene.beats.length !== old.beats.length) return false
    return scene.beats.every((beat, at) => {
      const was = old.beats[at]!
      if (beat === was) return true
      const [choices, others] = [beat.choices ?? [], was.choices ?? []]
      return (
        sameBeat(was, beat) &&
        choices.length === others.length &&
        turnGroups(beat) === turnGroups(was) &&
        choices.every((choice, index) => sameChoice(others[index]!, choice))
      )
    })
  })
}

/** Where groups in turn stand in a beat: they are counted through the story. */
export function turnGroups(beat: Beat): string {
  let suffixes = ''
  eachTurnGroup(beat, (suffix) => (suffixes += suffix))
  return suffixes
}
