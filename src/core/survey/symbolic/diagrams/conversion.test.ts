import { seededRandom } from '../../../base/random'
import { built, everyMember, listed, someMembers } from '../../../../../test/small-sets'
import { seeds } from '../../../../../test/seeds'
import { Conversion, type Becoming } from './conversion'
import { Diagrams } from './diagrams'

test('sets become what each of their members becomes, and those that become some others are found', () => {
  let [left, members, found] = [0, 0, 0]
  for (const seed of seeds(200)) {
    const random = seededRandom(seed)
    const sizes = Array.from({ length: 1 + random.below(5) }, () => 1 + random.below(4))
    const steps = sizes.map((size): Becoming | undefined => {
      // not told by the other
      if (random.chance(0.25)) return undefined
      const own = 1 + random.below(4)
      return { size: own, becomes: Array.from({ length: size }, () => random.below(own)) }
    })
    const become = (values: readonly number[]) =>
      values.flatMap((value, at) => (steps[at] === undefined ? [] : [steps[at].becomes[value]!]))
    const [from, to] = [new Diagrams(), new Diagrams()]
    const conversion = new Conversion(from, to, steps)
    const all = someMembers(random, sizes)
    const set = built(from, all, sizes)
    const told = (some: readonly (readonly number[])[]) => [...new Set(some.map((values) => values.join()))].sort()
    const became = told(all.map(become))
    expect({ seed, image: listed(to, conversion.image(set)).sort() }).toEqual({ seed, image: became })
    const otherSizes = steps.flatMap((step) => (step === undefined ? [] : [step.size]))
    const others = everyMember(otherSizes).filter(() => random.chance(0.5))
    const wanted = new Set(others.map((values) => values.join()))
    const those = told(all.filter((values) => wanted.has(become(values).join())))
    const among = conversion.among(set, built(to, others, otherSizes))
    expect({ seed, among: listed(from, among).sort() }).toEqual({ seed, among: those })
    members += told(all).length
    left += became.length
    found += those.length
  }
  // some become the same, and some of them are found
  expect(left).toBeLessThan(members)
  expect(found).toBeGreaterThan(members / 4)
  expect(found).toBeLessThan(members)
})
