import type { Slices } from '../../base/slices'
import { replay } from '../../play/replay'
import type { Listener } from '../../play/step'
import type { LinkedStory } from '../../story/linked'
import { decisionsIn, type RouteItem } from '../../story/types'
import type { Witness } from '../interpreter/events'
import type { Leg } from '../explicit/transition-player'
import { CLOSED } from '../symbolic/paths/actions'
import type { GuardedCommand } from '../symbolic/commands'
import { EMPTY } from '../symbolic/diagrams/node-table'
import type { Assignment } from '../symbolic/paths/demand'
import type { Distances } from '../symbolic/distances'
import type { SymbolicSearch } from '../symbolic/symbolic-search'
import { SHOWN, type ReadingList, type ReadingRoute } from './reading-routes'

/** Something to be read, and how it is first come to. */
interface Item {
  readonly name: string
  readonly witness: Witness
  /** The decision that is to be taken there, where that is the item. */
  readonly decision?: RouteItem
}

interface Draft {
  readonly route: readonly RouteItem[]
  readonly shows: readonly string[]
  readonly ending: string | undefined
}

/**
 * A cover of everything that a story can show, of which the states are known in sets alone: the way to what is deepest of
 * what is left, on to the nearest ending, and again; then ways that the others make needless are left out. Short where
 * much lies on the way to an ending; not the shortest. Undefined where `stop` says so first; throws TooMuch.
 */
export function* readingListInSets(search: SymbolicSearch, stop: () => boolean): Slices<ReadingList | undefined> {
  const { story } = search
  const items = itemsOf(search)
  const ways = new Ways(search, yield* search.distancesTo(search.ended()))
  const begun = shownBy(story, [])
  const opening = new Set(begun.shows)
  const left = new Set(items.map(({ name }) => name).filter((name) => !opening.has(name)))
  const drafts: Draft[] = []
  for (const item of items) {
    if (!left.has(item.name)) continue
    if (stop()) return undefined
    yield
    const draft = shownBy(
      story,
      search.diagrams.withRoom(() => ways.through(item)),
    )
    // of a group in turn the rehearsal may show another turn
    const shows = draft.shows.includes(item.name) ? draft.shows : [...draft.shows, item.name]
    drafts.push({ ...draft, shows })
    for (const shown of shows) left.delete(shown)
  }
  // where the game gives something else at the start, the others may not show what is shown where it gives nothing
  const shown = new Set(drafts.flatMap(({ shows }) => shows))
  const isLeft = drafts.length > 0 && begun.shows.some((name) => !shown.has(name))
  return told(needed(isLeft ? [begun, ...drafts] : drafts), items.length, isLeft ? new Set() : opening)
}

/** All that any route shows or decides, the deepest first. */
function itemsOf(search: SymbolicSearch): Item[] {
  const { story, events, programs } = search
  const items: Item[] = []
  for (let event = 0; event < events.occurred.length; event += 1) {
    if (events.occurred[event] === 0) continue
    const { kind, key } = events.at(event)
    if (SHOWN.has(kind)) items.push({ name: `${kind} ${key[0]!}`, witness: events.witness(event) })
  }
  for (const beat of story.inOrder) {
    const program = programs.known(beat.index)
    if (program === undefined || events.occurred[program.event] === 0) continue
    if (program.asks && search.reached.has(beat.index)) {
      const decision = { at: beat.address, word: search.search.wordOf(program, program.typable[0]!) }
      items.push({ name: `word ${beat.address}`, witness: events.witness(program.event), decision })
    }
    for (const [number, choice] of beat.choices.entries()) {
      const { event } = program.choices[number]!
      if (events.occurred[event] === 1)
        items.push({
          name: `choice ${choice.address}`,
          witness: events.witness(event),
          decision: { choice: choice.address },
        })
    }
  }
  return items
    .map((item) => ({ item, decisions: search.decisionsOf(item.witness) }))
    .sort((a, b) => b.decisions - a.decisions)
    .map(({ item }) => item)
}

/** Ways through sets of states, one state at a time. */
class Ways {
  constructor(
    private readonly search: SymbolicSearch,
    /** From the endings backwards. */
    private readonly toEnding: Distances,
  ) {}

  /** A shortest way to an item, and from there to the nearest ending, if one can still be come to. */
  through({ witness, decision }: Item): RouteItem[] {
    const { search } = this
    const way = this.wayTo(witness)
    // what another search has seen is told by it
    if (way === undefined) return search.routeOf(witness)
    if (decision !== undefined) this.goOn(way, this.commandFor(way, decision))
    const on = way.at === undefined ? [] : search.legsOn(this.toEnding, way.at.location, way.at.set)
    return search.told(way.given, [...way.legs, ...on])
  }

  /** How an item is come to, and where that is. */
  private wayTo(witness: Witness): Way | undefined {
    const { search } = this
    const seen = search.observed(witness)
    if (seen === undefined) {
      if (witness.told !== undefined) return undefined
      const given = search.begunFor(witness)
      const start = search.beginnings.find((one) => one.given === given)
      if (start === undefined) return { given, legs: [], at: undefined }
      const at = { location: start.location, set: search.one(start.location, start.set) }
      return { given: search.givenToBegin(start, at.set), legs: [], at }
    }
    const { near, location, command } = seen
    const one = search.one(location, near.set)
    const way: Way = {
      ...search.pathInto(search.distances, { ...near, set: one }, location),
      at: { location, set: one },
    }
    if (command === undefined) return way
    if (witness.pick === -1) way.legs.push({ item: undefined, given: command.action.given })
    else this.goOn(way, command)
    return way
  }

  private goOn(way: Way, command: GuardedCommand | undefined): void {
    const { search } = this
    if (way.at === undefined || command === undefined) return void (way.at = undefined)
    way.legs.push(search.legOf(command))
    const { to } = command.action
    const set = search.after(command, way.at.set)
    way.at = set === EMPTY ? undefined : { location: to, set: search.one(to, set) }
  }

  /** Whereby something is decided in a state: rather with what was given there last. */
  private commandFor({ at, legs }: Way, decision: RouteItem): GuardedCommand | undefined {
    const { search } = this
    if (at === undefined) return undefined
    const last = legs.at(-1)
    const given = last?.item === undefined ? (last?.given ?? []) : []
    const others = ({ action }: GuardedCommand) =>
      action.given.filter(([slot, value]) => given.some(([own, now]) => own === slot && now !== value)).length
    return search
      .commandsOf(at.location)
      .filter((command) => nameOf(search.decision(command)) === nameOf(decision) && command.action.to !== CLOSED)
      .sort((a, b) => others(a) - others(b))
      .find((command) => search.before(command, at.set) !== EMPTY)
  }
}

/** One state. */
interface Standing {
  readonly location: number
  readonly set: number
}

/** A way from the start, and the state that it comes to, if it rests in one. */
interface Way {
  readonly given: readonly Assignment[]
  readonly legs: Leg[]
  at: Standing | undefined
}

function nameOf(item: RouteItem): string {
  return 'choice' in item ? `choice ${item.choice}` : 'at' in item ? `word ${item.at} ${item.word}` : 'given'
}

/** What a route shows and decides when it is played, and the ending that it comes to. */
function shownBy(story: LinkedStory, route: readonly RouteItem[]): Draft {
  const shows: string[] = []
  const listener: Listener = {
    beat: ({ address, ending }) => {
      shows.push(`beat ${address}`)
      if (ending !== -1) shows.push(`ending ${story.endings[ending]!.id}`)
    },
    line: ({ address }) => void shows.push(`line ${address}`),
    variant: ({ address }) => void shows.push(`variant ${address}`),
  }
  const { state } = replay(story, route, listener)
  for (const item of route)
    if (!('given' in item)) shows.push('choice' in item ? `choice ${item.choice}` : `word ${item.at}`)
  const ending = state.status === 'ended' ? story.endings[story.beats[state.at]!.ending]!.id : undefined
  return { route, shows: [...new Set(shows)], ending }
}

/** Those that show something that no other does. */
function needed(drafts: readonly Draft[]): Draft[] {
  const times = new Map<string, number>()
  for (const { shows } of drafts) for (const one of shows) times.set(one, (times.get(one) ?? 0) + 1)
  return drafts.toReversed().filter(({ shows }) => {
    if (shows.some((one) => times.get(one) === 1)) return true
    for (const one of shows) times.set(one, times.get(one)! - 1)
    return false
  })
}

function told(drafts: readonly Draft[], items: number, opening: ReadonlySet<string>): ReadingList {
  const seen = new Set(opening)
  const routes = drafts.toReversed().map(({ route, shows, ending }): ReadingRoute => {
    const fresh = shows.filter((one) => !seen.has(one))
    for (const one of fresh) seen.add(one)
    return { decisions: route, fresh: fresh.length, ending }
  })
  return { routes, items, decisions: routes.reduce((sum, { decisions }) => sum + decisionsIn(decisions), 0) }
}
