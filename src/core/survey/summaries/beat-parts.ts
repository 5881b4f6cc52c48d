import type { LinkedBeat, LinkedRule, LinkedTurns } from '../../story/linked'
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
  const turns = (group: LinkedTurns) => {
    for (const { address, lines } of group.turns) {
      hear('turn', address, 'turn', lines.length)
      for (let number = 0; number < lines.length; number += 1) hear('line', lines[number]!.address, 'line', 0)
    }
  }
  rules(beat.redirects, 'redirect', 'redirect')
  for (let at = 0; at < beat.arrive.length; at += 1) hear('arrive', beat.arrive[at]!.address, 'effect on arrival', 0)
  for (let at = 0; at < beat.lines.length; at += 1) {
    const line = beat.lines[at]!
    if (line.kind === 'line') {
      hear('line', line.address, 'line', 0)
      continue
    }
    if (line.kind === 'turns') {
      hear('turns', line.address, 'group in turn', 0)
      turns(line)
      continue
    }
    for (let index = 0; index < line.variants.length; index += 1) {
      const { address, lines, turns: inTurn } = line.variants[index]!
      hear('variant', address, 'variant', lines.length + (inTurn === undefined ? 0 : countTurns(inTurn)))
      for (let number = 0; number < lines.length; number += 1) hear('line', lines[number]!.address, 'line', 0)
      if (inTurn !== undefined) turns(inTurn)
    }
  }
  for (let at = 0; at < beat.choices.length; at += 1) {
    const { address, to } = beat.choices[at]!
    hear('choice', address, 'choice', to.kind === 'rules' ? to.rules.length : 0)
    if (to.kind === 'rules') rules(to.rules, 'rule', 'rule of the choice')
  }
  rules(beat.onward, 'onward', 'onward road')
}

/** The turns of a group with their lines. */
function countTurns({ turns }: LinkedTurns): number {
  let count = turns.length
  for (let at = 0; at < turns.length; at += 1) count += turns[at]!.lines.length
  return count
}

/** How many of them there are. */
export function countParts(beat: LinkedBeat): number {
  let count = 1 + beat.redirects.length + beat.arrive.length + beat.choices.length + beat.onward.length
  for (let at = 0; at < beat.lines.length; at += 1) {
    const line = beat.lines[at]!
    if (line.kind === 'line') count += 1
    else if (line.kind === 'turns') count += 1 + countTurns(line)
    else
      for (let index = 0; index < line.variants.length; index += 1) {
        const { lines, turns } = line.variants[index]!
        count += 1 + lines.length + (turns === undefined ? 0 : countTurns(turns))
      }
  }
  for (let at = 0; at < beat.choices.length; at += 1) {
    const { to } = beat.choices[at]!
    if (to.kind === 'rules') count += to.rules.length
  }
  return count
}
