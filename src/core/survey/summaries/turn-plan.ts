import type { LinkedStory } from '../../story/linked'
import { turnsIn } from '../../story/linked-parts'
import { isWithoutEffects, phasesOf } from '../../story/turns'

/** Which groups in turn a search follows, by their numbers. */
export type FollowedTurns = ReadonlySet<number>

/**
 * Turns that only read differently can not change where the story goes, so in one search they would only multiply the
 * states: those of each beat are followed in a search of their own.
 */
export interface TurnPlan {
  /** Where it matters which turn comes, and where there is only one. */
  readonly main: FollowedTurns
  /** The others, beat by beat. */
  readonly aside: readonly (readonly number[])[]
}

/** Ways in which turns can stand together up to which one search follows all of them. */
const TOGETHER_MAX = 4096

/** What a search follows that asks which line is said: all, unless that would be too much. */
export function turnsTold(story: LinkedStory): FollowedTurns {
  let together = 1
  for (const group of story.turnGroups) together *= phasesOf(group)
  return together > TOGETHER_MAX ? turnPlan(story).main : new Set(story.turnGroups.keys())
}

export function turnPlan(story: LinkedStory): TurnPlan {
  const main = new Set<number>()
  const aside: (readonly number[])[] = []
  if (story.turnGroups.length === 0) return { main, aside }
  for (const beat of story.inOrder) {
    const own: number[] = []
    for (const group of turnsIn(beat)) {
      if (phasesOf(group) > 1 && isWithoutEffects(group)) own.push(group.index)
      else main.add(group.index)
    }
    if (own.length > 0) aside.push(own)
  }
  return { main, aside }
}
