import { spliced } from '../core/base/spliced'
import { seededRandom } from '../core/base/random'
import { seeds } from '../../test/seeds'
import { PlacedNames } from './placed-names'

test('after any changes every name has its place, and what went has none', () => {
  for (const seed of seeds(40)) {
    const random = seededRandom(seed)
    let next = 0
    const fresh = (count: number) => Array.from({ length: count }, () => `n${(next += 1)}`)
    let names = PlacedNames.of(fresh(random.below(40)))
    const all = new Set<string>()
    for (let change = 0; change < 50; change += 1) {
      const before = names.list
      const at = random.below(before.length + 1)
      const gone = random.below(Math.min(4, before.length - at + 1))
      // what went comes back now and then, elsewhere
      const back = [...all].filter((name) => !before.includes(name)).slice(0, random.below(2))
      const list = [...before.slice(0, at), ...fresh(random.below(4)), ...back, ...before.slice(at + gone)]
      names = names.after(spliced(before, list))
      for (const name of list) all.add(name)
      expect(names.list).toEqual(list)
      for (const name of all)
        expect([seed, change, name, names.indexOf(name)]).toEqual([seed, change, name, list.indexOf(name)])
    }
  }
})

test('a list that stays is the same', () => {
  const names = PlacedNames.of(['a', 'b'])
  expect(names.after(spliced(names.list, ['a', 'b']))).toBe(names)
})
