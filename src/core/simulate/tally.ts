import type { Share, SimulationOptions, SimulationResult } from './result'
import { barsOf, spreadOf, timesOf, type Counted } from './spread'

/** What was counted in some playthroughs, by id and address: it can be written as JSON, and added to others. */
export interface Tally {
  readonly plays: number
  readonly endings: Readonly<Record<string, number>>
  readonly stages: Readonly<Record<string, number>>
  readonly unended: Readonly<Record<'stuck' | 'endless' | 'given-up', number>>
  readonly decisions: Counted
  readonly words: Counted
  /** Playthroughs that came by it, and how often in all. */
  readonly beats: Readonly<Record<string, readonly [plays: number, times: number]>>
  /** Playthroughs in which it was taken; how often it was offered and taken in all. */
  readonly choices: Readonly<Record<string, readonly [plays: number, offered: number, taken: number]>>
  /** By id, after each number of decisions: how often it had which value. */
  readonly counters: Readonly<Record<string, readonly Counted[]>>
}

/** What two counted in playthroughs of one story. */
export function addTallies(a: Tally, b: Tally): Tally {
  const numbers = <Key extends string>(one: Readonly<Record<Key, number>>, other: Readonly<Record<Key, number>>) =>
    merged(one, other, (x, y) => x + y)
  const lists = <T extends readonly number[]>(x: T, y: T) => x.map((value, at) => value + y[at]!) as unknown as T
  return {
    plays: a.plays + b.plays,
    endings: numbers(a.endings, b.endings),
    stages: numbers(a.stages, b.stages),
    unended: numbers(a.unended, b.unended),
    decisions: addCounted(a.decisions, b.decisions),
    words: addCounted(a.words, b.words),
    beats: merged(a.beats, b.beats, lists),
    choices: merged(a.choices, b.choices, lists),
    counters: merged(a.counters, b.counters, (x, y) =>
      Array.from({ length: Math.max(x.length, y.length) }, (_, at) => addCounted(x[at] ?? [], y[at] ?? [])),
    ),
  }
}

/** The figures of what was counted. */
export function resultOf(tally: Tally, options: SimulationOptions): SimulationResult {
  const { plays } = tally
  const share = (count: number): Share => ({ plays: count, share: plays === 0 ? 0 : count / plays })
  const shares = <Key extends string>(counts: Readonly<Record<Key, number>>) => mapped(counts, share)
  const told = (numbers: Counted) => ({ spread: spreadOf(numbers), bars: barsOf(numbers) })
  return {
    ...options,
    plays,
    endings: shares(tally.endings),
    stages: shares(tally.stages),
    unended: shares(tally.unended),
    decisions: told(tally.decisions),
    words: told(tally.words),
    beats: mapped(tally.beats, ([count, times]) => ({ ...share(count), times })),
    choices: mapped(tally.choices, ([count, offered, taken]) => ({ ...share(count), offered, taken })),
    counters: mapped(tally.counters, (steps) =>
      steps.flatMap((numbers, decisions) => {
        const spread = spreadOf(numbers)
        return spread === undefined ? [] : [{ decisions, plays: timesOf(numbers), ...spread }]
      }),
    ),
  }
}

function addCounted(a: Counted, b: Counted): Counted {
  const times = new Map(a)
  for (const [number, more] of b) times.set(number, (times.get(number) ?? 0) + more)
  return [...times].sort(([x], [y]) => x - y)
}

function merged<Key extends string, T>(
  a: Readonly<Record<Key, T>>,
  b: Readonly<Record<Key, T>>,
  add: (a: T, b: T) => T,
): Record<Key, T> {
  return mapped(a, (value, key) => add(value, b[key]))
}

function mapped<Key extends string, T, V>(of: Readonly<Record<Key, T>>, to: (value: T, key: Key) => V): Record<Key, V> {
  const entries = (Object.entries(of) as [Key, T][]).map(([key, value]) => [key, to(value, key)])
  return Object.fromEntries(entries) as Record<Key, V>
}
