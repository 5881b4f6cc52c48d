import { walk, type Expr } from '../expression/ast'
import type { Condition, LinkedEffect, LinkedLine, LinkedRule, LinkedStory, LinkedText, Use } from './linked'
import { argumentsIn } from './text'

/** Notes every entry and quest that a sound expression reads. */
export function noteReads(expr: Expr, address: string, part: string, uses: Use[]): void {
  walk(expr, (inner) => {
    if (inner.kind === 'entry' || inner.kind === 'quest')
      uses.push({ of: inner.kind, id: inner.id, how: 'read', address, part })
  })
}

/** Where entries and quests are read and written, beat by beat and then in the promises; what can't be understood uses nothing. */
export function usesIn(story: LinkedStory): Use[] {
  const uses: Use[] = []
  const asks = (when: Condition | undefined) => {
    if (when?.expr !== undefined) noteReads(when.expr, when.address, when.part, uses)
  }
  const does = (effects: readonly LinkedEffect[], address: string) => {
    for (const { number, effect } of effects) {
      const part = `do${number}`
      noteReads(effect.value, address, part, uses)
      uses.push({
        ...(effect.kind === 'stage' ? { of: 'quest', id: effect.quest } : { of: 'entry', id: effect.entry }),
        how: 'write',
        address,
        part,
      })
    }
  }
  const shows = ({ parsed }: LinkedText, address: string, part: string) => {
    for (const argument of parsed === undefined ? [] : argumentsIn(parsed))
      uses.push({ ...argument, how: 'read', address, part })
  }
  const owns = ({
    address,
    when,
    effects,
  }: LinkedRule | LinkedLine | LinkedStory['beats'][number]['arrive'][number]) => {
    asks(when)
    does(effects, address)
  }
  const says = (line: LinkedLine) => {
    owns(line)
    shows(line.text, line.address, 'text')
  }
  for (const beat of story.beats) {
    for (const rule of beat.redirects) owns(rule)
    for (const rule of beat.arrive) owns(rule)
    for (const line of beat.lines) {
      if (line.kind === 'line') says(line)
      else
        for (const variant of line.variants) {
          asks(variant.when)
          for (const inner of variant.lines) says(inner)
        }
    }
    for (const choice of beat.choices) {
      shows(choice.text, choice.address, 'text')
      asks(choice.when)
      does(choice.effects, choice.address)
      if (choice.to.kind === 'rules') for (const rule of choice.to.rules) owns(rule)
    }
    if (beat.ask !== undefined) {
      if (beat.ask.into !== -1)
        uses.push({
          of: 'entry',
          id: story.entries[beat.ask.into]!.id,
          how: 'write',
          address: beat.address,
          part: 'into',
        })
      shows(beat.ask.prompt, beat.address, 'prompt')
    }
    for (const rule of beat.onward) owns(rule)
  }
  return [...uses, ...story.promiseUses]
}
