import { isGroup, type Beat, type Line, type PlainLine, type Story } from '../../../core/story/types'
import type { StorySession } from '../../../session/story-session'
import {
  insertAt,
  listOrNone,
  moveBy,
  removeAt,
  replaceAt,
  replaceBeat,
  withKeys,
} from '../../../core/story/reshape/beat-edits'

/** Where a beat is, by name: it may have moved since it was drawn. */
export interface BeatRef {
  readonly scene: string
  readonly id: string
}

/** Where a plain line stands in its beat: alone, or as [group, variant, line]. */
export type LinePath = readonly [number] | readonly [number, number, number]

export function lineName(path: LinePath): string {
  return path.length === 1 ? `line${path[0] + 1}` : `line${path[0] + 1}.variant${path[1] + 1}.line${path[2] + 1}`
}

export function fieldOf({ scene, id }: BeatRef, part: string): string {
  return `${scene}.${id}${part}`
}

/** Makes an edit of a beat as it is now. */
export function editBeat(
  session: StorySession,
  { scene, id }: BeatRef,
  make: (beat: Beat, story: Story) => Beat | undefined,
): void {
  const { story } = session.getState()
  const beats = story.scenes.find((one) => one.id === scene)?.beats ?? []
  const index = beats.findIndex((one) => one.id === id)
  const beat = beats[index]
  if (beat === undefined) return
  const next = make(beat, story)
  if (next !== undefined && next !== beat) session.edit(replaceBeat({ scene, index, beat }, next))
}

/** The lines that stand together with the line at `path`, and where in them it is. */
function siblings(beat: Beat, path: LinePath): { readonly lines: readonly Line[]; readonly at: number } {
  if (path.length === 1) return { lines: beat.lines ?? [], at: path[0] }
  const group = beat.lines?.[path[0]]
  return { lines: group !== undefined && isGroup(group) ? (group.firstOf[path[1]]?.lines ?? []) : [], at: path[2] }
}

function withSiblings(beat: Beat, path: LinePath, lines: readonly Line[]): Beat {
  if (path.length === 1) return withKeys(beat, { lines: listOrNone(lines) })
  const group = beat.lines?.[path[0]]
  if (group === undefined || !isGroup(group)) return beat
  const variant = { ...group.firstOf[path[1]]!, lines: lines as PlainLine[] }
  return {
    ...beat,
    lines: replaceAt(beat.lines, path[0], { ...group, firstOf: replaceAt(group.firstOf, path[1], variant) }),
  }
}

export function updateLine(beat: Beat, path: LinePath, update: (line: PlainLine) => PlainLine): Beat {
  const { lines, at } = siblings(beat, path)
  const line = lines[at]
  return line === undefined || isGroup(line) ? beat : withSiblings(beat, path, replaceAt(lines, at, update(line)))
}

export function insertLineAfter(beat: Beat, path: LinePath, line: PlainLine): Beat {
  const { lines, at } = siblings(beat, path)
  return withSiblings(beat, path, insertAt(lines, at + 1, line))
}

export function removeLine(beat: Beat, path: LinePath): Beat {
  const { lines, at } = siblings(beat, path)
  return withSiblings(beat, path, removeAt(lines, at))
}

export function moveLine(beat: Beat, path: LinePath, by: 1 | -1): Beat | undefined {
  const { lines, at } = siblings(beat, path)
  const moved = moveBy(lines, at, by)
  return moved && withSiblings(beat, path, moved)
}

export function nextPath(path: LinePath, by: number): LinePath {
  return path.length === 1 ? [path[0] + by] : [path[0], path[1], path[2] + by]
}

/** Focuses a field by its name once the page has been drawn with it. */
export function focusSoon(field: string, tries = 24): void {
  requestAnimationFrame(() => {
    const found = document.querySelector<HTMLElement>(`[data-field="${CSS.escape(field)}"]`)
    if (found !== null) {
      found.focus()
      found.scrollIntoView({ block: 'nearest' })
    } else if (tries > 0) focusSoon(field, tries - 1)
  })
}
