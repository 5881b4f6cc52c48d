import { plainId } from '../../base/ids'
import { beatAt } from '../beat-at'
import { nameOfItem, summarise } from '../changes/summary'
import type { Change } from '../changes/types'
import type { Story } from '../types'
import { compareStories } from './compare-stories'

const TEXT_MAX = 60

/** An edit, which led from one story to the other, in one plain sentence, with what it did to what: "line reworded in quay · morning: “…”". */
export function describeChange(before: Story, after: Story, change: Change): string {
  // what a list gained or lost is said by the change itself
  if (change.op !== 'replace' && change.op !== 'set-story' && change.op !== 'set-scene')
    return summarise(change, before)
  const things = compareStories(before, after)
  const [thing] = things
  const [note] = thing?.notes ?? []
  if (thing === undefined || note === undefined || things.length > 1) return summarise(change, before)
  const more = thing.notes.length - 1
  const shown = note.after ?? note.before
  const what = thing.kind === 'story' ? note.text : `${note.text}, ${thing.kind} ${called(after, thing.kind, thing.id)}`
  const said =
    shown === undefined || shown === '' || note.text.includes(shown)
      ? what
      : `${what}: “${shown.length > TEXT_MAX ? `${shown.slice(0, TEXT_MAX)}…` : shown}”`
  return more === 0 ? said : `${said} and ${more} more`
}

/** The titles of a beat and its scene; what else there is by its id in plain words. */
function called(story: Story, kind: string, id: string): string {
  const beat = kind === 'beat' ? beatAt(story, id) : undefined
  const scene = beat && story.scenes.find((one) => one.beats.includes(beat))
  return beat === undefined || scene === undefined
    ? plainId(id).replace('.', ' · ')
    : `${scene.title} · ${nameOfItem(beat)}`
}
