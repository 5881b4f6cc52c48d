import { freshId } from '../../base/ids'
import { idFrom } from '../../base/id-from'
import type { Change } from '../changes/types'
import type { Beat, Choice, PlainLine, Story } from '../types'
import { mayChoose, withKeys } from './beat-edits'
import { newPerson, peopleTyped } from './people-typed'

/** One thing that a pasted text was understood as. */
export type ScriptPart =
  | { readonly of: 'line'; readonly speaker?: string; readonly isAction: boolean; readonly text: string }
  /** `to`: the title, anchor or address of the beat that it leads to. */
  | { readonly of: 'choice'; readonly text: string; readonly to?: string }
  | { readonly of: 'beat'; readonly title: string }
  | { readonly of: 'scene'; readonly title: string }
  /** A remark on the beat, or on the scene where it has none yet. */
  | { readonly of: 'note'; readonly text: string }

const HEADING = /^#{1,6}\s+(.+?)\s*#*$/
const ITEM = /^(?:[-*•·–—]|\d{1,3}[.)])\s+(.+)$/
const BRACKETS = /^(?:\((.+)\)|\[(.+)\])$/
/** "Odile: …": a name of at most four words that begin with a capital or a digit. */
const NAMED = /^((?:\p{Lu}|\p{Lo})[\p{L}\p{N}'’.-]*(?: [\p{L}\p{N}'’.-]+){0,3}):\s+(.+)$/u
/** A name that stands alone in capitals over what is said, as in a screenplay; what is added in brackets is dropped. */
const CUE = /^([\p{Lu}\p{N}][\p{Lu}\p{N}'’. -]{1,38})(?:\s*\([^)]*\))?$/u

/**
 * Understands a text of several lines as a script: "Name: line", names in capitals over what they say, lines in brackets
 * (actions), list items (choices), headings (beats). An empty line parts two lines; where a text has none, each of its
 * rows is a line.
 */
export function readScript(source: string): ScriptPart[] {
  const rows = source
    .replace(/\r\n?/g, '\n')
    .split('\n')
    .map((row) => row.trim())
  const isSpaced = rows.some((row, at) => row === '' && at > 0 && at < rows.length - 1)
  const parts: ScriptPart[] = []
  /** Who speaks what follows, in the form of a screenplay. */
  let speaking: string | undefined
  let open = false
  rows.forEach((row, at) => {
    if (row === '') {
      speaking = undefined
      open = false
      return
    }
    const [heading, item, bracket, named] = [HEADING, ITEM, BRACKETS, NAMED].map((form) => form.exec(row))
    const next = rows[at + 1] ?? ''
    if (heading) parts.push({ of: 'beat', title: heading[1]! })
    else if (item) parts.push(choiceTyped(item[1]!))
    else if (bracket) parts.push(line((bracket[1] ?? bracket[2])!, speaking, true))
    else if (named) parts.push(line(named[2]!, named[1], false))
    else if (speaking === undefined && next !== '' && isCue(row)) {
      speaking = CUE.exec(row)![1]!.trim()
      open = false
      return
    } else {
      const before = parts.at(-1)
      // rows of one paragraph are one line, broken where they were
      if (open && before?.of === 'line' && (isSpaced || speaking !== undefined))
        parts[parts.length - 1] = { ...before, text: `${before.text}\n${row}` }
      else parts.push(line(row, speaking, false))
      open = true
      return
    }
    open = named !== null && named !== undefined
  })
  return parts
}

/** A text that stands by itself: who speaks it before a colon, or what is done in brackets. */
export function lineTyped(text: string): ScriptPart {
  const [first = '', ...rest] = text.split('\n')
  const [bracket, named] = [BRACKETS, NAMED].map((form) => form.exec(rest.length === 0 ? text : first))
  if (named) return line([named[2]!, ...rest].join('\n'), named[1], false)
  return bracket && rest.length === 0
    ? line((bracket[1] ?? bracket[2])!, undefined, true)
    : line(text, undefined, false)
}

/** A choice as it is written: where it leads may stand behind an arrow. */
export function choiceTyped(text: string): ScriptPart & { readonly of: 'choice' } {
  const [, before, to] = /^(.*\S)\s*(?:→|->)\s*(\S.*)$/su.exec(text) ?? []
  return { of: 'choice', text: before ?? text, ...(to === undefined ? {} : { to }) }
}

function isCue(row: string): boolean {
  const match = CUE.exec(row)
  return match !== null && /\p{Lu}{2}/u.test(match[1]!)
}

function line(text: string, speaker: string | undefined, isAction: boolean): ScriptPart {
  return { of: 'line', isAction, text, ...(speaker === undefined ? {} : { speaker }) }
}

/** A name as it is written in a cast: what stood in capitals alone is set in small letters. */
export function nameTyped(typed: string): string {
  const isLoud = typed === typed.toUpperCase() && typed !== typed.toLowerCase()
  return isLoud
    ? typed
        .toLowerCase()
        .replace(/(^|[\s'’-])(\p{L})/gu, (_, before: string, letter: string) => before + letter.toUpperCase())
    : typed
}

/** Who is meant by a name in a script; undefined where nobody in the cast, or more than one, is. */
export function personNamed(story: Story, typed: string): string | undefined {
  const wanted = typed.trim().toLowerCase()
  const exact = (story.cast ?? []).find(({ id, name }) => name.toLowerCase() === wanted || id === wanted)
  if (exact !== undefined) return exact.id
  const some = peopleTyped(story, typed)
  return some.length === 1 ? some[0]!.id : undefined
}

/** Names in a script that nobody in the cast has, as they would be written there. */
export function newSpeakers(story: Story, parts: readonly ScriptPart[]): string[] {
  const names = new Set<string>()
  for (const part of parts)
    if (part.of === 'line' && part.speaker !== undefined && personNamed(story, part.speaker) === undefined)
      names.add(nameTyped(part.speaker))
  return [...names]
}

/** The edits that bring a script's new speakers into the cast, and how its lines are made then. */
function speaking(
  story: Story,
  parts: readonly ScriptPart[],
  next: (text: string) => PlainLine,
): { readonly changes: Change[]; readonly lineOf: (part: ScriptPart & { of: 'line' }) => PlainLine } {
  const changes: Change[] = []
  const cast = [...(story.cast ?? [])]
  const speakers = new Map<string, string>()
  for (const name of newSpeakers(story, parts)) {
    const item = newPerson(cast, name)
    changes.push({ op: 'insert', in: { list: 'cast' }, at: cast.length, item })
    cast.push(item)
    speakers.set(name, item.id)
  }
  return {
    changes,
    lineOf: ({ text, speaker, isAction }) => ({
      ...next(text),
      ...(speaker === undefined ? {} : { speaker: personNamed(story, speaker) ?? speakers.get(nameTyped(speaker))! }),
      ...(isAction ? { manner: 'action' as const } : {}),
    }),
  }
}

/** A script as nothing but lines, for where neither choices nor beats can stand; and the edits that make its speakers. */
export function scriptLines(
  story: Story,
  parts: readonly ScriptPart[],
  next: (text: string) => PlainLine,
): { readonly changes: readonly Change[]; readonly lines: readonly PlainLine[] } {
  const { changes, lineOf } = speaking(story, parts, next)
  const lines = parts.map((part) =>
    part.of === 'line' ? lineOf(part) : next(part.of === 'beat' || part.of === 'scene' ? part.title : part.text),
  )
  return { changes, lines }
}

/** Where a script goes: behind a plain line of a beat, or into it where it is empty. */
export interface ScriptPlace {
  readonly scene: string
  readonly beat: string
  /** Index among the lines of the beat. */
  readonly at: number
}

/**
 * The edit that writes a script into a story, and the last line of it: what comes before the first heading goes into
 * the beat, each heading begins a beat after it. `next` makes a line.
 */
export function pasteScript(
  story: Story,
  place: ScriptPlace,
  parts: readonly ScriptPart[],
  next: (text: string) => PlainLine,
): { readonly change: Change; readonly last: string } | undefined {
  const beats = story.scenes.find(({ id }) => id === place.scene)?.beats ?? []
  const index = beats.findIndex(({ id }) => id === place.beat)
  const own = beats[index]
  if (own === undefined) return undefined
  const { changes, lineOf } = speaking(story, parts, next)
  const made = scenesMade(story, parts, lineOf, next, { scene: place.scene, beat: own })
  const roads = roadsTo(story, made)
  const [here, ...scenes] = made
  const [first, ...others] = here!.beats.map((beat) => finishedBeat(beat, roads))
  const lines = [...(own.lines ?? [])]
  const target = lines[place.at]
  const isEmpty = target !== undefined && 'text' in target && target.text.trim() === ''
  const begins = isEmpty ? place.at : place.at + 1
  lines.splice(begins, isEmpty ? 1 : 0, ...(first!.lines ?? []))
  const choices = [...(own.choices ?? []), ...(first!.choices ?? [])]
  const notes = [own.notes, first!.notes].filter((one) => one !== undefined).join('\n')
  const item = withKeys(own, {
    lines: lines.length === 0 ? undefined : lines,
    choices: choices.length === 0 ? undefined : choices,
    notes: notes === '' ? undefined : notes,
  })
  changes.push({ op: 'replace', in: { list: 'beats', scene: place.scene }, id: own.id, at: index, item })
  others.forEach((beat, at) =>
    changes.push({ op: 'insert', in: { list: 'beats', scene: place.scene }, at: index + 1 + at, item: beat }),
  )
  const after = story.scenes.findIndex(({ id }) => id === place.scene) + 1
  scenes.forEach((scene, at) => changes.push(insertScene(scene, roads, after + at)))
  const end = scenes.at(-1)?.beats.at(-1) ?? others.at(-1)
  const last =
    end === undefined
      ? `${place.scene}.${own.id}#line${Math.max(1, begins + (first!.lines?.length ?? 0))}`
      : `${scenes.at(-1)?.id ?? place.scene}.${end.id}`
  return { change: { op: 'batch', changes }, last }
}

/**
 * The edit that puts a manuscript behind the last scene of a story, in scenes of its own, and the address of its first beat;
 * `title` is that of what stands before the first scene in it.
 */
export function appendManuscript(
  story: Story,
  parts: readonly ScriptPart[],
  title: string,
  next: (text: string) => PlainLine,
): { readonly change: Change; readonly first: string } {
  // what is noted before the first scene is noted on it
  const begins = parts.findIndex(({ of }) => of !== 'note')
  const [before, [first, ...rest]] = [parts.slice(0, Math.max(0, begins)), parts.slice(Math.max(0, begins))]
  const whole: readonly ScriptPart[] =
    first?.of === 'scene' ? [first, ...before, ...rest] : [{ of: 'scene', title }, ...parts]
  const { changes, lineOf } = speaking(story, whole, next)
  const made = scenesMade(story, whole, lineOf, next)
  const roads = roadsTo(story, made)
  made.forEach((scene, at) => changes.push(insertScene(scene, roads, story.scenes.length + at)))
  return { change: { op: 'batch', changes }, first: `${made[0]!.id}.${made[0]!.beats[0]!.id}` }
}

function insertScene({ id, title, notes, beats }: MadeScene, roads: (name: string) => string, at: number): Change {
  const scene = {
    id,
    title,
    ...(notes === undefined ? {} : { notes }),
    beats: beats.map((beat) => finishedBeat(beat, roads)),
  }
  return { op: 'insert', in: { list: 'scenes' }, at, item: scene }
}

interface MadeScene {
  readonly id: string
  readonly title: string
  notes?: string
  readonly beats: MadeBeat[]
}

/** A beat as it is being read, its choices with the names of where they lead. */
interface MadeBeat {
  readonly id: string
  readonly title?: string
  notes?: string
  readonly lines: PlainLine[]
  readonly choices: { readonly choice: Choice; readonly to: string | undefined }[]
}

/**
 * What a script makes: first what goes `into` a scene, its first beat being the one into which it is put; then scenes of its
 * own. Where it goes into none, it begins with a scene.
 */
function scenesMade(
  story: Story,
  parts: readonly ScriptPart[],
  lineOf: (part: ScriptPart & { of: 'line' }) => PlainLine,
  next: (text: string) => PlainLine,
  into?: { readonly scene: string; readonly beat: Beat },
): MadeScene[] {
  const sceneIds = new Set(story.scenes.map(({ id }) => id))
  const there = story.scenes.find(({ id }) => id === into?.scene)
  let taken = new Set(there?.beats.map(({ id }) => id))
  const own: MadeBeat | undefined = into && { id: into.beat.id, lines: [], choices: [] }
  const made: MadeScene[] = own === undefined ? [] : [{ id: there!.id, title: there!.title, beats: [own] }]
  const beatCalled = (title: string) => {
    const id = freshId(idFrom(title, 'beat'), (one) => taken.has(one))
    taken.add(id)
    const beat: MadeBeat = { id, title, lines: [], choices: [] }
    made.at(-1)!.beats.push(beat)
    return beat
  }
  for (const part of parts) {
    if (part.of === 'scene') {
      const id = freshId(idFrom(part.title, 'scene'), (one) => sceneIds.has(one))
      sceneIds.add(id)
      taken = new Set()
      made.push({ id, title: part.title, beats: [] })
      continue
    }
    const last = made.at(-1)!
    if (part.of === 'beat') beatCalled(part.title)
    else if (part.of === 'note') {
      const about = last.beats.at(-1) ?? last
      about.notes = about.notes === undefined ? part.text : `${about.notes}\n${part.text}`
    } else {
      const beat = last.beats.at(-1) ?? beatCalled(last.title)
      if (part.of === 'line') beat.lines.push(lineOf(part))
      else if (beat === own && !mayChoose(into!.beat)) beat.lines.push(next(part.text))
      else
        beat.choices.push({
          choice: choiceOf(beat, beat === own ? into!.beat.choices : undefined, part.text),
          to: part.to,
        })
    }
  }
  // a scene has at least one beat
  for (const { title, beats } of made)
    if (beats.length === 0) beats.push({ id: idFrom(title, 'beat'), title, lines: [], choices: [] })
  return made
}

/** What stands for going back to the place that one came from. */
export const BACK = 'back to where it came from'

/** To which address a name leads: the title, the anchor or the address of a beat; those that are made come first. */
function roadsTo(story: Story, made: readonly MadeScene[]): (name: string) => string {
  const roads = new Map<string, string>()
  const know = (scene: string, beat: { readonly id: string; readonly title?: string | undefined }) => {
    const address = `${scene}.${beat.id}`
    const title = beat.title ?? beat.id.replaceAll('_', ' ')
    const anchor = anchorOf(title)
    // headings that are called the same have numbered anchors
    let free = anchor
    for (let count = 1; roads.has(free); count += 1) free = `${anchor}-${count}`
    for (const name of [title.toLowerCase(), free, address]) if (!roads.has(name)) roads.set(name, address)
  }
  for (const { id, beats } of made) for (const beat of beats) know(id, beat)
  for (const { id, beats } of story.scenes) for (const beat of beats) know(id, beat)
  return (name) =>
    (name.trim().toLowerCase() === BACK ? 'return' : undefined) ??
    roads.get(name.trim().toLowerCase()) ??
    roads.get(anchorOf(name)) ??
    roads.get(name) ??
    ''
}

/** The anchor of a heading as Markdown readers make it of its words: small letters, figures and hyphens. */
export function anchorOf(title: string): string {
  return title
    .toLowerCase()
    .replace(/[^\p{L}\p{N}\s-]/gu, '')
    .trim()
    .replace(/\s+/g, '-')
}

function finishedBeat({ choices, lines, ...rest }: MadeBeat, roads: (name: string) => string): Beat {
  const made = choices.map(({ choice, to }) => ({ ...choice, to: to === undefined ? '' : roads(to) }))
  return { ...rest, ...(lines.length > 0 ? { lines } : {}), ...(made.length > 0 ? { choices: made } : {}) }
}

function choiceOf(beat: MadeBeat, others: readonly Choice[] | undefined, text: string): Choice {
  const isTaken = (id: string) =>
    beat.choices.some(({ choice }) => choice.id === id) || (others ?? []).some((one) => one.id === id)
  return { id: freshId(idFrom(text, 'choice'), isTaken), text, to: '' }
}
