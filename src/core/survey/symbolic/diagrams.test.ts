import { seededRandom, type Random } from '../../base/random'
import { Diagrams, EMPTY, UNIT, type Step } from './diagrams'

/** A set written out: its members as texts. */
type Plain = Set<string>

const SIZES = [2, 3, 1, 4, 2]

function someMembers(random: Random, sizes: readonly number[]): number[][] {
  return Array.from({ length: random.below(30) }, () => sizes.map((size) => random.below(size)))
}

function built(diagrams: Diagrams, members: readonly number[][], sizes: readonly number[]): number {
  return members.reduce((set, values) => diagrams.union(set, diagrams.single(values, sizes)), EMPTY)
}

const plain = (members: readonly number[][]): Plain => new Set(members.map((values) => values.join()))

function listed(diagrams: Diagrams, set: number): string[] {
  if (set === EMPTY) return []
  if (set === UNIT) return ['']
  return Array.from({ length: diagrams.sizeOf(set) }, (_, value) =>
    listed(diagrams, diagrams.part(set, value)).map((rest) => (rest === '' ? String(value) : `${value},${rest}`)),
  ).flat()
}

test('sets are what lists of their members are', () => {
  const random = seededRandom(5)
  const diagrams = new Diagrams()
  for (let round = 0; round < 400; round += 1) {
    const [left, right] = [someMembers(random, SIZES), someMembers(random, SIZES)]
    const [a, b] = [built(diagrams, left, SIZES), built(diagrams, right, SIZES)]
    const [one, other] = [plain(left), plain(right)]
    const same = (set: number, expected: Iterable<string>) => {
      const members = [...new Set(expected)].sort()
      expect(listed(diagrams, set).sort()).toEqual(members)
      expect(diagrams.members(set)).toBe(members.length)
    }
    same(a, one)
    same(diagrams.union(a, b), [...one, ...other])
    same(
      diagrams.both(a, b),
      [...one].filter((member) => other.has(member)),
    )
    same(
      diagrams.minus(a, b),
      [...one].filter((member) => !other.has(member)),
    )
    // the same members are the same set, however it came about
    expect(diagrams.union(diagrams.minus(a, b), diagrams.both(a, b))).toBe(a)
    if (a === EMPTY) continue
    expect(one.has(diagrams.pick(a).join())).toBe(true)
    expect(diagrams.valuesIn(a).map((values) => [...values].sort())).toEqual(
      SIZES.map((_, at) => [...new Set(left.map((values) => values[at]!))].sort()),
    )
  }
})

test('actions lead where they lead member by member, and back', () => {
  const random = seededRandom(6)
  const diagrams = new Diagrams()
  let led = 0
  for (let round = 0; round < 600; round += 1) {
    const steps = SIZES.map((size): Step => {
      const from = random.chance(0.8)
      const to = !from || random.chance(0.8)
      const guard = from && random.chance(0.3) ? random.below(size) : -1
      return { size, from, to, guard, write: to && (!from || random.chance(0.3)) ? random.below(size) : -1 }
    })
    const sizes = (side: 'from' | 'to') => steps.filter((step) => step[side]).map(({ size }) => size)
    const sources = someMembers(random, sizes('from'))
    const targets = someMembers(random, sizes('to'))
    const relation = diagrams.relation(steps)
    const goes = (member: readonly number[]): number[] | undefined => {
      const target: number[] = []
      let at = 0
      for (const { from, to, guard, write } of steps) {
        const value = from ? member[at++]! : -1
        if (guard !== -1 && value !== guard) return undefined
        if (to) target.push(write === -1 ? value : write)
      }
      return target
    }
    const image = diagrams.image(relation, built(diagrams, sources, sizes('from')))
    const expected = sources.map(goes).filter((one) => one !== undefined)
    expect(listed(diagrams, image).sort()).toEqual([...plain(expected)].sort())
    led += expected.length
    const back = diagrams.preimage(relation, built(diagrams, targets, sizes('to')))
    const wanted = plain(targets)
    const all = sizes('from').reduce<number[][]>(
      (members, size) => members.flatMap((member) => Array.from({ length: size }, (_, value) => [...member, value])),
      [[]],
    )
    expect(listed(diagrams, back).sort()).toEqual(
      [...plain(all.filter((member) => wanted.has(goes(member)?.join() ?? 'nowhere')))].sort(),
    )
  }
  expect(led).toBeGreaterThan(500)
})
