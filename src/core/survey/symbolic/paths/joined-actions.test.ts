import { seededRandom, type Random } from '../../../base/random'
import type { Expr } from '../../../expression/ast'
import type { Action } from './actions'
import { joinedActions } from './joined-actions'
import type { Decided } from './demand'

const CONDITIONS = Array.from({ length: 4 }, (_, at): Expr => ({ kind: 'int', value: at, start: 0, end: 0 }))

function action(conditions: readonly Decided[], decision: number, to: number, value: number): Action {
  const seen = { here: [], onTheWay: [], asked: [], shut: [], passed: [] }
  return { guards: [[0, value]], ranges: [], writes: [], given: [], conditions, decision, to, goesOn: true, ...seen }
}

/** Ways through a decision as playing finds them: each condition that is asked parts them in two. */
function ways(random: Random, decision: number, known: readonly Decided[], left: readonly Expr[]): Action[] {
  const [first, ...others] = left
  if (first === undefined || random.chance(0.25)) return [action(known, decision, random.below(2), decision)]
  return [false, true].flatMap((outcome) => ways(random, decision, [...known, [first, outcome]], others))
}

test('joined actions lead to the same whatever holds, each is a part of one, and none is left that could be joined', () => {
  const random = seededRandom(11)
  const numbered = ([expr]: Decided) => CONDITIONS.indexOf(expr)
  let joins = 0
  for (let round = 0; round < 300; round += 1) {
    const all = [0, 1, 2].flatMap((decision) => ways(random, decision, [], CONDITIONS.slice(random.below(3))))
    const joined = joinedActions(all, numbered)
    joins += all.length - joined.length
    expect(new Set(joined.flatMap(({ parts }) => parts))).toEqual(new Set(all))
    expect(joined.reduce((count, { parts }) => count + parts.length, 0)).toBe(all.length)
    for (let world = 0; world < 2 ** CONDITIONS.length; world += 1) {
      const holds = ([expr, outcome]: Decided) => ((world >> CONDITIONS.indexOf(expr)) & 1) === (outcome ? 1 : 0)
      const led = (some: readonly Action[]) =>
        some
          .filter(({ conditions }) => conditions.every(holds))
          .map(({ decision, to }) => `${decision} ${to}`)
          .sort()
      expect(led(joined.map((one) => one.action))).toEqual(led(all))
    }
    const names = joined.map(({ action: { decision, to, conditions } }) => {
      const asked = conditions.map((one) => `${numbered(one)}${one[1]}`).sort()
      return { key: `${decision} ${to}`, asked }
    })
    for (const one of names)
      for (const at of one.asked.keys()) {
        const opposite = one.asked.with(
          at,
          one.asked[at]!.endsWith('true') ? `${one.asked[at]![0]}false` : `${one.asked[at]![0]}true`,
        )
        expect(names.some(({ key, asked }) => key === one.key && asked.join() === opposite.join())).toBe(false)
      }
  }
  expect(joins).toBeGreaterThan(500)
})
