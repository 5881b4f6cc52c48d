import { isGroup, type Beat } from '../types'
import { mapped, patch } from '../rename/rewrite'

/** What conditions and effects stand on. */
export interface Part {
  when?: string | undefined
  do?: string[] | undefined
}

/**
 * A beat with one of its parts changed. `rest` is what stands behind the beat's address in the
 * part's: `.choice`, `.choice#2`, `#arrive1`, `#line2.variant1.line1`. The same beat where there is
 * no such part, or it stays as it is.
 */
export function patchPart(beat: Beat, rest: string, change: <T extends Part>(part: T) => T): Beat {
  const at = <T extends Part>(list: T[] | undefined, number: number) =>
    list && mapped(list, (one) => (one === list[number - 1] ? change(one) : one))
  const rule = /^#(redirect|arrive|onward)(\d+)$/.exec(rest)
  if (rule !== null) {
    const number = Number(rule[2])
    if (rule[1] === 'redirect') return patch(beat, { redirects: at(beat.redirects, number) })
    if (rule[1] === 'arrive') return patch(beat, { arrive: at(beat.arrive, number) })
    return patch(beat, { onward: at(beat.onward, number) })
  }
  const choice = /^\.([a-z]\w*)(?:#(\d+))?$/.exec(rest)
  if (choice !== null) {
    const choices =
      beat.choices &&
      mapped(beat.choices, (one) => {
        if (one.id !== choice[1]) return one
        if (choice[2] === undefined) return change(one)
        return typeof one.to === 'string' ? one : patch(one, { to: at(one.to, Number(choice[2]))! })
      })
    return patch(beat, { choices })
  }
  const line = /^#line(\d+)(?:\.variant(\d+))?(?:\.line(\d+))?$/.exec(rest)
  if (line === null) return beat
  const lines =
    beat.lines &&
    mapped(beat.lines, (one) => {
      if (one !== beat.lines![Number(line[1]) - 1]) return one
      if (!isGroup(one)) return change(one)
      const firstOf = mapped(one.firstOf, (variant) => {
        if (variant !== one.firstOf[Number(line[2]) - 1]) return variant
        return line[3] === undefined
          ? change(variant as typeof variant & Part)
          : patch(variant, { lines: at(variant.lines, Number(line[3]))! })
      })
      return patch(one, { firstOf })
    })
  return patch(beat, { lines })
}
