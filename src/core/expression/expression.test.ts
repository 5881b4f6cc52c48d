import { Environment } from '@marcbachmann/cel-js'
import { parsed, randomCondition } from '../../../test/random-expression'
import { seededRandom } from '../base/random'
import { checkCondition, checkEffect, type Scope } from './check'
import { evaluate, holds, type Env, type Value } from './evaluate'
import { parseEffect, parseExpression } from './parse'
import { effectOf, effectPickOf, exprOf, pickOf, type Pick } from './pick'
import { printEffect, printExpression } from './print'

const VALUES: Record<string, Value> = { lit: true, paid: false, tide: 3, coin: -2, name: 'Wren', lantern: 'lit' }

const env = (values: Record<string, Value>): Env => ({
  entry: (id) => values[id]!,
  quest: () => 'asked',
  visits: () => 2,
  taken: () => true,
  at: () => false,
  ended: () => false,
  order: (subject) => (subject.kind === 'quest' ? ['unstarted', 'asked', 'done'] : ['dark', 'lit', 'lost']),
})

const KINDS = {
  lit: 'flag',
  paid: 'flag',
  tide: 'counter',
  coin: 'item',
  name: 'text',
  nick: 'text',
  lantern: 'switch',
  weather: 'flag',
} as const
const TYPES = { flag: 'bool', counter: 'int', item: 'int', text: 'string', switch: 'string' } as const

const scope: Scope = {
  entry: (id) => {
    const kind = KINDS[id as keyof typeof KINDS]
    if (kind === undefined) return { trouble: `there is no ledger entry "${id}"` }
    return {
      kind,
      type: TYPES[kind],
      ...(kind === 'switch' ? { positions: ['dark', 'lit', 'lost'] } : {}),
      ...(id === 'weather' ? { isGiven: true } : {}),
    }
  },
  quest: (id) => (id === 'sluice' ? ['unstarted', 'asked', 'done'] : undefined),
  hasBeat: (address) => address === 'quay.morning',
  hasChoice: (address) => address === 'quay.morning.pay',
  hasPerson: () => false,
  hasEnding: () => true,
  promise: false,
}

/** The expression without the places of its parts. */
function bare(expr: unknown): unknown {
  return JSON.parse(
    JSON.stringify(expr, (key, value: unknown) => (key === 'start' || key === 'end' ? undefined : value)),
  )
}

test('conditions mean what the Common Expression Language says, on generated expressions', () => {
  const cel = new Environment({ unlistedVariablesAreDyn: false, enableOptionalTypes: false })
  for (const [name, value] of Object.entries(VALUES))
    cel.registerVariable(name, typeof value === 'boolean' ? 'bool' : typeof value === 'number' ? 'int' : 'string')
  const random = seededRandom(20)
  for (let round = 0; round < 4000; round += 1) {
    const values = {
      ...VALUES,
      lit: random.chance(0.5),
      paid: random.chance(0.5),
      tide: random.below(7),
      coin: random.below(5) - 2,
      name: random.pick(['Wren', '', "it's", 'new\nline']),
    }
    const text = randomCondition(random)
    const theirs = cel.evaluate(
      text,
      Object.fromEntries(
        Object.entries(values).map(([name, value]) => [name, typeof value === 'number' ? BigInt(value) : value]),
      ),
    )
    expect({ text, holds: holds(parsed(text), env(values)) }).toEqual({ text, holds: theirs })
  }
})

test('what is printed parses to the same expression, and printing it again changes nothing', () => {
  const random = seededRandom(21)
  for (let round = 0; round < 3000; round += 1) {
    const first = parsed(randomCondition(random))
    const text = printExpression(first)
    expect(bare(parsed(text))).toEqual(bare(first))
    expect(printExpression(parsed(text))).toBe(text)
  }
  for (const text of ['tide -= 1', "quest.sluice = 'asked'", 'coin += tide * 2', "name = 'it\\'s'"]) {
    const effect = parseEffect(text)
    expect(effect.ok && printEffect(effect.value)).toBe(text)
  }
})

test.each([
  [`'\\x41\\u0042\\U00000043\\104'`, 'ABCD'],
  [`'\\U0010ffff\\ud7ff\\ue000'`, '\u{10ffff}\ud7ff\ue000'],
  [`'\\a\\b\\f\\v\\n\\r\\t\\\\\\'\\"\\?\\\`'`, '\x07\b\f\v\n\r\t\\\'"?`'],
])('the escapes in %s are read', (text, value) => {
  expect(parsed(text)).toMatchObject({ kind: 'string', value })
})

test.each([[`'a\\ud800'`], [`'a\\udfff'`], [`'a\\U00110000'`], [`'a\\q'`], [`'a\\x4'`], [`'a\\400'`]])(
  'the escape in %s is refused at its place',
  (text) => {
    expect(parseExpression(text)).toMatchObject({ ok: false, error: { start: 2, end: 4 } })
  },
)

test('integers are exact beyond what a number holds', () => {
  const big = { ...VALUES, tide: 9007199254740991 }
  expect(evaluate(parsed('tide * tide'), env(big))).toBe(81129638414606663681390495662081n)
  expect(evaluate(parsed('tide * tide - tide * tide + 1'), env(big))).toBe(1)
  expect(holds(parsed('tide + 1 == tide + 2'), env(big))).toBe(false)
  expect(evaluate(parsed('0 * -1'), env(big))).toBe(0)
})

test.each([
  ['tide = 1', 5, 'write == to compare'],
  ['tide >', 6, 'something is missing at the end'],
  ['tide & lit', 5, 'write && for "and"'],
  ["name == 'Wren", 8, 'no closing'],
  ['name == ‘Wren’', 8, 'curly quote'],
  ['tide\u200b > 1', 4, 'invisible character (U+200B)'],
  ['1.5 > tide', 0, 'whole numbers'],
  ['99999999999999999 > tide', 0, 'too large'],
  ['foo(tide)', 0, 'no function "foo"'],
  ['visits(quay)', 7, 'in quotes'],
  ['lit || return', 7, 'reserved word'],
  ['quay.morning', 4, 'an address stands in quotes'],
  ['(tide > 1', 9, 'expected )'],
  [`${'('.repeat(300)}lit`, 200, 'nested too deeply'],
])('%s is refused at its very place', (text, start, message) => {
  const result = parseExpression(text)
  expect(result).toMatchObject({ ok: false, error: { start, message: expect.stringContaining(message) } })
})

test.each([
  ['tide', 'a condition is true or false'],
  ['lit > 1', 'is for numbers'],
  ['tide && lit', 'is for true and false'],
  ["tide == 'x'", 'this is a string'],
  ["lantern == 'bright'", "not one of 'dark', 'lit', 'lost'"],
  ["'bright' == lantern", 'not one of'],
  ["lantern in ['lit', 'gone']", 'not one of'],
  ["quest.sluice == 'begun'", 'not one of'],
  ["quest.nothing == 'asked'", 'no quest "nothing"'],
  ["before(tide, 'lit')", 'compares a switch or a quest'],
  ["atLeast(quest.sluice, 'late')", 'not one of'],
  ["visits('quay.night') > 0", 'no beat "quay.night"'],
  ["taken('quay.morning.go')", 'no choice'],
  ["at('quay.morning')", 'in promises only'],
  ['missing', 'no ledger entry "missing"'],
])('the type checker refuses %s', (text, message) => {
  expect(checkCondition(parsed(text), scope)[0]?.message).toContain(message)
})

test.each([
  ["name == lantern && 'dark' in [lantern] && atLeast(quest.sluice, 'unstarted')"],
  ["visits('quay.morning') + tide * -2 >= coin && taken('quay.morning.pay') == lit"],
  ['name in [] || name in [nick, "x"]'],
])('the type checker takes %s', (text) => {
  expect(checkCondition(parsed(text), scope)).toEqual([])
})

test.each([
  ["lantern = 'bright'", 'not one of'],
  ['lantern = name', 'takes one of its positions'],
  ['lit += 1', 'only counters and items'],
  ['lit = tide', 'takes true or false'],
  ['tide = lit', 'takes a number'],
  ['name = lantern', 'another text entry'],
  ["quest.sluice = 'gone'", 'not one of'],
  ['quest.sluice = name', 'a stage in quotes'],
  ['missing = 1', 'no ledger entry'],
  ['weather = true', 'the story only reads it'],
])('the effect %s is refused', (text, message) => {
  const effect = parseEffect(text)
  expect(effect.ok && checkEffect(effect.value, scope)[0]?.message).toContain(message)
})

test('an effect that is sound is taken, and one on nothing is told at the name', () => {
  const check = (text: string) => {
    const effect = parseEffect(text)
    return effect.ok && checkEffect(effect.value, scope)
  }
  for (const text of [
    "quest.sluice = 'asked'",
    'tide = coin * 2',
    'coin -= 1',
    'name = nick',
    "lantern = 'lost'",
    'lit = paid',
  ])
    expect(check(text)).toEqual([])
  expect(check('missing = 1')).toEqual([expect.objectContaining({ start: 0, end: 7 })])
})

test('what is picked and what is typed say the same, whichever way it is taken', () => {
  const random = seededRandom(77)
  const isFlag = (id: string) => KINDS[id as keyof typeof KINDS] === 'flag'
  const kinds = new Set<string>()
  const note = (pick: Pick): void => {
    kinds.add(pick.kind === 'test' ? pick.comparison : pick.kind)
    if (pick.kind === 'group') pick.items.forEach(note)
    if (pick.kind === 'not') note(pick.item)
  }
  for (let round = 0; round < 3000; round += 1) {
    const source = randomCondition(random)
    const parsed = parseExpression(source)
    if (!parsed.ok || checkCondition(parsed.value, scope).length > 0) continue
    const pick = pickOf(parsed.value, isFlag)
    note(pick)
    const printed = printExpression(exprOf(pick)!)
    const again = parseExpression(printed)
    if (!again.ok) throw new Error(`${source} was picked as ${printed}`)
    expect(checkCondition(again.value, scope)).toEqual([])
    for (const values of [
      VALUES,
      { ...VALUES, lit: false, tide: 0 },
      { ...VALUES, paid: true, coin: 1, name: 'Heron' },
    ]) {
      expect({ source, printed, holds: holds(again.value, env(values)) }).toEqual({
        source,
        printed,
        holds: holds(parsed.value, env(values)),
      })
    }
    // picked again it is the same
    expect(printExpression(exprOf(pickOf(again.value, isFlag))!)).toBe(printed)
  }
  expect(kinds.size).toBeGreaterThan(8)
  for (const [source, printed] of [
    ['3 <= tide', 'tide >= 3'],
    ['lit == false', '!lit'],
    ["'lit' != lantern", "lantern != 'lit'"],
    ['coin == -2', 'coin == -2'],
  ] as const) {
    const parsed = parseExpression(source)
    expect(parsed.ok && printExpression(exprOf(pickOf(parsed.value, isFlag))!)).toBe(printed)
  }
  for (const source of ['tide -= 2', 'lit = true', "quest.sluice = 'asked'", "name = 'Wren'", 'coin = -1']) {
    const parsed = parseEffect(source)
    expect(parsed.ok && printEffect(effectOf(effectPickOf(parsed.value)!))).toBe(source)
  }
  const worked = parseEffect('tide = coin + 1')
  expect(worked.ok && effectPickOf(worked.value)).toBeUndefined()
})

test('a number that runs into letters is no number, and the place is told', () => {
  for (const [text, start, end] of [
    ['12abc', 0, 3],
    ['tide >= 3x', 8, 10],
    ['0x1fz', 0, 5],
    ['7_000', 0, 2],
  ] as const) {
    const parsed = parseExpression(text)
    expect(parsed).toMatchObject({ ok: false, error: { start, end, message: expect.stringContaining('whole number') } })
  }
  expect(parseExpression('12')).toMatchObject({ ok: true, value: { kind: 'int', value: 12 } })
})

test('what an expression names and the story lacks is told as data', () => {
  const scope: Scope = {
    entry: (id) =>
      id === 'lantern'
        ? { kind: 'switch', type: 'string', positions: ['dark', 'lit'], ownedBy: { entry: 'lantern' } }
        : { trouble: 'gone', missing: { of: 'entry', id } },
    quest: (id) => (id === 'sluice' ? ['unstarted', 'asked'] : undefined),
    hasBeat: () => false,
    hasChoice: () => false,
    hasPerson: () => false,
    hasEnding: () => false,
    promise: true,
  }
  const missing = (text: string) => {
    const parsed = parseExpression(text)
    return parsed.ok ? checkCondition(parsed.value, scope)[0]?.missing : undefined
  }
  expect(missing('rope')).toEqual({ of: 'entry', id: 'rope' })
  expect(missing("quest.swarm == 'asked'")).toEqual({ of: 'quest', id: 'swarm' })
  expect(missing("quest.sluice == 'done'")).toEqual({ of: 'stage', quest: 'sluice', id: 'done' })
  expect(missing("'done' in [quest.sluice]")).toEqual({ of: 'stage', quest: 'sluice', id: 'done' })
  expect(missing("lantern != 'lost'")).toEqual({ of: 'position', entry: 'lantern', id: 'lost' })
  expect(missing("before(lantern, 'lost')")).toEqual({ of: 'position', entry: 'lantern', id: 'lost' })
  expect(missing("visits('quay.gone') > 1")).toEqual({ of: 'beat', id: 'quay.gone' })
  expect(missing("taken('quay.here.gone')")).toEqual({ of: 'choice', id: 'quay.here.gone' })
  expect(missing("ended('gone')")).toEqual({ of: 'ending', id: 'gone' })
  const effect = parseEffect("lantern = 'lost'")
  expect(effect.ok && checkEffect(effect.value, scope)[0]?.missing).toEqual({
    of: 'position',
    entry: 'lantern',
    id: 'lost',
  })
  // a type that does not fit lacks nothing
  expect(missing('lantern && true')).toBeUndefined()
})
