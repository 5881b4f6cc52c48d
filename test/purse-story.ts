import type { Random } from '../src/core/base/random'
import type { Beat, Choice, Line, Rule, Story } from '../src/core/story/types'

const COUNTERS = ['coins', 'rope', 'oil'] as const

/**
 * A market in which counters are added to, taken from and asked for all the time, one after another in the same step: before, between
 * and after, alone and against each other, beyond their ranges, on roads, in lines and in rules of choices. Most of them are orderly: one
 * purse, and prices. A counter has so many values at least.
 */
export function purseStory(random: Random, least = 3): Story {
  const isOrderly = random.chance(0.6)
  const beats = isOrderly ? ['stall', 'quay'] : ['stall', 'quay', 'loft', 'yard']
  const number = () => String(random.below(isOrderly ? 9 : 6) - 1)
  // most of a beat asks for the same
  let favourite = random.pick(COUNTERS)
  const counter = () => (random.chance(isOrderly ? 0.9 : 0.5) ? favourite : random.pick(COUNTERS))
  const comparison = (): string => {
    const op = random.pick(['==', '!=', '!=', '!=', '<', '<=', '>', '>='])
    switch (random.below(isOrderly ? 30 : 8)) {
      case 0:
        return `${counter()} ${op} ${counter()}`
      case 1:
        return `${number()} ${op} ${counter()}`
      case 2:
        return `${counter()} + 1 ${op} ${counter()}`
      case 3:
        return `${counter()} in [${number()}, ${number()}]`
      case 4:
        return random.pick(['lit', "quest.debt == 'owed'", "atLeast(quest.debt, 'paid')"])
      default:
        return `${counter()} ${op} ${number()}`
    }
  }
  const condition = (): string => {
    const one = comparison()
    switch (random.below(5)) {
      case 0:
        return `${one} && ${comparison()}`
      case 1:
        return `${one} || ${comparison()}`
      case 2:
        return `!(${one})`
      default:
        return one
    }
  }
  const effect = (): string => {
    switch (random.below(isOrderly ? 20 : 9)) {
      case 0:
        return `${counter()} = ${random.below(3)}`
      case 1:
        return `${counter()} ${random.pick(['+=', '-=', '='])} ${counter()}`
      case 2:
        return `lit = ${condition()}`
      default:
        return `${counter()} ${random.pick(['+=', '-='])} ${1 + random.below(3)}`
    }
  }
  const some = <T>(most: number, make: () => T): T[] => Array.from({ length: random.below(most + 1) }, make)
  const when = (chance: number) => (random.chance(chance) ? { when: condition() } : {})
  const target = () => (random.chance(0.15) ? 'hub.end' : `hub.${random.pick(beats)}`)
  const rule = (): Rule => ({ ...when(0.7), do: some(2, effect), to: target() })
  const owes = () =>
    random.chance(0.15) ? ["quest.debt = 'owed'"] : random.chance(0.15) ? ["quest.debt = 'paid'"] : []
  const line = (): Line => ({ text: random.pick(['A line.', '{rope} ropes.']), ...when(0.5), do: some(1, effect) })
  const choice = (id: string): Choice => ({
    id,
    text: 'On',
    ...when(0.7),
    ...(random.chance(0.3) ? { once: true } : {}),
    do: [...some(isOrderly ? 2 : 3, effect), ...owes()],
    to: random.chance(0.2) ? [rule(), { to: target() }] : target(),
  })
  // nearly everything there is paid for, and one is still there then
  const priced = (beat: string, id: string): Choice => {
    const price = 1 + random.below(4)
    return {
      id,
      text: 'Buy it',
      when: `${favourite} ${random.pick(['>=', '>=', '>', '!=', '=='])} ${price}${random.chance(0.2) ? ` && ${comparison()}` : ''}`,
      once: random.chance(0.5),
      do: [`${favourite} ${random.pick(['-=', '-=', '-=', '+='])} ${price}`, ...owes()],
      to: random.chance(0.85) ? `hub.${beat}` : target(),
    }
  }
  const beat = (id: string): Beat => {
    if (!isOrderly) favourite = random.pick(COUNTERS)
    const isMarket = isOrderly && random.chance(0.7)
    return {
      id,
      lines: isOrderly ? some(1, () => ({ text: `{${favourite}} left.` })) : some(2, line),
      choices: Array.from({ length: 1 + random.below(6) }, (_, at) =>
        isMarket ? priced(id, `${id}${at}`) : choice(`${id}${at}`),
      ),
      ...(random.chance(0.2) ? { redirects: [{ when: comparison(), do: some(1, effect), to: target() }] } : {}),
      onward: random.chance(0.6) ? [...some(1, rule), { do: some(1, effect), to: target() }] : [],
    }
  }
  return {
    paperCompass: 1,
    title: 'A purse',
    language: 'en',
    start: 'hub.stall',
    ledger: [
      ...COUNTERS.map((id) => {
        const min = random.below(2) - 1
        const max = min + least - 1 + random.below(isOrderly ? 9 : 5)
        return { id, kind: 'counter' as const, min, max, initial: min + random.below(max - min + 1) }
      }),
      { id: 'lit', kind: 'flag' as const },
    ],
    quests: [
      {
        id: 'debt',
        name: 'The debt',
        stages: [
          { id: 'owed', name: 'Owed' },
          { id: 'paid', name: 'Paid', outcome: 'success' },
        ],
      },
    ],
    endings: [{ id: 'home', name: 'Home' }],
    scenes: [{ id: 'hub', title: 'Market', beats: [...beats.map(beat), { id: 'end', ending: 'home' }] }],
    promises: [{ id: 'thrift', kind: 'never', holds: `coins > ${random.below(4)} && rope < ${random.below(3)}` }],
  }
}
