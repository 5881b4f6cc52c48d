import { inOneGo, type Slices } from '../../../base/slices'
import type { Action } from './actions'
import type { Decided } from './demand'
import { nameOf } from './ranges'

/** Actions that lead to the same whichever way some conditions turn out, as one without those. */
export interface JoinedAction {
  readonly action: Action
  readonly parts: readonly Action[]
}

/** Conditions beyond which joining is not tried. */
const CONDITIONS_MAX = 8
/** Actions that are looked at before others get their turn. */
const ACTIONS_A_TURN = 1024

/** Joins actions that differ only in how one condition turned out, and in what was seen, as long as there are any; `numbered` tells conditions apart. */
export function joinedActions(actions: readonly Action[], numbered: (one: Decided) => number): JoinedAction[] {
  return inOneGo(joinedInTurns(actions, numbered))
}

/** The same; others get their turn where there are many. */
export function* joinedInTurns(actions: readonly Action[], numbered: (one: Decided) => number): Slices<JoinedAction[]> {
  const alike = new Map<string, JoinedAction[]>()
  for (const [at, action] of actions.entries()) {
    if (at % ACTIONS_A_TURN === ACTIONS_A_TURN - 1) yield
    const { guards, ranges, writes, given, to, decision, goesOn } = action
    const key = [
      guards.join(' '),
      ranges.map(nameOf).join(' '),
      writes.join(' '),
      given.join(' '),
      to,
      decision,
      goesOn,
    ].join('|')
    const those = alike.get(key) ?? []
    alike.set(key, those)
    those.push({ action, parts: [action] })
  }
  yield
  return [...alike.values()].flatMap((those) => (those.length === 1 ? those : joinedAmong(those, numbered)))
}

function joinedAmong(alike: readonly JoinedAction[], numbered: (one: Decided) => number): JoinedAction[] {
  const keyOf = (conditions: readonly Decided[]) =>
    conditions
      .map((one) => (one[1] ? numbered(one) : -1 - numbered(one)))
      .sort((a, b) => a - b)
      .join(' ')
  const byConditions = new Map<string, JoinedAction>()
  const waiting = [...alike]
  for (let one = waiting.pop(); one !== undefined; one = waiting.pop()) {
    const { action, parts } = one
    const { conditions } = action
    const key = keyOf(conditions)
    const same = byConditions.get(key)
    if (same !== undefined) {
      byConditions.set(key, { action: same.action, parts: [...same.parts, ...parts] })
      continue
    }
    let other: JoinedAction | undefined
    for (let at = 0; at < conditions.length && conditions.length <= CONDITIONS_MAX; at += 1) {
      const [expr, outcome, isOffer] = conditions[at]!
      const opposite = keyOf(conditions.with(at, [expr, !outcome, isOffer]))
      other = byConditions.get(opposite)
      if (other === undefined) continue
      byConditions.delete(opposite)
      waiting.push({
        action: { ...action, conditions: conditions.toSpliced(at, 1) },
        parts: [...other.parts, ...parts],
      })
      break
    }
    if (other === undefined) byConditions.set(key, one)
  }
  return [...byConditions.values()]
}
