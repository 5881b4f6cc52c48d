import { sceneOfAddress } from '../base/address'
import { SAVE_VERSION, VISITS_MAX } from '../base/limits'
import type { LinkedEntry, LinkedStory } from '../story/linked'
import type { EntryValue } from '../story/types'
import { isInDomain } from './given'
import type { Save } from './read-save'
import { freshState, type PlayState } from './state'
import { counted, ledgerOf, stagesOf, visitsOf } from './told'
import { beginWith, resumeAt, resumeFrom, type Listener, type Setup } from './step'
import { choicesOf } from '../story/linked-parts'

/** Where a playthrough rests as a save; undefined where it does not rest. Counts that are 0, and entries of scenes that it is not in, are left out. */
export function saveOf(story: LinkedStory, state: PlayState): Save | undefined {
  const { status } = state
  const beat = story.beats[state.at]
  if (beat === undefined || status === 'endless' || status === 'nowhere') return undefined
  return {
    paperCompassSave: SAVE_VERSION,
    at: beat.address,
    status,
    ending: status === 'ended' ? (story.endings[beat.ending]?.id ?? null) : null,
    place: story.beats[state.place]?.address ?? null,
    ledger: ledgerOf(story, state),
    stages: stagesOf(story, state),
    visits: visitsOf(story, state),
    taken: choicesOf(story)
      .filter(({ index }) => state.taken[index] === 1)
      .map(({ address }) => address),
    turns: counted(story.turnGroups, state.turns),
  }
}

/**
 * What a save holds of an entry as another version of it takes it up: its own value where it has the kind and lies in
 * the domain, a number outside of its range at the end of it; else its initial one.
 */
export function carriedValue(entry: LinkedEntry, value: EntryValue | undefined): EntryValue {
  if (value === undefined) return entry.initial
  if ((entry.kind === 'counter' || entry.kind === 'item') && typeof value === 'number' && Number.isInteger(value))
    return Math.min(entry.max, Math.max(entry.min, value))
  // what the story itself puts into a text may be any
  if (entry.kind === 'text' && entry.given === undefined) return typeof value === 'string' ? value : entry.initial
  return isInDomain(entry, value) ? value : entry.initial
}

/** How a save was taken up. */
export interface Loaded {
  readonly state: PlayState
  /** The beat is gone: one is at the place, or at the start. */
  readonly moved: boolean
}

/** Where a playthrough begins other than at the start: values set by hand, or a save. */
export type Beginning = Setup | Save

export function isSave(from: Beginning): from is Save {
  return 'paperCompassSave' in from
}

/** Begins so, and goes on to where the story rests. */
export function beginFrom(story: LinkedStory, from: Beginning, listener: Listener = {}): PlayState {
  return isSave(from) ? loadSave(story, from, listener).state : beginWith(story, from, listener)
}

/** Takes up a save, of this version of the story or another. It never fails: what is not there any more is left out. */
export function loadSave(story: LinkedStory, save: Save, listener: Listener = {}): Loaded {
  const state = freshState(story)
  const scene = story.scenes.findIndex(({ id }) => id === sceneOfAddress(save.at))
  for (const entry of story.entries)
    if (entry.scene === -1 || entry.scene === scene)
      state.entries[entry.index] = carriedValue(
        entry,
        Object.hasOwn(save.ledger, entry.id) ? save.ledger[entry.id] : undefined,
      )
  for (const { id, index, stages } of story.quests)
    state.stages[index] = Math.max(0, stages.indexOf(Object.hasOwn(save.stages, id) ? save.stages[id]! : ''))
  for (const [address, times] of Object.entries(save.visits)) {
    const beat = story.beatOf.get(address)
    if (beat !== undefined) state.visits[beat] = Math.min(VISITS_MAX, times)
  }
  for (const address of save.taken) {
    const choice = story.choiceOf.get(address)
    if (choice !== undefined) state.taken[choice] = 1
  }
  for (const [address, times] of Object.entries(save.turns)) {
    const group = story.turnsOf.get(address)
    if (group !== undefined) state.turns[group] = times
  }
  const place = story.beats[story.beatOf.get(save.place ?? '') ?? -1]
  if (place?.place === true) state.place = place.index
  const at = story.beats[story.beatOf.get(save.at) ?? -1]
  if (at !== undefined) return { state: resumeAt(story, state, at, listener), moved: false }
  return { state: resumeFrom(story, state, scene, listener), moved: true }
}
