import { eachTurnGroup } from './declare'
import type { Beat, Choice, Story } from './types'

/** Whether two versions of a story name the same things in the same places; what makes a choice or a beat the same can be told. */
export function sameNames(
  before: Story,
  after: Story,
  sameChoice: (before: Choice, after: Choice) => boolean = sameId,
  sameBeat: (before: Beat, after: Beat) => boolean = sameId,
): boolean {
  if (
    before.cast !== after.cast ||
    before.cues !== after.cues ||
    before.ledger !== after.ledger ||
    before.quests !== after.quests ||
    before.terms !== after.terms ||
    before.endings !== after.endings
  )
    return false
  if (before.scenes.length !== after.scenes.length) return false
  return after.scenes.every((scene, s) => {
    const old = before.scenes[s]!
    if (scene === old) return true
    if (scene.id !== old.id || scene.ledger !== old.ledger || scene.beats.length !== old.beats.length) return false
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

function sameId(before: { readonly id: string }, after: { readonly id: string }): boolean {
  return before.id === after.id
}
