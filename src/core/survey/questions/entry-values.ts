import { turnPlan } from '../summaries/turn-plan'
import type { Slices } from '../../base/slices'
import type { LinkedStory } from '../../story/linked'
import { keptInSets, searchKeeping } from './search-keeping'
import type { Search } from '../explicit/search'
import type { SymbolicSearch } from '../symbolic/symbolic-search'
import { slotValue } from '../states/slot-value'
import { allotSlots } from '../analysis/slots'
import { ownersOf } from '../../story/linked-parts'
import type { Survey } from '../survey'

/** What an entry really holds where the story rests, over all routes. */
export interface TakenValues {
  /** In the order of the declaration; numbers rising. */
  readonly values: readonly (boolean | number | string)[]
  /** A text entry also holds words that the story does not name. */
  readonly anyWord: boolean
}

const STRIDE = 512
/** States that are looked at one by one before they are looked at in sets. */
const SINGLE = 60_000

/**
 * The values of all entries, by a survey of its own in which every entry is kept everywhere; a
 * scene's own entries are looked at inside of their scene. Undefined when `stop` said so before it was done.
 * `single`, for tests: after how many states they are looked at in sets.
 */
export function* entryValues(
  story: LinkedStory,
  stop: () => boolean,
  single = SINGLE,
): Slices<Record<string, TakenValues> | undefined> {
  const slots = allotSlots(story)
  // what the game gives may be anything
  const keep = story.entries.flatMap(({ index, given }) => (given === undefined ? [slots.ofEntry[index]!] : []))
  const { main } = turnPlan(story)
  const search = searchKeeping(story, keep, main)
  const seen = story.entries.map(() => new Set<number>())
  while (!search.done && search.expanded < single) {
    search.advance(STRIDE)
    if (stop()) return undefined
    yield
  }
  const inSets = search.done ? undefined : yield* keptInSets(search, main, stop)
  if (inSets !== undefined) hearSets(inSets, seen)
  else if (!(yield* hearStates(search, seen, stop))) return undefined
  return Object.fromEntries(
    story.entries.map((entry): [string, TakenValues] => {
      if (entry.given !== undefined) return [entry.id, { values: [], anyWord: true }]
      const slot = search.slots.all[search.slots.ofEntry[entry.index]!]!
      const named = slot.kind === 'entry' && slot.words !== undefined ? slot.words.others : Infinity
      const numbers = [...seen[entry.index]!].sort((a, b) => a - b)
      const values = numbers.filter((value) => value < named).map((value) => slotValue(story, slot, value))
      if (entry.kind === 'counter' || entry.kind === 'item') values.sort((a, b) => Number(a) - Number(b))
      return [entry.id, { values, anyWord: numbers.some((value) => value >= named) }]
    }),
  )
}

function hearSets(inSets: SymbolicSearch, seen: readonly Set<number>[]): void {
  const { story, slots } = inSets.search
  for (const [location, set] of inSets.reached) {
    const { scene } = story.beats[location % story.beats.length]!
    const read = inSets.valueReader(location, set)
    for (const entry of story.entries) {
      if (entry.scene !== -1 && entry.scene !== scene) continue
      for (const value of read(slots.ofEntry[entry.index]!)) seen[entry.index]!.add(value)
    }
  }
}

/** False where `stop` said so before all were heard. */
function* hearStates(search: Search, seen: readonly Set<number>[], stop: () => boolean): Slices<boolean> {
  const { story, slots } = search
  while (!search.done) {
    search.advance(STRIDE)
    if (stop()) return false
    yield
  }
  for (let state = 0; state < search.states; state += 1) {
    if (state % STRIDE === 0) {
      if (stop()) return false
      yield
    }
    search.load(state)
    const { scene } = story.beats[search.beatOf(state)]!
    for (const entry of story.entries) {
      if (entry.scene === -1 || entry.scene === scene)
        seen[entry.index]!.add(search.values[slots.ofEntry[entry.index]!]!)
    }
  }
  return true
}

/**
 * The values that flags, switches and texts are set to on some route, for a story too large to keep
 * every entry everywhere: their start, and what effects set that are executed. Entries whose
 * effects work a value out, and numbers, are left out.
 */
export function valuesSet({ story, evidence: seen }: Survey): Record<string, TakenValues> {
  const found = new Map(
    story.entries
      .filter(({ kind }) => kind !== 'counter' && kind !== 'item')
      .map((entry) => [entry.id, new Set([entry.initial])]),
  )
  for (const beat of story.inOrder) {
    for (const { address, effects } of ownersOf(beat)) {
      for (const { effect } of effects) {
        if (effect.kind === 'stage') continue
        const { value } = effect
        if (value.kind !== 'bool' && value.kind !== 'string') found.delete(effect.entry)
        else if (seen.events.witnessOfPart(address) !== undefined) found.get(effect.entry)?.add(value.value)
      }
    }
    const into = beat.ask?.into ?? -1
    if (into !== -1) found.delete(story.entries[into]!.id)
  }
  return Object.fromEntries(
    [...found].map(([id, values]): [string, TakenValues] => [id, { values: [...values], anyWord: false }]),
  )
}
