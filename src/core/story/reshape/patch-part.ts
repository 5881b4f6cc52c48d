import { never } from '../../base/assert'
import type { Address } from '../../base/address'
import { isGroup, isInTurn, type Beat, type Turn } from '../types'
import { mapped, patch } from '../rename/rewrite'

/** What conditions and effects stand on. */
export interface Part {
  when?: string | undefined
  do?: string[] | undefined
}

/**
 * A beat with one of its parts changed: that at an address in it. The same beat where there is no such part, or it
 * stays as it is.
 */
export function patchPart(
  beat: Beat,
  { choice, steps }: Pick<Address, 'choice' | 'steps'>,
  change: <T extends Part>(part: T) => T,
): Beat {
  const [first, second, third, fourth] = steps
  const at = <T extends Part>(list: T[] | undefined, number: number) =>
    list && mapped(list, (one) => (one === list[number - 1] ? change(one) : one))
  const inTurn = (turns: Turn[] | undefined, turn: number, line: number) =>
    turns && mapped(turns, (one) => (one === turns[turn - 1] ? patch(one, { lines: at(one.lines, line)! }) : one))
  if (choice !== undefined) {
    const choices =
      beat.choices &&
      mapped(beat.choices, (one) => {
        if (one.id !== choice) return one
        if (first === undefined) return change(one)
        return typeof one.to === 'string' ? one : patch(one, { to: at(one.to, first.number)! })
      })
    return patch(beat, { choices })
  }
  if (first === undefined) return beat
  const { of, number } = first
  switch (of) {
    case 'redirect':
      return patch(beat, { redirects: at(beat.redirects, number) })
    case 'arrive':
      return patch(beat, { arrive: at(beat.arrive, number) })
    case 'onward':
      return patch(beat, { onward: at(beat.onward, number) })
    case 'line': {
      const lines =
        beat.lines &&
        mapped(beat.lines, (one) => {
          if (one !== beat.lines![number - 1]) return one
          if (isInTurn(one)) {
            if (second === undefined) return change(one as typeof one & Part)
            return third === undefined ? one : patch(one, { inTurn: inTurn(one.inTurn, second.number, third.number)! })
          }
          if (!isGroup(one)) return change(one)
          const firstOf = mapped(one.firstOf, (variant) => {
            if (second === undefined || variant !== one.firstOf[second.number - 1]) return variant
            if (third === undefined) return change(variant as typeof variant & Part)
            return third.of === 'turn'
              ? patch(variant, { inTurn: fourth && inTurn(variant.inTurn, third.number, fourth.number) })
              : patch(variant, { lines: at(variant.lines, third.number) })
          })
          return patch(one, { firstOf })
        })
      return patch(beat, { lines })
    }
    case 'turn':
    case 'variant':
    case 'rule':
      return beat
    default:
      return never(of)
  }
}
