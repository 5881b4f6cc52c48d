import type { Beat, PlainLine, Story } from '../types'
import { linesOf, withPlainLines } from '../types'
import { withKeys } from './beat-edits'

/**
 * Who speaks an empty line next when one asks for somebody else: those who spoke last in the scene, the nearest first,
 * then nobody; with fewer than two of them the cast comes before nobody. Undefined: nobody.
 */
export function nextSpeaker(story: Story, scene: string, beat: Beat, line: PlainLine): string | undefined {
  const near = spokenBefore(story, scene, beat, line)
  const others = (story.cast ?? []).map(({ id }) => id).filter((id) => !near.includes(id))
  const circle = near.length < 2 ? [...near, ...others, undefined] : [...near, undefined, ...others]
  return circle[(circle.indexOf(line.speaker) + 1) % circle.length]
}

/** Speakers of the lines before this one in its scene, the nearest first, each once. */
function spokenBefore(story: Story, scene: string, beat: Beat, line: PlainLine): string[] {
  const speakers = new Set<string>()
  const beats = story.scenes.find(({ id }) => id === scene)?.beats ?? []
  const at = beats.findIndex(({ id }) => id === beat.id)
  const own = linesOf(beat)
  const before = own.slice(0, Math.max(0, own.indexOf(line)))
  for (const lines of [before, ...beats.slice(0, Math.max(0, at)).reverse().map(linesOf)]) {
    for (const { speaker } of [...lines].reverse()) if (speaker !== undefined) speakers.add(speaker)
    if (speakers.size >= 2) break
  }
  return [...speakers]
}

/** A line parted in two; the first keeps all that it had, the second goes on in the same voice. */
export function splitLine(
  line: PlainLine,
  from: number,
  to: number,
  next: (text: string) => PlainLine,
): readonly [PlainLine, PlainLine] {
  return [
    { ...line, text: line.text.slice(0, from).trimEnd() },
    { ...next(line.text.slice(to).trimStart()), ...voiceOf(line) },
  ]
}

/** Who speaks and how, for a line that goes on in the same voice. */
export function voiceOf({ speaker, manner }: PlainLine): Partial<PlainLine> {
  return { ...(speaker === undefined ? {} : { speaker }), ...(manner === undefined ? {} : { manner }) }
}

/** Two lines as one, with what the first had; undefined where the second has something that would be lost. */
export function joinLines(
  first: PlainLine,
  second: PlainLine,
): { readonly line: PlainLine; readonly at: number } | undefined {
  const { text } = second
  const kept = withKeys(second, { id: undefined, text: '', speaker: undefined, manner: undefined })
  if (Object.values(kept).some((value) => value !== undefined && value !== '')) return undefined
  const between = first.text === '' || text === '' || /\s$/.test(first.text) ? '' : ' '
  return { line: { ...first, text: first.text + between + text }, at: first.text.length + between.length }
}

/** Every line of a beat that begins with somebody's name and a colon is spoken by them. */
export function speakLines(beat: Beat, names: readonly string[], speaker: string): Beat {
  const spoken = (line: PlainLine): PlainLine => {
    if (line.speaker !== undefined) return line
    const match = /^([^:\n]{1,40}):\s*/u.exec(line.text)
    if (match === null || !names.includes(match[1]!.trim().toLowerCase())) return line
    return withKeys({ ...line, speaker, text: line.text.slice(match[0].length) }, { manner: undefined })
  }
  // the same beat where nobody speaks anew
  return linesOf(beat).every((line) => spoken(line) === line)
    ? beat
    : { ...beat, lines: beat.lines?.map((line) => withPlainLines(line, spoken)) }
}
