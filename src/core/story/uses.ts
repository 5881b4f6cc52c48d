import { walk, type Expr } from '../expression/ast'
import type { LinkedStory, LinkedText, Use } from './linked'
import { eachOwner, eachText } from './linked-parts'
import { argumentsIn, type TextArgument } from './text'

/** Notes every entry and quest that a sound expression reads. */
export function noteReads(expr: Expr, address: string, part: string, uses: Use[]): void {
  walk(expr, (inner) => {
    if (inner.kind === 'entry' || inner.kind === 'quest')
      uses.push({ of: inner.kind, id: inner.id, how: 'read', address, part })
  })
}

/** Notes what an argument of a text reads; what a person is called reads what it does at the person. */
export function noteArgument({ of, id }: TextArgument, address: string, part: string, uses: Use[]): void {
  if (of !== 'person') uses.push({ of, id, how: 'read', address, part })
}

/** Where entries and quests are read and written, beat by beat, then in the promises and the journal; what can't be understood uses nothing. */
export function usesIn(story: LinkedStory): Use[] {
  const uses: Use[] = []
  const shows = ({ parsed }: LinkedText, address: string, part: string) => {
    for (const argument of parsed === undefined ? [] : argumentsIn(parsed)) noteArgument(argument, address, part, uses)
  }
  for (const beat of story.inOrder) {
    eachOwner(beat, (address, when, effects) => {
      if (when?.expr !== undefined) noteReads(when.expr, when.address, when.part, uses)
      for (const { number, effect } of effects) {
        const part = `do${number}`
        noteReads(effect.value, address, part, uses)
        const written =
          effect.kind === 'stage'
            ? ({ of: 'quest', id: effect.quest } as const)
            : ({ of: 'entry', id: effect.entry } as const)
        uses.push({ ...written, how: 'write', address, part })
      }
    })
    eachText(beat, shows)
    const into = beat.ask === undefined ? undefined : story.entries[beat.ask.into]
    if (into !== undefined) uses.push({ of: 'entry', id: into.id, how: 'write', address: beat.address, part: 'into' })
  }
  return [...uses, ...story.promiseUses, ...story.journalUses, ...story.calledUses]
}
