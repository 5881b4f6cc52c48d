import { never } from '../base/assert'
import type { Random } from '../base/random'
import { fail, ok, type Result } from '../base/result'
import { isInDomain, type GivenValues } from '../play/given'
import type { LinkedEntry, LinkedStory } from '../story/linked'
import type { EntryValue } from '../story/types'
import { wordDomains } from '../survey/summaries/word-domains'

/** How the game comes to a value that it gives, where it is not one as likely as another. */
export type GivenDraw =
  /** Values with how likely they are beside each other; those that are left out do not come. */
  | { readonly kind: 'weighted'; readonly of: readonly (readonly [value: EntryValue, weight: number])[] }
  /** A whole number from one to another, both included, one as likely as another. */
  | { readonly kind: 'between'; readonly from: number; readonly to: number }

/** By entry; what is left out is uniform. */
export type GivenDraws = Readonly<Record<string, GivenDraw>>

/** Why an entry can't be drawn so; undefined where it can. */
export function drawTrouble(story: LinkedStory, draws: GivenDraws): string | undefined {
  for (const [id, draw] of Object.entries(draws)) {
    const entry = story.entries[story.entryOf.get(id) ?? -1]
    if (entry?.given === undefined) return `the game gives no entry "${id}"`
    if (draw.kind === 'between') {
      if (!isInDomain(entry, draw.from) || !isInDomain(entry, draw.to) || draw.from > draw.to)
        return `"${id}" can not be from ${draw.from} to ${draw.to}`
      continue
    }
    for (const [value, weight] of draw.of) {
      if (!isInDomain(entry, value)) return `"${id}" can not be ${JSON.stringify(value)}`
      if (!(weight >= 0 && weight < Infinity)) return `${weight} is no weight for "${id}": 0 or more is expected`
    }
    if (!draw.of.some(([, weight]) => weight > 0)) return `"${id}" has no value with a weight above 0`
  }
  return undefined
}

/**
 * Reads how a value is drawn: "1..20", or values separated by commas, each with a weight where one is wanted
 * ("rain:3, sun:1").
 */
export function readDraw(entry: LinkedEntry, source: string): Result<GivenDraw> {
  const range = /^\s*(-?\d+)\s*\.\.\s*(-?\d+)\s*$/.exec(source)
  if (range !== null && entry.kind !== 'text')
    return ok({ kind: 'between', from: Number(range[1]), to: Number(range[2]) })
  const of: [EntryValue, number][] = []
  for (const part of source.split(',')) {
    const weighted = /^(.*):\s*(\d+(?:\.\d+)?)\s*$/su.exec(part)
    const value = valueOf(entry, (weighted?.[1] ?? part).trim())
    if (value === undefined) return fail(`"${entry.id}" can not be "${(weighted?.[1] ?? part).trim()}"`)
    of.push([value, weighted === null ? 1 : Number(weighted[2])])
  }
  return ok({ kind: 'weighted', of })
}

function valueOf(entry: LinkedEntry, written: string): EntryValue | undefined {
  const value =
    entry.kind === 'flag'
      ? { true: true, yes: true, false: false, no: false }[written]
      : entry.kind === 'counter' || entry.kind === 'item'
        ? written === ''
          ? undefined
          : Number(written)
        : written
  return value !== undefined && isInDomain(entry, value) ? value : undefined
}

/** Draws what the game gives: some of it before the story begins, the rest anew whenever the story rests. */
export class GivenSource {
  readonly begins: boolean
  readonly changes: boolean
  private readonly drawn: readonly { readonly entry: LinkedEntry; readonly draw: () => EntryValue }[]

  constructor(story: LinkedStory, draws: GivenDraws, random: Random) {
    const given = story.entries.filter((entry) => entry.given !== undefined)
    this.begins = given.length > 0
    this.changes = given.some((entry) => entry.given === 'rest')
    const words = given.some(({ kind }) => kind === 'text') ? wordDomains(story) : undefined
    this.drawn = given.map((entry) => {
      const draw = draws[entry.id]
      const known = words?.get(entry.index)
      return {
        entry,
        draw:
          draw === undefined
            ? uniform(entry, known?.values.filter((word) => isInDomain(entry, word)) ?? [], random)
            : drawn(draw, random),
      }
    })
  }

  beginning(): GivenValues {
    return Object.fromEntries(this.drawn.map(({ entry, draw }) => [entry.id, draw()]))
  }

  /** What changes as the story rests; undefined where everything stays as it is. */
  change(entries: readonly EntryValue[]): GivenValues | undefined {
    const changed: [string, EntryValue][] = []
    for (const { entry, draw } of this.drawn) {
      if (entry.given !== 'rest') continue
      const value = draw()
      if (value !== entries[entry.index]) changed.push([entry.id, value])
    }
    return changed.length === 0 ? undefined : Object.fromEntries(changed)
  }
}

function uniform(
  { kind, positions, min, max }: LinkedEntry,
  words: readonly string[],
  random: Random,
): () => EntryValue {
  switch (kind) {
    case 'flag':
      return () => random.chance(0.5)
    case 'switch':
      return () => random.pick(positions)
    case 'counter':
    case 'item':
      return () => min + random.below(max - min + 1)
    case 'text':
      // of all words the story tells only these apart
      return () => (words.length === 0 ? '' : random.pick(words))
    default:
      return never(kind)
  }
}

function drawn(draw: GivenDraw, random: Random): () => EntryValue {
  if (draw.kind === 'between') return () => draw.from + random.below(draw.to - draw.from + 1)
  const likely = draw.of.filter(([, weight]) => weight > 0)
  const total = likely.reduce((sum, [, weight]) => sum + weight, 0)
  return () => {
    let left = random.fraction() * total
    for (const [value, weight] of likely) {
      left -= weight
      if (left < 0) return value
    }
    return likely.at(-1)![0]
  }
}
