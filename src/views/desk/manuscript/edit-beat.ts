import {
  isGroup,
  isInTurn,
  isPlain,
  type Beat,
  type Line,
  type PlainLine,
  type Story,
  type TurnGroup,
  type Variant,
  type VariantGroup,
} from '../../../core/story/types'
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

/** Where a group in turn stands in its beat: alone, or in a variant. Numbers from 0. */
export interface TurnsPath {
  readonly at: number
  readonly variant?: number
}

/** Where a plain line stands in its beat: alone, or in a variant, a turn, or a turn of a variant. */
export interface LinePath extends TurnsPath {
  readonly turn?: number
  /** Its number there; none where it stands alone. */
  readonly line?: number
}

export function turnsName({ at, variant }: TurnsPath): string {
  return `line${at + 1}${variant === undefined ? '' : `.variant${variant + 1}`}`
}

export function lineName(path: LinePath): string {
  const turn = path.turn === undefined ? '' : `.turn${path.turn + 1}`
  return `${turnsName(path)}${turn}${path.line === undefined ? '' : `.line${path.line + 1}`}`
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
  if (path.line === undefined) return { lines: beat.lines ?? [], at: path.at }
  const { variant, turn } = path
  const outer = beat.lines?.[path.at]
  const holder =
    outer === undefined || isPlain(outer) ? undefined : isGroup(outer) ? outer.firstOf[variant ?? -1] : outer
  const lines = turn === undefined ? holder && 'lines' in holder && holder.lines : holder?.inTurn?.[turn]?.lines
  return { lines: lines || [], at: path.line }
}

function withSiblings(beat: Beat, path: LinePath, lines: readonly Line[]): Beat {
  if (path.line === undefined) return withKeys(beat, { lines: listOrNone(lines) })
  const { turn } = path
  const plain = lines as PlainLine[]
  if (turn === undefined) return updateVariant(beat, path, (variant) => ({ ...variant, lines: plain }))
  return updateTurns(beat, path, (group) => ({
    ...group,
    inTurn: replaceAt(group.inTurn, turn, { ...group.inTurn![turn]!, lines: plain }),
  }))
}

/** A variant with something in it changed. */
function updateVariant(beat: Beat, { at, variant = -1 }: TurnsPath, update: (variant: Variant) => Variant): Beat {
  const group = beat.lines?.[at]
  const old = group !== undefined && isGroup(group) ? group.firstOf[variant] : undefined
  if (old === undefined) return beat
  const firstOf = replaceAt((group as VariantGroup).firstOf, variant, update(old))
  return { ...beat, lines: replaceAt(beat.lines, at, { ...(group as VariantGroup), firstOf }) }
}

/** A group in turn, or a variant that has turns, with something in it changed. */
export function updateTurns(beat: Beat, path: TurnsPath, update: <T extends TurnGroup | Variant>(group: T) => T): Beat {
  if (path.variant !== undefined) return updateVariant(beat, path, update)
  const group = beat.lines?.[path.at]
  if (group === undefined || !isInTurn(group)) return beat
  return { ...beat, lines: replaceAt(beat.lines, path.at, update(group)) }
}

export function updateLine(beat: Beat, path: LinePath, update: (line: PlainLine) => PlainLine): Beat {
  const { lines, at } = siblings(beat, path)
  const line = lines[at]
  return line === undefined || !isPlain(line) ? beat : withSiblings(beat, path, replaceAt(lines, at, update(line)))
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
  return path.line === undefined ? { at: path.at + by } : { ...path, line: path.line + by }
}

/** The line before the one at `path` among those that it stands with, where that is a plain one. */
export function lineBefore(beat: Beat, path: LinePath): PlainLine | undefined {
  const { lines, at } = siblings(beat, path)
  const before = lines[at - 1]
  return before !== undefined && isPlain(before) ? before : undefined
}

export function lineAt(beat: Beat, path: LinePath): PlainLine | undefined {
  const { lines, at } = siblings(beat, path)
  const line = lines[at]
  return line !== undefined && isPlain(line) ? line : undefined
}
