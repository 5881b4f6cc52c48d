import { parseAddress } from '../../base/address'
import type { Change } from '../changes/types'
import { beatAt } from '../beat-at'
import { patchPart, type Part } from '../reshape/patch-part'
import type { Beat, Story } from '../types'

/** The replacements of all beats in which parts are changed; several parts of one beat make one of them. */
export function patchOwners(
  story: Story,
  owners: readonly string[],
  change: <T extends Part>(part: T, owner: string) => T,
): Change[] {
  const beats = new Map<string, Beat>()
  for (const owner of owners) {
    const place = parseAddress(owner)
    if (place === undefined) continue
    const name = `${place.scene}.${place.beat}`
    const beat = beats.get(name) ?? beatAt(story, name)
    if (beat !== undefined)
      beats.set(
        name,
        patchPart(beat, place, (part) => change(part, owner)),
      )
  }
  return story.scenes.flatMap((scene) =>
    scene.beats.flatMap((beat, at): Change[] => {
      const item = beats.get(`${scene.id}.${beat.id}`)
      return item === undefined || item === beat
        ? []
        : [{ op: 'replace', in: { list: 'beats', scene: scene.id }, id: beat.id, at, item }]
    }),
  )
}
