import { ownerOf } from '../../base/address'
import type { Slices } from '../../base/slices'
import { EMPTY, TooMuch } from '../symbolic/diagrams/node-table'
import type { SymbolicSearch } from '../symbolic/symbolic-search'
import { addressesIn, hearRow, type Heard, type HeardLines } from './heard-lines'

/** Hears of all lines that are said, from sets of states, what they depend on. False where `stop` said so before the end. Throws TooMuch. */
export function* spokenInSets(search: SymbolicSearch, heard: HeardLines, stop: () => boolean): Slices<boolean> {
  const { story } = search
  const addressOf = addressesIn(search.events, heard)
  /** The lines that events tell of, by the beats that they stand in. */
  const saidIn = (events: readonly number[]) => {
    const beats = new Map<number, string[]>()
    for (const address of events.map(addressOf)) {
      if (address === '') continue
      const beat = story.beatOf.get(ownerOf(address))!
      beats.set(beat, [...(beats.get(beat) ?? []), address])
    }
    return beats
  }
  yield* hearStart(search, heard, saidIn)
  for (const [location, set] of search.reached) {
    const beats = saidIn([...new Set(search.commandsOf(location).flatMap(({ action }) => action.onTheWay))])
    for (const [beat, addresses] of beats) {
      if (stop()) return false
      const slots = slotsOf(addresses.map((address) => heard.get(address)!))
      const commands = search.commandsPassing(location, { beat }, slots)
      if (commands === undefined) throw new TooMuch()
      for (const command of commands) {
        const said = saidIn(command.action.onTheWay).get(beat) ?? []
        yield
        const before = said.length === 0 ? EMPTY : search.before(command, set)
        if (before === EMPTY) continue
        for (const address of said)
          for (const known of command.action.passed)
            hearAll(search, location, before, new Map(known), heard.get(address)!)
      }
    }
  }
  return true
}

function slotsOf(lines: readonly Heard[]): number[] {
  return [...new Set(lines.flatMap(({ slots }) => slots))]
}

/** What is said before anything is decided. */
function* hearStart(
  search: SymbolicSearch,
  heard: HeardLines,
  saidIn: (events: readonly number[]) => Map<number, string[]>,
): Slices<void> {
  const starts = yield* search.actions.begin()
  if (starts === undefined) throw new TooMuch()
  const beats = saidIn([...new Set(starts.flatMap(({ onTheWay }) => onTheWay))])
  for (const [beat, addresses] of beats) {
    const ways = yield* search.actions.begin({ beat }, slotsOf(addresses.map((address) => heard.get(address)!)))
    if (ways === undefined) throw new TooMuch()
    for (const { onTheWay, passed } of ways)
      for (const address of saidIn(onTheWay).get(beat) ?? []) {
        const line = heard.get(address)!
        for (const known of passed.map((values) => new Map(values)))
          hearRow(
            line,
            line.slots.map((slot) => known.get(slot)!),
          )
      }
  }
}

/** Each combination of values that slots have in some states, where those that are known then have these. */
function hearAll(
  search: SymbolicSearch,
  location: number,
  set: number,
  known: ReadonlyMap<number, number>,
  line: Heard,
): void {
  const follow = (some: number, row: readonly number[]) => {
    const slot = line.slots[row.length]
    if (slot === undefined) return hearRow(line, row)
    const own = known.get(slot)
    if (own !== undefined) return follow(some, [...row, own])
    for (const value of search.valueReader(location, some)(slot))
      follow(search.having(location, some, slot, value), [...row, value])
  }
  follow(set, [])
}
