import { holds } from '../expression/evaluate'
import type { Condition, LinkedChoice, LinkedRule, LinkedStory, Road } from '../story/linked'
import { applyEffects } from './effects'
import { stateEnv, type PlayState } from './state'

export type Openness =
  | { readonly open: true; readonly rule: LinkedRule | undefined }
  | { readonly open: false; readonly why: 'gate' | 'once' | 'nowhere' | 'no-place' | 'rules' }

export function conditionHolds(story: LinkedStory, state: PlayState, condition: Condition | undefined): boolean {
  if (condition === undefined) return true
  return condition.expr !== undefined && holds(condition.expr, stateEnv(story, state))
}

/** Whether a road leads somewhere now. */
export function leadsSomewhere(state: PlayState, road: Road): boolean {
  return road.kind === 'beat' || (road.kind === 'return' && state.place !== -1)
}

/** The first rule that holds and whose target leads somewhere. */
export function firstRule(story: LinkedStory, state: PlayState, rules: readonly LinkedRule[]): LinkedRule | undefined {
  return rules.find((rule) => conditionHolds(story, state, rule.when) && leadsSomewhere(state, rule.to))
}

/** Whether a choice can be taken in a resting state; of a list, which rule would be used. */
export function openness(story: LinkedStory, state: PlayState, choice: LinkedChoice): Openness {
  if (!conditionHolds(story, state, choice.when)) return { open: false, why: 'gate' }
  if (choice.once && state.taken[choice.index] === 1) return { open: false, why: 'once' }
  if (choice.to.kind === 'road') {
    const { road } = choice.to
    if (leadsSomewhere(state, road)) return { open: true, rule: undefined }
    return { open: false, why: road.kind === 'return' ? 'no-place' : 'nowhere' }
  }
  // Tried, not executed: the rules are asked after the choice's own effects. Effects touch entries and stages only.
  const trial =
    choice.effects.length === 0 ? state : { ...state, entries: state.entries.slice(), stages: state.stages.slice() }
  const taken = state.taken[choice.index]!
  state.taken[choice.index] = 1
  applyEffects(story, trial, choice.effects)
  const rule = firstRule(story, trial, choice.to.rules)
  state.taken[choice.index] = taken
  return rule === undefined ? { open: false, why: 'rules' } : { open: true, rule }
}
