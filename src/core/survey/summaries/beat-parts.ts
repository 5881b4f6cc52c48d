import type { LinkedBeat, LinkedRule } from '../../story/linked'
import type { PartKind } from './part-kinds'

/**
 * Hears what in a beat can be come to for itself, in the order of the document, the beat first;
 * `word` is what it is called in a message. So many of the parts that follow lie `within` one:
 * they are not come to where it is not.
 */
export function eachPart(
  beat: LinkedBeat,
  hear: (kind: PartKind, address: string, word: string, within: number) => void,
): void {
  // everything follows the beat, and all of it lies in it
  hear('beat', beat.address, 'beat', Infinity)
  const rules = (list: readonly LinkedRule[], kind: PartKind, word: string) => {
    for (let at = 0; at < list.length; at += 1) hear(kind, list[at]!.address, word, 0)
  }
  rules(beat.redirects, 'redirect', 'redirect')
  for (let at = 0; at < beat.arrive.length; at += 1) hear('arrive', beat.arrive[at]!.address, 'effect on arrival', 0)
  for (let at = 0; at < beat.lines.length; at += 1) {
    const line = beat.lines[at]!
    if (line.kind === 'line') {
      hear('line', line.address, 'line', 0)
      continue
    }
    for (let index = 0; index < line.variants.length; index += 1) {
      const { address, lines } = line.variants[index]!
      hear('variant', address, 'variant', lines.length)
      for (let number = 0; number < lines.length; number += 1) hear('line', lines[number]!.address, 'line', 0)
    }
  }
  for (let at = 0; at < beat.choices.length; at += 1) {
    const { address, to } = beat.choices[at]!
    hear('choice', address, 'choice', to.kind === 'rules' ? to.rules.length : 0)
    if (to.kind === 'rules') rules(to.rules, 'rule', 'rule of the choice')
  }
  rules(beat.onward, 'onward', 'onward road')
}

/** How many of them there are. */
export function countParts(beat: LinkedBeat): number {
  let count = 1 + beat.redirects.length + beat.arrive.length + beat.choices.length + beat.onward.length
  for (let at = 0; at < beat.lines.length; at += 1) {
    const line = beat.lines[at]!
    if (line.kind === 'line') count += 1
    else for (let index = 0; index < line.variants.length; index += 1) count += 1 + line.variants[index]!.lines.length
  }
  for (let at = 0; at < beat.choices.length; at += 1) {
    const { to } = beat.choices[at]!
    if (to.kind === 'rules') count += to.rules.length
  }
  return count
}
