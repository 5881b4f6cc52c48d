import { inOneGo } from '../../../base/slices'
import {
  anyValue,
  commandsAmong,
  listed,
  built,
  plain,
  SIZES,
  someMembers,
  stepsOf,
  targetsOf,
} from '../../../../../test/small-sets'
import { seededRandom } from '../../../base/random'
import { ANYTHING, Diagrams } from './diagrams'
import { EMPTY, TooMuch } from './node-table'
import { RelationMaker, type Variable } from './relation'

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

test('commands lead where they lead member by member, all at once, and back', () => {
  const random = seededRandom(6)
  const diagrams = new Diagrams()
  const maker = new RelationMaker()
  let led = 0
  for (let round = 0; round < 900; round += 1) {
    // half of them among the same variables, as around a hub
    const isLoop = random.chance(0.5)
    const variables = SIZES.map((size): Variable => {
      const from = isLoop || random.chance(0.8)
      return { size, from, to: isLoop || !from || random.chance(0.8) }
    })
    const commands = commandsAmong(random, variables, random.below(7))
    const sizes = (side: 'from' | 'to') => variables.filter((one) => one[side]).map(({ size }) => size)
    const sources = someMembers(random, sizes('from'))
    const targets = someMembers(random, sizes('to'))
    const relation = maker.of(variables, stepsOf(variables, commands))
    const goes = (member: readonly number[]) => targetsOf(member, variables, commands)
    const image = diagrams.image(relation, built(diagrams, sources, sizes('from')))
    const expected = sources.flatMap(goes)
    expect(listed(diagrams, image).sort()).toEqual([...new Set(expected)].sort())
    led += expected.length
    const here = built(diagrams, sources, sizes('from'))
    expect(diagrams.leads(relation, here, ANYTHING)).toBe(expected.length > 0)
    expect(diagrams.leads(relation, here, built(diagrams, targets, sizes('to')))).toBe(
      expected.some((target) => plain(targets).has(target)),
    )
    const within = someMembers(random, sizes('from'))
    const back = diagrams.preimage(
      relation,
      built(diagrams, targets, sizes('to')),
      built(diagrams, within, sizes('from')),
    )
    const wanted = plain(targets)
    expect(listed(diagrams, back).sort()).toEqual(
      [...plain(within.filter((member) => goes(member).some((target) => wanted.has(target))))].sort(),
    )
  }
  expect(led).toBeGreaterThan(2000)
})

test('what comes to a set by any number of commands is found, within what there is', () => {
  const random = seededRandom(7)
  const diagrams = new Diagrams()
  const maker = new RelationMaker()
  const variables = SIZES.map((size): Variable => ({ size, from: true, to: true }))
  let added = 0
  for (let round = 0; round < 300; round += 1) {
    const commands = commandsAmong(random, variables, 1 + random.below(8))
    const within = plain([...someMembers(random, SIZES), ...someMembers(random, SIZES)])
    const found = new Set([...within].slice(0, 3))
    const start = [...found].map((one) => one.split(',').map(Number))
    const all = [...within].map((one) => one.split(',').map(Number))
    for (let size = -1; size !== found.size;) {
      size = found.size
      for (const member of all)
        if (targetsOf(member, variables, commands).some((target) => found.has(target))) found.add(member.join())
    }
    const closed = inOneGo(
      diagrams.closureBefore(
        maker.of(variables, stepsOf(variables, commands)),
        built(diagrams, start, SIZES),
        built(diagrams, all, SIZES),
      ),
    )
    expect(listed(diagrams, closed).sort()).toEqual([...found].sort())
    added += found.size - start.length
  }
  expect(added).toBeGreaterThan(300)
})

test('what is broken off so that others get their turn comes to the same, and leaves nothing behind', () => {
  const [often, once] = [new Diagrams({ turn: 1 }), new Diagrams()]
  const variables = SIZES.map((size): Variable => ({ size, from: true, to: true }))
  const worked = (diagrams: Diagrams) => {
    const random = seededRandom(10)
    const maker = new RelationMaker()
    const some = () => built(diagrams, someMembers(random, SIZES), SIZES)
    let turns = 0
    const found: number[] = []
    for (let round = 0; round < 200; round += 1) {
      const commands = commandsAmong(random, variables, 1 + random.below(7))
      const relation = maker.of(variables, stepsOf(variables, commands))
      const [one, other, third] = [some(), some(), some()]
      for (const work of [
        () => diagrams.image(relation, one),
        () => diagrams.preimage(relation, other, one),
        () => diagrams.union(one, other),
      ]) {
        const slices = diagrams.inTurns(work)
        let step = slices.next()
        for (; step.done !== true; step = slices.next()) {
          turns += 1
          diagrams.minus(other, third)
        }
        found.push(diagrams.members(step.value))
      }
    }
    return { turns, found }
  }
  const [broken, whole] = [worked(often), worked(once)]
  expect(broken.found).toEqual(whole.found)
  // once for each thing that is worked out, or little more
  expect(broken.turns).toBeGreaterThan(300 + whole.turns)
  expect(broken.turns).toBeLessThan(once.work)
  expect(often.bytes).toBe(once.bytes)
  expect(worked(new Diagrams({ turn: 40 })).turns).toBeLessThan(broken.turns / 4)
  const full = new Diagrams({ turn: 1, nodes: 3 })
  expect(() => inOneGo(full.inTurns(() => full.any(SIZES)))).toThrow(TooMuch)
})

test('a relation of thousands of commands is made in turns, and is the same', () => {
  const random = seededRandom(13)
  const diagrams = new Diagrams()
  const variables = [...SIZES, ...SIZES].map((size): Variable => ({ size, from: true, to: true }))
  const sizes = variables.map(({ size }) => size)
  const steps = stepsOf(variables, [...commandsAmong(random, variables, 3000), variables.map(anyValue)])
  const maker = new RelationMaker()
  const slices = maker.inTurns(variables, steps)
  let turns = 0
  let step = slices.next()
  for (; step.done !== true; step = slices.next()) turns += 1
  expect(turns).toBeGreaterThan(3)
  const plainly = maker.of(variables, steps)
  // what does the same is one
  expect(step.value).toBe(plainly)
  const set = built(diagrams, [...someMembers(random, sizes), sizes.map(() => 0)], sizes)
  const image = diagrams.image(plainly, set)
  expect(plainly.isDone).toBe(true)
  expect(diagrams.minus(set, image)).toBe(EMPTY)
})

test('others get their turn while a large set is closed, and may work with the same sets', () => {
  const sizes = Array.from({ length: 12 }, () => 4)
  const variables = sizes.map((size): Variable => ({ size, from: true, to: true }))
  const random = seededRandom(8)
  const commands = Array.from({ length: 320 }, () =>
    [random.below(6), 6 + random.below(6)].map((at) => {
      const guard = random.below(4)
      return { at, first: guard, last: guard, write: random.below(4), by: 0 }
    }),
  )
  const starts = Array.from({ length: 3 }, () => sizes.map((size) => random.below(size)))
  const closed = (work: (diagrams: Diagrams) => void) => {
    const diagrams = new Diagrams()
    const relation = new RelationMaker().of(variables, commands)
    const closing = diagrams.closureBefore(relation, built(diagrams, starts, sizes), diagrams.any(sizes))
    let turns = 0
    let step = closing.next()
    for (; step.done !== true; step = closing.next()) {
      turns += 1
      work(diagrams)
    }
    return { turns, members: diagrams.members(step.value), first: diagrams.pick(step.value) }
  }
  const other = seededRandom(9)
  const disturbed = closed((diagrams) => {
    const [a, b] = [
      built(diagrams, someMembers(other, sizes), sizes),
      built(diagrams, someMembers(other, sizes), sizes),
    ]
    diagrams.minus(diagrams.union(a, b), diagrams.both(a, b))
  })
  const { turns, ...left } = closed(() => undefined)
  expect(turns).toBeGreaterThan(0)
  expect(disturbed).toMatchObject(left)
})
