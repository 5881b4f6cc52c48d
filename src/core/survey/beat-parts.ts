import type { LinkedBeat } from '../story/linked'
import type { MarkKind } from './marks'

/** What in a beat can be come to for itself, in the order of the document; the beat first. */
export interface BeatPart {
  readonly kind: MarkKind
  readonly address: string
  /** What it is called in a message. */
  readonly word: string
  /** So many of the parts that follow lie in it: they are not come to where it is not. */
  readonly within: number
}

export function beatParts(beat: LinkedBeat): BeatPart[] {
  const parts: BeatPart[] = []
  const add = (kind: MarkKind, address: string, word: string, within = 0) => parts.push({ kind, address, word, within })
  add('beat', beat.address, 'beat')
  for (const { address } of beat.redirects) add('redirect', address, 'redirect')
  for (const { address } of beat.arrive) add('arrive', address, 'effect on arrival')
  for (const line of beat.lines) {
    if (line.kind === 'line') {
      add('line', line.address, 'line')
      continue
    }
    for (const variant of line.variants) {
      add('variant', variant.address, 'variant', variant.lines.length)
      for (const { address } of variant.lines) add('line', address, 'line')
    }
  }
  for (const { address, to } of beat.choices) {
    const rules = to.kind === 'rules' ? to.rules : []
    add('choice', address, 'choice', rules.length)
    for (const rule of rules) add('rule', rule.address, 'rule of the choice')
  }
  for (const { address } of beat.onward) add('onward', address, 'onward road')
  return parts.map((part, at) => (at === 0 ? { ...part, within: parts.length - 1 } : part))
}
