import { TYPE, type MessageFormatElement } from '@formatjs/icu-messageformat-parser'
import { VISITS_MAX } from '../../base/limits'
import { walk, type Expr } from '../../expression/ast'
import type { LinkedStory } from '../../story/linked'

/** Numbers of variables: entries, then quests, then visit counts of beats, then choices taken, then groups in turn, then the place. */
export interface Variables {
  readonly quest: number
  readonly visits: number
  readonly taken: number
  readonly turns: number
  readonly place: number
  readonly count: number
}

export function variablesOf(story: LinkedStory): Variables {
  const quest = story.entries.length
  const visits = quest + story.quests.length
  const taken = visits + story.beats.length
  const turns = taken + story.choices.length
  const place = turns + story.turnGroups.length
  return { quest, visits, taken, turns, place, count: place + 1 }
}

/** The variables that an expression reads. */
export function variablesRead(story: LinkedStory, variables: Variables, expr: Expr): number[] {
  const reads: number[] = []
  eachVariable(story, variables, expr, (variable) => reads.push(variable))
  return reads
}

/** Hears each of them; this is asked of every expression of a story, so nothing is allocated. */
export function eachVariable(
  story: LinkedStory,
  variables: Variables,
  expr: Expr,
  hear: (variable: number) => void,
): void {
  switch (expr.kind) {
    case 'entry':
      return hear(story.entryOf.get(expr.id)!)
    case 'quest':
      return hear(variables.quest + story.questOf.get(expr.id)!)
    case 'visits':
      return hear(variables.visits + story.beatOf.get(expr.beat)!)
    case 'taken':
      return hear(variables.taken + story.choiceOf.get(expr.choice)!)
    case 'not':
    case 'negate':
      return eachVariable(story, variables, expr.operand, hear)
    case 'and':
    case 'or':
    case 'compare':
    case 'arithmetic':
      eachVariable(story, variables, expr.left, hear)
      return eachVariable(story, variables, expr.right, hear)
    case 'order':
      return eachVariable(story, variables, expr.subject, hear)
    case 'in':
      eachVariable(story, variables, expr.left, hear)
      for (let at = 0; at < expr.items.length; at += 1) eachVariable(story, variables, expr.items[at]!, hear)
      return
    case 'bool':
    case 'int':
    case 'string':
    case 'at':
    case 'ended':
      return
  }
}

/** Whether some part of an expression is a text entry. */
export function readsText(story: LinkedStory, variables: Variables, expr: Expr): boolean {
  let found = false
  eachVariable(story, variables, expr, (variable) => {
    found ||= variable < variables.quest && story.entries[variable]!.kind === 'text'
  })
  return found
}

/** Which visit counts an expression reads, and up to which count they differ for it; which choices `taken` asks for. */
export function askedFor(
  story: LinkedStory,
  expr: Expr,
  visits: (beat: number, most: number) => void,
  taken: (choice: number) => void,
): void {
  let bounded: Set<Expr> | undefined
  const need = (address: string, most: number) =>
    visits(story.beatOf.get(address)!, Math.max(1, Math.min(VISITS_MAX, most)))
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

/** Whether some form of the text shows a text entry that the story fills. */
export function showsWords(story: LinkedStory, elements: readonly MessageFormatElement[]): boolean {
  return elements.some((part) => {
    if (part.type === TYPE.argument) {
      const entry = story.entries[story.entryOf.get(part.value) ?? -1]
      return entry?.kind === 'text' && entry.given === undefined
    }
    if (part.type === TYPE.select || part.type === TYPE.plural) {
      return Object.values(part.options).some((option) => showsWords(story, option.value))
    }
    return false
  })
}
