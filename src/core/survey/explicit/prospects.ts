import type { Test } from '../interpreter/condition-compiler'
import { ofGraph } from './same-graph'
import type { Search } from './search'
import type { StateBits } from '../states/state-bits'

/**
 * For some properties of resting states: from which states one with the property can still be
 * reached. Where the search was cut short the answer has two sides: `can` is sure, and not `may`
 * is sure.
 */
export interface Prospects {
  must(state: number, property: number): boolean
  may(state: number, property: number): boolean
}

/** At most 32 properties; each is asked of the loaded state. */
export function prospects(search: Search, properties: readonly Test[]): Prospects {
  return canReachEither(search, properties.length, (seeds) => {
    for (let state = 0; state < search.states; state += 1) {
      search.loadResting(state)
      let mask = 0
      for (let at = 0; at < properties.length; at += 1) if (properties[at]!()) mask |= 1 << at
      seeds[state] = mask
    }
  })
}

/** The same for one property. */
export interface OneProspect {
  must(state: number): boolean
  may(state: number): boolean
  /** States from which it surely can, and from which it may. */
  readonly mustStates: StateBits
  readonly mayStates: StateBits
}

export function prospectsOf(search: Search, has: (state: number) => boolean): OneProspect {
  const { table, states } = search
  const sure = table.noneOf()
  const optimistic = search.done ? undefined : table.noneOf()
  for (let state = 0; state < states; state += 1) {
    const own = has(state)
    if (own) sure.add(table.idOf(state))
    // what was not looked at may lead anywhere
    if (optimistic !== undefined && (own || state >= search.expanded)) optimistic.add(table.idOf(state))
  }
  search.backward.canReachOne(sure)
  if (optimistic !== undefined) search.backward.canReachOne(optimistic)
  const possible = optimistic ?? sure
  return {
    must: (state) => sure.has(table.idOf(state)),
    may: (state) => possible.has(table.idOf(state)),
    mustStates: sure,
    mayStates: possible,
  }
}

/** From which states the story can still end. */
export interface EndingProspects extends OneProspect {
  /** Whether it can from all of them. */
  readonly everywhere: boolean
}

const known = new WeakMap<object, EndingProspects>()

export function endingProspects(search: Search): EndingProspects {
  return ofGraph(known, search, () => findEndingProspects(search))
}

function findEndingProspects(search: Search): EndingProspects {
  const ends = Uint8Array.from(search.story.beats, ({ ending }) => (ending === -1 ? 0 : 1))
  const found = prospectsOf(search, (state) => {
    const location = search.locationOf(state)
    return location < ends.length && ends[location] === 1
  })
  let everywhere = true
  for (let state = 0; state < search.states && everywhere; state += 1) everywhere = found.must(state)
  return { ...found, everywhere }
}

/** From which states it can still end in each of up to 32 endings, of which the first is `from`. */
export function prospectsOfEndings(search: Search, from: number, count: number): Prospects {
  return prospectsOfBeats(
    search,
    count,
    Int32Array.from(search.story.beats, ({ ending }) =>
      ending < from || ending >= from + count ? 0 : 1 << (ending - from),
    ),
  )
}

/** The same where the beat that a state rests at tells its properties, as bits. */
function prospectsOfBeats(search: Search, count: number, ofBeat: Int32Array): Prospects {
  return canReachEither(search, count, (seeds) => {
    for (let state = 0; state < search.states; state += 1) {
      const location = search.locationOf(state)
      if (location < ofBeat.length) seeds[state] = ofBeat[location]!
    }
  })
}

/** The same for so many properties whose states are known: `seed` sets bit p of a state's word where it has property p. */
function canReachEither(search: Search, properties: number, seed: (seeds: Uint32Array) => void): Prospects {
  const seeds = new Uint32Array(search.states)
  seed(seeds)
  const all = properties === 32 ? -1 : 2 ** properties - 1
  const optimistic = search.done ? undefined : seeds.slice()
  const sure = search.backward.canReach(seeds, all)
  // What was not looked at may lead anywhere.
  optimistic?.fill(all, search.expanded)
  const possible = optimistic === undefined ? sure : search.backward.canReach(optimistic, all)
  const bit = (masks: Uint32Array, state: number, property: number) => ((masks[state]! >>> property) & 1) === 1
  return {
    must: (state, property) => bit(sure, state, property),
    may: (state, property) => bit(possible, state, property),
  }
}
