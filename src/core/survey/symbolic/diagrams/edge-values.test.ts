import { inOneGo } from '../../../base/slices'
import {
  built,
  commandsAmong,
  everyMember,
  listed,
  plain,
  SIZES,
  someMembers,
  stepsOf,
  targetsOf,
} from '../../../../../test/small-sets'
import { seededRandom, type Random } from '../../../base/random'
import { Diagrams } from './diagrams'
import { BACK, EdgeImages, ONWARD } from './edge-images'
import { EdgeValues, type Valued } from './edge-values'
import { EMPTY, UNIT } from './node-table'
import { RelationMaker, type Variable } from './relation'

/** A function written out: by member, as a text, its number. */
type PlainFunction = Map<string, number>

/** A made-up function as it is held, and written out. */
function made(
  random: Random,
  values: EdgeValues,
  diagrams: Diagrams,
  sizes: readonly number[],
): { readonly node: number; readonly offset: number; readonly plain: PlainFunction } {
  let all: Valued = { node: EMPTY, offset: 0 }
  const written: PlainFunction = new Map()
  for (const member of someMembers(random, sizes)) {
    const number = random.below(6)
    all = values.lesserOf(all, { node: values.zero(built(diagrams, [member], sizes)), offset: number })
    written.set(member.join(), Math.min(number, written.get(member.join()) ?? Infinity))
  }
  return { ...all, plain: written }
}

function writtenOut(values: EdgeValues, node: number, offset: number): [string, number][] {
  if (node === EMPTY) return []
  if (node === UNIT) return [['', offset]]
  const found: [string, number][] = []
  for (let at = 0; at < values.sizeOf(node); at += 2)
    for (const [rest, number] of writtenOut(values, values.part(node, at + 1), offset + values.part(node, at)))
      found.push([rest === '' ? String(at / 2) : `${at / 2},${rest}`, number])
  return found
}

const sorted = (entries: Iterable<readonly [string, number]>) =>
  [...entries].map(([member, number]) => `${member}: ${number}`).sort()

/** What another search over the members themselves says of the least numbers. */
function least(found: PlainFunction, member: string, number: number): boolean {
  if (number >= (found.get(member) ?? Infinity)) return false
  found.set(member, number)
  return true
}

test('functions are what lists of their numbers are', () => {
  const random = seededRandom(11)
  const diagrams = new Diagrams()
  const values = new EdgeValues(diagrams)
  let shared = 0
  for (let round = 0; round < 300; round += 1) {
    const [a, b] = [made(random, values, diagrams, SIZES), made(random, values, diagrams, SIZES)]
    expect(sorted(writtenOut(values, a.node, a.offset))).toEqual(sorted(a.plain))
    expect(listed(diagrams, values.members(a.node)).sort()).toEqual([...a.plain.keys()].sort())
    const members = someMembers(random, SIZES)
    const [set, inSet] = [built(diagrams, members, SIZES), plain(members)]
    const part = new Map([...a.plain].filter(([member]) => inSet.has(member)))
    const restricted = values.restrict(a.node, set)
    expect(sorted(writtenOut(values, restricted, a.offset + values.offset))).toEqual(sorted(part))
    const nearest = Math.min(...part.values())
    expect(values.least(a.node, set)).toBe(part.size === 0 ? undefined : nearest - a.offset)
    expect(listed(diagrams, values.nearest(a.node, set)).sort()).toEqual(
      [...part.keys()].filter((member) => part.get(member) === nearest).sort(),
    )
    for (const member of members) expect(values.of(a, member)).toBe(a.plain.get(member.join()))
    const sums = new Map(
      [...a.plain].flatMap(([member, number]) =>
        b.plain.has(member) ? [[member, number + b.plain.get(member)!] as const] : [],
      ),
    )
    const lowest = Math.min(...sums.values())
    shared += sums.size
    expect(values.leastSum(a.node, b.node)).toBe(sums.size === 0 ? undefined : lowest - a.offset - b.offset)
    expect(listed(diagrams, values.nearestSum(a.node, b.node)).sort()).toEqual(
      [...sums.keys()].filter((member) => sums.get(member) === lowest).sort(),
    )
  }
  expect(shared).toBeGreaterThan(300)
})

test('commands make of numbers what they make of each, on and back, once and any number of times', () => {
  const random = seededRandom(12)
  const diagrams = new Diagrams()
  const values = new EdgeImages(diagrams, { turn: 1 })
  const maker = new RelationMaker()
  let [led, nearer, turns] = [0, 0, 0]
  for (let round = 0; round < 500; round += 1) {
    const isLoop = random.chance(0.6)
    const variables = SIZES.map((size): Variable => {
      const from = isLoop || random.chance(0.8)
      return { size, from, to: isLoop || !from || random.chance(0.8) }
    })
    const commands = commandsAmong(random, variables, 1 + random.below(7))
    const relation = maker.of(variables, stepsOf(variables, commands))
    const sizes = (side: 'from' | 'to') => variables.filter((one) => one[side]).map(({ size }) => size)
    const roads = everyMember(sizes('from')).flatMap((member) =>
      targetsOf(member, variables, commands).map((target) => [member.join(), target] as const),
    )
    for (const direction of [ONWARD, BACK] as const) {
      const one = made(random, values, diagrams, sizes(direction === ONWARD ? 'from' : 'to'))
      const ways = direction === ONWARD ? roads : roads.map(([from, to]) => [to, from] as const)
      const after: PlainFunction = new Map()
      for (const [from, to] of ways) least(after, to, one.plain.get(from) ?? Infinity)
      // broken off whenever something is known
      const slices = values.inTurns(() => values.along(relation, one.node, direction))
      let step = slices.next()
      for (; step.done !== true; step = slices.next()) turns += 1
      const along = step.value
      expect(sorted(writtenOut(values, along, one.offset + values.offset))).toEqual(sorted(after))
      led += after.size
      if (!isLoop) continue
      const within = [...someMembers(random, SIZES), ...someMembers(random, SIZES), ...someMembers(random, SIZES)]
      const [all, inAll] = [built(diagrams, within, SIZES), plain(within)]
      const closed: PlainFunction = new Map([...one.plain].filter(([member]) => inAll.has(member)))
      const before = closed.size
      const start = values.restrict(one.node, all)
      const offset = one.offset + values.offset
      for (let grows = true; grows;) {
        grows = false
        for (const [from, to] of ways)
          if (inAll.has(to) && closed.has(from)) grows = least(closed, to, closed.get(from)! + 1) || grows
      }
      nearer += closed.size - before
      expect(sorted(writtenOut(values, inOneGo(values.closed(relation, start, all, direction)), offset))).toEqual(
        sorted(closed),
      )
    }
  }
  expect(turns).toBeGreaterThan(500)
  expect(led).toBeGreaterThan(2000)
  expect(nearer).toBeGreaterThan(300)
})

test('what is worked out for it can be bounded', () => {
  const diagrams = new Diagrams()
  const values = new EdgeValues(diagrams)
  values.most = 3
  const all = built(diagrams, everyMember(SIZES).slice(0, 20), SIZES)
  expect(() => values.zero(all)).toThrow()
  values.most = Infinity
  expect(writtenOut(values, values.zero(all), 0)).toHaveLength(20)
})
