import { freshId } from '../../base/ids'
import { idFrom } from '../../base/id-from'
import type { Change } from '../changes/types'
import type { Beat, Choice, PlainLine, Story } from '../types'
import { mayChoose, withKeys } from './beat-edits'
import { newPerson, peopleTyped } from './people-typed'

/** One thing that a pasted text was understood as. */
export type ScriptPart =
  | { readonly of: 'line'; readonly speaker?: string; readonly isAction: boolean; readonly text: string }
  | { readonly of: 'choice'; readonly text: string }
  | { readonly of: 'beat'; readonly title: string }

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
    else if (item) parts.push({ of: 'choice', text: item[1]! })
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
    part.of === 'line' ? lineOf(part) : next(part.of === 'beat' ? part.title : part.text),
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
  const taken = new Set(beats.map(({ id }) => id))
  const made: Beat[] = [{ id: own.id, lines: [], choices: [] }]
  for (const part of parts) {
    const beat = made.at(-1)!
    if (part.of === 'beat') {
      const id = freshId(idFrom(part.title, 'beat'), (one) => taken.has(one))
      taken.add(id)
      made.push({ id, title: part.title, lines: [], choices: [] })
    } else if (part.of === 'line') beat.lines!.push(lineOf(part))
    else if (made.length > 1 || mayChoose(own)) beat.choices!.push(choiceOf(beat, own, part.text))
    else beat.lines!.push(next(part.text))
  }
  const [first, ...others] = made.map((beat) => {
    const { lines, choices, ...rest } = beat
    return { ...rest, ...(lines!.length > 0 ? { lines } : {}), ...(choices!.length > 0 ? { choices } : {}) }
  })
  const lines = [...(own.lines ?? [])]
  const target = lines[place.at]
  const isEmpty = target !== undefined && 'text' in target && target.text.trim() === ''
  const begins = isEmpty ? place.at : place.at + 1
  lines.splice(begins, isEmpty ? 1 : 0, ...(first!.lines ?? []))
  const choices = [...(own.choices ?? []), ...(first!.choices ?? [])]
  const item = withKeys(own, {
    lines: lines.length === 0 ? undefined : lines,
    choices: choices.length === 0 ? undefined : choices,
  })
  changes.push({ op: 'replace', in: { list: 'beats', scene: place.scene }, id: own.id, at: index, item })
  others.forEach((beat, at) =>
    changes.push({ op: 'insert', in: { list: 'beats', scene: place.scene }, at: index + 1 + at, item: beat }),
  )
  const end = others.at(-1)
  const last =
    end === undefined
      ? `${place.scene}.${own.id}#line${Math.max(1, begins + (first!.lines?.length ?? 0))}`
      : `${place.scene}.${end.id}`
  return { change: { op: 'batch', changes }, last }
}

function choiceOf(beat: Beat, own: Beat, text: string): Choice {
  const isTaken = (id: string) =>
    [...(beat.choices ?? []), ...(beat.id === own.id ? (own.choices ?? []) : [])].some((one) => one.id === id)
  return { id: freshId(idFrom(text, 'choice'), isTaken), text, to: '' }
}
