import { evaluate, type Env } from '../expression/evaluate'
import { add, subtract, type Int } from '../expression/integers'
import type { LinkedEffect, LinkedEntry, LinkedStory } from '../story/linked'
import { stateEnv, type PlayState } from './state'

/** What one executed effect did. */
export interface Change {
  readonly of: 'entry' | 'quest'
  readonly index: number
  readonly from: boolean | number | string
  readonly to: boolean | number | string
  /** The effect would have left the entry's range, and stopped at its end. */
  readonly overrun: boolean
}

/** Executes effects in order, changing `state`; `note` hears of each. */
export function applyEffects(
  story: LinkedStory,
  state: PlayState,
  effects: readonly LinkedEffect[],
  note?: (effect: LinkedEffect, change: Change) => void,
): void {
  if (effects.length === 0) return
  const env = stateEnv(story, state)
  for (const effect of effects) {
    const change = applyOne(story, state, env, effect)
    note?.(effect, change)
  }
}

function applyOne(story: LinkedStory, state: PlayState, env: Env, { effect }: LinkedEffect): Change {
  const value = evaluate(effect.value, env)
  if (effect.kind === 'stage') {
    const index = story.questOf.get(effect.quest)!
    const { stages } = story.quests[index]!
    const from = stages[state.stages[index]!]!
    state.stages[index] = stages.indexOf(String(value))
    return { of: 'quest', index, from, to: String(value), overrun: false }
  }
  const index = story.entryOf.get(effect.entry)!
  const entry = story.entries[index]!
  const from = state.entries[index]!
  if (typeof value === 'boolean' || typeof value === 'string') {
    state.entries[index] = value
    return { of: 'entry', index, from, to: value, overrun: false }
  }
  const old = from as number
  const wanted = effect.kind === 'set' ? value : effect.kind === 'add' ? add(old, value) : subtract(old, value)
  const to = intoRange(wanted, entry)
  state.entries[index] = to
  return { of: 'entry', index, from, to, overrun: to !== wanted }
}

function intoRange(value: Int, entry: LinkedEntry): number {
  if (value < entry.min) return entry.min
  if (value > entry.max) return entry.max
  return Number(value)
}
