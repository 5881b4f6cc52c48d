import { linesOf, withPlainLines, type Beat, type Story } from '../types'
import type { Change } from '../changes/types'

/** How many lines have no short name, so that nobody can translate or record them. */
export function countUnnamed(story: Story): number {
  let count = 0
  for (const { beats } of story.scenes)
    for (const beat of beats) for (const { id } of linesOf(beat)) if (id === undefined) count += 1
  return count
}

/** One edit that gives every line without a short name one; undefined where all have. `newId` gives another one each time. */
export function nameLines(story: Story, newId: () => string): Change | undefined {
  const changes = story.scenes.flatMap(({ id: scene, beats }) =>
    beats.flatMap((beat, at): Change[] => {
      const named = withNames(beat, newId)
      return named === beat ? [] : [{ op: 'replace', in: { list: 'beats', scene }, id: beat.id, at, item: named }]
    }),
  )
  return changes.length === 0 ? undefined : { op: 'batch', changes }
}

function withNames(beat: Beat, newId: () => string): Beat {
  if (linesOf(beat).every(({ id }) => id !== undefined)) return beat
  const taken = new Set(linesOf(beat).map(({ id }) => id))
  const fresh = () => {
    for (;;) {
      const id = newId()
      if (taken.has(id)) continue
      taken.add(id)
      return id
    }
  }
  return {
    ...beat,
    lines: beat.lines!.map((line) =>
      withPlainLines(line, (plain) => (plain.id === undefined ? { id: fresh(), ...plain } : plain)),
    ),
  }
}
