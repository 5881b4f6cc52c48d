import { inOneGo } from '../../base/slices'
import type { Share } from '../findings/exploration'
import { EMPTY } from './diagrams/node-table'
import type { Sets } from './state-sets'
import type { SymbolicSearch } from './symbolic-search'

/** What can be true once a beat's lines have been shown. */
export interface Passed {
  /** By slot that was asked about. */
  readonly values: ReadonlyMap<number, ReadonlySet<number>>
  /** Which endings can still be come to, by their numbers. */
  readonly endings: readonly Share[]
}

/** Bearings from sets of states. */
export class SetBearings {
  /** By ending: the states from which it can be come to. */
  private readonly canEnd: (Sets | undefined)[] = []

  constructor(private readonly search: SymbolicSearch) {}

  /** What is so at a beat, of some slots, but those that may be anything; undefined where there are too many ways to look at. */
  at(beat: number, asked: readonly number[]): Passed | undefined {
    const { search } = this
    const { diagrams, reached } = search
    const { free } = search.search.givens.plan
    const slots = asked.filter((slot) => !free.includes(slot))
    const { story } = search
    const values = new Map(slots.map((slot) => [slot, new Set<number>()]))
    const outcomes: Sets = new Map()
    let isEndless = false
    const hear = (location: number, set: number, known: ReadonlyMap<number, number>) => {
      const read = search.valueReader(location, set)
      for (const slot of slots) {
        const own = known.get(slot)
        for (const value of own === undefined ? read(slot) : [own]) values.get(slot)!.add(value)
      }
    }
    const { ask, ending, onward } = story.beats[beat]!
    if (ending !== -1 || ask !== undefined || onward.length === 0) {
      // it always rests here
      const set = reached.get(beat)
      if (set !== undefined) {
        hear(beat, set, new Map())
        outcomes.set(beat, set)
      }
    } else {
      const event = search.events.partsOf(beat)
      const start = search.passedAtStart({ beat }, [], (now) => {
        for (const slot of slots) values.get(slot)!.add(now[slot]!)
      })
      for (const { location, set } of start) {
        if (location === undefined) isEndless = true
        else search.add(outcomes, location, set)
      }
      for (const [location, set] of reached) {
        if (!search.commandsOf(location).some(({ action }) => action.onTheWay.includes(event))) continue
        const commands = search.commandsPassing(location, { beat }, slots)
        if (commands === undefined) return undefined
        for (const command of commands) {
          const before = search.before(command, set)
          if (before === EMPTY) continue
          for (const known of command.action.passed) hear(location, before, new Map(known))
          if (command.relation === undefined) isEndless = true
          else search.add(outcomes, command.action.to, search.after(command, before))
        }
      }
    }
    const endings = story.endings.map((_, ending): Share => {
      const can = this.endingFrom(ending)
      let all = !isEndless && outcomes.size > 0
      let some = false
      for (const [location, set] of outcomes) {
        const those = diagrams.both(set, can.get(location) ?? EMPTY)
        some ||= those !== EMPTY
        all &&= those === set
      }
      return all ? 'all' : some ? 'some' : 'none'
    })
    return { values, endings }
  }

  private endingFrom(ending: number): Sets {
    const known = this.canEnd[ending]
    if (known !== undefined) return known
    const { search } = this
    return (this.canEnd[ending] = inOneGo(search.comingTo(search.ended(ending))))
  }
}
