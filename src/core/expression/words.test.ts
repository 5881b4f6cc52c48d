import { parsed, randomCondition } from '../../../test/random-expression'
import { seededRandom } from '../base/random'
import { holds, type Env, type Value } from './evaluate'
import { parseEffect } from './parse'
import { sayCondition, sayEffect, type Names } from './words'

const NAMES: Names = {
  entry: (id) => id,
  quest: () => 'Mend the sluice',
  stage: (_quest, stage) => stage,
  beat: (address) => address.split('.')[1]!,
  choice: () => '“Pay”',
  ending: (id) => id,
}

const say = (text: string) => sayCondition(parsed(text), NAMES)

function env(values: Record<string, Value>, visits: number): Env {
  return {
    entry: (id) => values[id]!,
    quest: () => 'asked',
    visits: () => visits,
    taken: () => visits > 1,
    at: () => false,
    ended: () => false,
    order: () => ['dark', 'lit', 'lost'],
  }
}

test('gates and effects are said in plain words', () => {
  expect(say('coin >= 1 && !paid')).toBe('coin is at least 1 and not paid')
  expect(say('!(tide < 2) || (lit && paid)')).toBe('tide is at least 2 or (lit and paid)')
  expect(say("quest.sluice == 'asked' && visits('quay.morning') == 0")).toBe(
    'Mend the sluice is at “asked” and morning not visited yet',
  )
  expect(say("lantern in ['lit', 'lost'] && taken('quay.morning.pay')")).toBe(
    'lantern is lit or lost and “Pay” was taken',
  )
  expect(say("name == ''")).toBe('name is empty')
  const effect = (text: string) => {
    const result = parseEffect(text)
    return result.ok && sayEffect(result.value, NAMES)
  }
  expect(effect('tide -= 1')).toBe('tide −1')
  expect(effect("quest.sluice = 'asked'")).toBe('Mend the sluice: asked')
  expect(effect('paid = true')).toBe('paid: yes')
})

test('what is said the same means the same, on generated conditions', () => {
  const random = seededRandom(31)
  const standings = Array.from({ length: 24 }, (_, at) =>
    env(
      {
        lit: random.chance(0.5),
        paid: random.chance(0.5),
        tide: random.below(7) - 1,
        coin: random.below(6) - 2,
        name: random.pick(['Wren', '', "it's", 'new\nline', 'é☂']),
      },
      at % 4,
    ),
  )
  const visited = () =>
    `${random.chance(0.3) ? '!' : ''}(visits('quay.morning') ${random.pick(['==', '!=', '<', '<=', '>', '>='])} ${random.below(4)})`
  // few leaves, so that much is said alike but for its parentheses
  const sum = (depth: number): string => {
    if (depth === 0 || random.chance(0.2)) return random.pick(['tide', 'coin', '2'])
    if (random.chance(0.25)) return `-(${sum(depth - 1)})`
    return `(${sum(depth - 1)}) ${random.pick(['+', '-', '*'])} (${sum(depth - 1)})`
  }
  const meaning = new Map<string, { text: string; holds: string }>()
  for (let round = 0; round < 6000; round += 1) {
    const text = random.pick([
      () => `${visited()} ${random.pick(['&&', '||'])} ${visited()}`,
      () => `${sum(2)} > ${random.below(3)}`,
      () => randomCondition(random, random.below(3)),
    ])()
    const expr = parsed(text)
    const said = sayCondition(expr, NAMES)
    const turned = standings.map((one) => (holds(expr, one) ? '+' : '-')).join('')
    const known = meaning.get(said)
    if (known === undefined) meaning.set(said, { text, holds: turned })
    else expect({ said, text, like: known.text, holds: turned }).toMatchObject({ said, holds: known.holds })
  }
  expect(meaning.size).toBeGreaterThan(1500)
})

test('comparisons and their opposites are said with the words for them', () => {
  const said = ['==', '!=', '<', '<=', '>', '>='].map((op) => [say(`tide ${op} 2`), say(`!(tide ${op} 2)`)])
  expect(said).toEqual([
    ['tide is 2', 'tide is not 2'],
    ['tide is not 2', 'tide is 2'],
    ['tide is less than 2', 'tide is at least 2'],
    ['tide is at most 2', 'tide is more than 2'],
    ['tide is more than 2', 'tide is at most 2'],
    ['tide is at least 2', 'tide is less than 2'],
  ])
  expect(['<', '<=', '>', '>='].map((op) => say(`visits('quay.morning') ${op} 3`))).toEqual([
    'morning visited less than 3 times',
    'morning visited at most 3 times',
    'morning visited more than 3 times',
    'morning visited at least 3 times',
  ])
  expect(say("visits('quay.morning') == 1")).toBe('morning visited just once')
  expect(say("visits('quay.morning') > 0")).toBe('morning visited')
})

test('what is not, what comes before, and where the story is are said each in a way of their own', () => {
  expect(say("!(lantern in ['lit', 'lost'])")).toBe('lantern is not lit or lost')
  expect(say("!taken('quay.morning.pay')")).toBe('“Pay” was not taken')
  expect(say("!at('quay.morning') || at('quay.morning')")).toBe(
    'the story is not at morning or the story is at morning',
  )
  expect(say("!ended('across') || ended('across')")).toBe(
    'the story has not ended with across or the story has ended with across',
  )
  expect(say("!before(lantern, 'lit') && atLeast(quest.sluice, 'asked')")).toBe(
    'not lantern is before lit and Mend the sluice is at least at “asked”',
  )
  expect(say("quest.sluice == 'unstarted' || quest.sluice != 'unstarted'")).toBe(
    'Mend the sluice is not started or Mend the sluice is started',
  )
  expect(say('tide - (coin - 1) > -(tide + coin) * 2')).toBe('tide − (coin − 1) is more than −(tide + coin) × 2')
})

test.each([
  ['paid = false', 'paid: no'],
  ['tide = coin', 'tide becomes coin'],
  ['coin += tide * 2', 'coin +tide × 2'],
  ["name = 'Wren'", 'name becomes “Wren”'],
  ["name = ''", 'name becomes empty'],
])('the effect %s is said as %s', (text, said) => {
  const effect = parseEffect(text)
  expect(effect.ok && sayEffect(effect.value, NAMES)).toBe(said)
})
