import { TYPE, type MessageFormatElement } from '@formatjs/icu-messageformat-parser'
import { VISITS_MAX } from '../base/limits'
import { walk, type Expr } from '../expression/ast'
import type { LinkedStory } from '../story/linked'

/** Numbers of things: entries, then quests, then visit counts of beats, then choices taken, then the place. */
export interface Things {
  readonly quest: number
  readonly visits: number
  readonly taken: number
  readonly place: number
  readonly count: number
}

export function thingsOf(story: LinkedStory): Things {
  const quest = story.entries.length
  const visits = quest + story.quests.length
  const taken = visits + story.beats.length
  const place = taken + story.choices.length
  return { quest, visits, taken, place, count: place + 1 }
}

/** The things that an expression reads. */
export function thingsRead(story: LinkedStory, things: Things, expr: Expr): number[] {
  const reads: number[] = []
  walk(expr, (part) => {
    if (part.kind === 'entry') reads.push(story.entryOf.get(part.id)!)
    if (part.kind === 'quest') reads.push(things.quest + story.questOf.get(part.id)!)
    if (part.kind === 'visits') reads.push(things.visits + story.beatOf.get(part.beat)!)
    if (part.kind === 'taken') reads.push(things.taken + story.choiceOf.get(part.choice)!)
  })
  return reads
}

/** Which visit counts an expression reads, and up to which count they differ for it; which choices `taken` asks for. */
export function askedFor(story: LinkedStory, expr: Expr, visits: (beat: number, most: number) => void, taken: (choice: number) => void): void {
  let bounded: Set<Expr> | undefined
  const need = (address: string, most: number) => visits(story.beatOf.get(address)!, Math.max(1, Math.min(VISITS_MAX, most)))
  walk(expr, (part) => {
    if (part.kind === 'taken') taken(story.choiceOf.get(part.choice)!)
    if (part.kind === 'visits' && bounded?.has(part) !== true) need(part.beat, VISITS_MAX)
    // Counts above every number they are compared with need not be told apart.
    if (part.kind !== 'compare') return
    const [count, number] = part.left.kind === 'visits' ? [part.left, part.right] : [part.right, part.left]
    if (count.kind !== 'visits' || number.kind !== 'int') return
    bounded ??= new Set()
    bounded.add(count)
    need(count.beat, number.value + 1)
  })
}

/** Whether some form of the text shows a text entry. */
export function showsWords(story: LinkedStory, elements: readonly MessageFormatElement[]): boolean {
  return elements.some((part) => {
    if (part.type === TYPE.argument) return story.entries[story.entryOf.get(part.value) ?? -1]?.kind === 'text'
    if (part.type === TYPE.select || part.type === TYPE.plural) {
      return Object.values(part.options).some((option) => showsWords(story, option.value))
    }
    return false
  })
}
