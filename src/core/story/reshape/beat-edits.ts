import { mentionsOf } from '../rename/rename'
import { freshId } from '../../base/ids'
import { idFrom } from '../../base/id-from'
import type { Change } from '../changes/types'
import { roadsOf } from './flow-order'
import { peopleTyped } from './people-typed'
import type { Beat, Choice, PlainLine, Scene, Story } from '../types'

/** Edits of the manuscript as changes of the story. A beat is replaced whole: one edit, one step of undo. */

export interface BeatPlace {
  readonly scene: string
  readonly index: number
  readonly beat: Beat
}

export function replaceBeat({ scene, index, beat }: BeatPlace, next: Beat): Change {
  return { op: 'replace', in: { list: 'beats', scene }, id: beat.id, at: index, item: next }
}

/** A copy with some keys set; `undefined` takes a key away. */
export function withKeys<T extends object>(object: T, keys: Partial<T>): T {
  const next = { ...object, ...keys }
  for (const key of Object.keys(keys) as (keyof T)[]) if (next[key] === undefined) delete next[key]
  return next
}

export function replaceAt<T>(items: readonly T[] | undefined, at: number, item: T): T[] {
  return (items ?? []).map((one, index) => (index === at ? item : one))
}

export function removeAt<T>(items: readonly T[] | undefined, at: number): T[] {
  return (items ?? []).filter((_, index) => index !== at)
}

export function insertAt<T>(items: readonly T[] | undefined, at: number, item: T): T[] {
  const list = [...(items ?? [])]
  list.splice(at, 0, item)
  return list
}

export function moveBy<T>(items: readonly T[] | undefined, at: number, by: 1 | -1): T[] | undefined {
  return moveTo(items, at, at + by)
}

/** Moves one item to where another stands; undefined where there is no such place. */
export function moveTo<T>(items: readonly T[] | undefined, from: number, to: number): T[] | undefined {
  const list = [...(items ?? [])]
  if (to < 0 || to >= list.length) return undefined
  list.splice(to, 0, ...list.splice(from, 1))
  return list
}

/** An empty list is left out of the document. */
export function listOrNone<T>(items: readonly T[]): T[] | undefined {
  return items.length === 0 ? undefined : [...items]
}

/** Whether a beat can have choices: it neither ends the story nor asks for a word. */
export function mayChoose(beat: Beat): boolean {
  return beat.ending === undefined && beat.ask === undefined
}

/** A new choice, with an id that fits the text once it has one. */
export function newChoice(beat: Beat): Choice {
  return { id: freshId('choice', (id) => taken(beat, id)), text: '', to: '' }
}

function taken(beat: Beat, id: string): boolean {
  return beat.choices?.some((choice) => choice.id === id) ?? false
}

/**
 * While nothing refers to a fresh choice, its id follows its text. `isNamed`: the same writing gave it the id that it
 * has, so that somebody who pauses in a word does not leave the half of it.
 */
export function nameChoice(story: Story, place: BeatPlace, choice: Choice, text: string, isNamed = false): Choice {
  const isFree =
    (isNamed || /^choice(_\d+)?$/.test(choice.id)) &&
    text.trim() !== '' &&
    mentionsOf(story, { of: 'choice', scene: place.scene, beat: place.beat.id, id: choice.id }) === 0
  if (!isFree) return { ...choice, text }
  const others = withKeys(place.beat, { choices: place.beat.choices?.filter((one) => one !== choice) })
  return {
    ...choice,
    text,
    id: freshId(idFrom(text.split(/\s+/).slice(0, 3).join(' '), 'choice'), (id) => taken(others, id)),
  }
}

/**
 * A beat that does not exist yet, to be created where a destination named it. `wanted` may be
 * "scene.beat" or "beat". In the same scene it comes behind the beat `from` and those that this one
 * leads to already, so that the page follows the story.
 */
export function newBeatFor(
  story: Story,
  scene: string,
  wanted: string,
  from?: string,
  line: PlainLine = { text: '' },
): { readonly address: string; readonly change: Change } | undefined {
  const [first, second] = wanted.split('.')
  const sceneId = second === undefined ? scene : idFrom(first!, 'scene')
  const id = idFrom(second ?? first!, 'beat')
  const target = story.scenes.find((one) => one.id === sceneId)
  const name = (second ?? first!).trim()
  const isSaid = name.toLowerCase() === id.replaceAll('_', ' ') || idFrom(name, '') === name
  const beat: Beat = { id, ...(isSaid ? {} : { title: name }), lines: [line] }
  if (target === undefined) {
    const item = { id: sceneId, title: first!, beats: [beat] }
    return {
      address: `${sceneId}.${id}`,
      change: { op: 'insert', in: { list: 'scenes' }, at: story.scenes.length, item },
    }
  }
  if (target.beats.some((one) => one.id === id)) return undefined
  return {
    address: `${sceneId}.${id}`,
    change: {
      op: 'insert',
      in: { list: 'beats', scene: sceneId },
      at: placeAfter(target, sceneId === scene ? from : undefined),
      item: beat,
    },
  }
}

function placeAfter({ id: scene, beats }: Scene, from: string | undefined): number {
  const index = beats.findIndex(({ id }) => id === from)
  if (index === -1) return beats.length
  const next = new Set(roadsOf(beats[index]!))
  let at = index + 1
  while (at < beats.length && next.has(`${scene}.${beats[at]!.id}`)) at += 1
  return at
}

/** "Odile: Mind the rope" at the start of a line: who is meant, and what they say. */
export function speakerTyped(
  story: Story,
  text: string,
): { readonly speaker: string; readonly text: string } | undefined {
  const match = /^([^:\n]{1,40}):\s?/.exec(text)
  if (match === null) return undefined
  const typed = match[1]!.trim().toLowerCase()
  const cast = story.cast ?? []
  const begins = peopleTyped(story, typed)
  const person =
    cast.find(
      ({ id, name }) => id === typed || name.toLowerCase() === typed || name.toLowerCase().split(/\s+/)[0] === typed,
    ) ??
    // the first letters are enough when they can be nobody else's
    (begins.length === 1 ? begins[0] : undefined)
  return person && { speaker: person.id, text: text.slice(match[0].length) }
}
