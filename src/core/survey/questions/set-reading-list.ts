import type { Slices } from '../../base/slices'
import { replay } from '../../play/replay'
import type { Listener } from '../../play/step'
import type { LinkedStory } from '../../story/linked'
import { decisionsIn, type RouteItem } from '../../story/types'
import type { Witness } from '../interpreter/events'
import type { GuardedCommand } from '../symbolic/commands'
import { EMPTY } from '../symbolic/node-table'
import type { Level } from '../symbolic/state-sets'
import type { SymbolicSearch } from '../symbolic/symbolic-search'
import { hasGiven } from './search-keeping'
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
  // one playthrough begins in one way
  if (hasGiven(story)) return undefined
  const items = itemsOf(search)
  const ways = new Ways(search, yield* search.layersTo(search.ended()))
  const opening = new Set(shownBy(story, []).shows)
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
  return told(needed(drafts), items.length, opening)
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
  for (const beat of story.beats) {
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
  /** By location, then by decision: the commands that it can be. */
  private readonly commands = new Map<number, Map<string, GuardedCommand[]>>()

  constructor(
    private readonly search: SymbolicSearch,
    /** From the endings backwards. */
    private readonly toEnding: readonly Level[],
  ) {}

  /** A shortest way to an item, and from there to the nearest ending, if one can still be come to. */
  through({ witness, decision }: Item): RouteItem[] {
    const { search } = this
    const route = [...search.routeOf(witness), ...(decision === undefined ? [] : [decision])]
    const [start] = search.beginnings
    let at: Standing | undefined = start
    for (const item of route) at = at && this.after(at, item)
    if (at !== undefined) route.push(...this.onToEnding(at))
    return route
  }

  /** Where a decision leads; undefined where that is nowhere. */
  private after({ location, set }: Standing, decision: RouteItem): Standing | undefined {
    const { search } = this
    for (const command of this.commandsAt(location).get(nameOf(decision)) ?? []) {
      const to = search.after(command, set)
      if (to !== EMPTY) return { location: command.action.to, set: to }
    }
    return undefined
  }

  private onToEnding(from: Standing): RouteItem[] {
    const { search, toEnding } = this
    const route: RouteItem[] = []
    const isIn = (layer: number, { location, set }: Standing) =>
      search.diagrams.both(toEnding[layer]!.sets.get(location) ?? EMPTY, set) !== EMPTY
    let layer = toEnding.findIndex((_, one) => isIn(one, from))
    let at = from
    for (; layer > 0; layer -= 1) {
      const next = this.nearer(at, layer - 1)
      route.push(next.decision)
      at = next.to
    }
    return route
  }

  /** A decision that leads into the layer that is one nearer. */
  private nearer({ location, set }: Standing, layer: number): { decision: RouteItem; to: Standing } {
    const { search } = this
    for (const command of search.commandsOf(location)) {
      if (command.relation === undefined) continue
      const { to } = command.action
      const goal = this.toEnding[layer]!.sets.get(to)
      if (goal === undefined || search.comeFrom(command, goal, set) === EMPTY) continue
      return { decision: search.decision(command), to: { location: to, set: search.after(command, set) } }
    }
    throw new Error('internal: a layer that no decision leads to')
  }

  private commandsAt(location: number): Map<string, GuardedCommand[]> {
    const known = this.commands.get(location)
    if (known !== undefined) return known
    const made = new Map<string, GuardedCommand[]>()
    for (const command of this.search.commandsOf(location)) {
      const name = nameOf(this.search.decision(command))
      const same = made.get(name)
      if (same === undefined) made.set(name, [command])
      else same.push(command)
    }
    this.commands.set(location, made)
    return made
  }
}

/** One state. */
interface Standing {
  readonly location: number
  readonly set: number
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
