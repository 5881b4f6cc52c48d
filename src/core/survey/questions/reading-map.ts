import type { Slices } from '../../base/slices'
import { decisionsIn } from '../../story/types'
import type { Chosen } from '../interpreter/givens'
import { NO_STATE } from '../states/state-set'
import type { Survey } from '../survey'
import { SHOWN, type ReadingList, type ReadingRoute } from './reading-routes'

/** How a walk goes on: to the nearest new thing; to those after which the farthest of them can still be come to; to those after which no ending is lost. */
export const MANNERS = ['nearest', 'farthest', 'careful'] as const
type Manner = (typeof MANNERS)[number]
/** Something that a walk must not lose on its way. */
interface Aim {
  readonly item: number
  readonly distances: Int32Array
}

/** All states of a story, looked at one by one. */
export type Looked = Pick<Survey, 'story' | 'search' | 'routes'>

/** How often walks are made shorter by what the others show. */
const ROUNDS = 4

/** States that are played again between two stops. */
const STRIDE = 128

/** A walk from before the beginning: its transitions in order, by their place among the edges. */
export type Walk = readonly number[]

/**
 * The search's states and transitions as a map to be walked. Before them all stands one more state, of which a transition
 * leads to where each way to begin comes, by what the game gives for it.
 */
export class ReadingMap {
  /** By way to begin: what is given, and where that leads. */
  private readonly beginnings: { readonly given: readonly Chosen[]; readonly to: number }[] = []
  /** Items of transition e: from `first[e]` to `first[e + 1]` of `items`. */
  private readonly first: number[] = []
  private readonly items: number[] = []
  private readonly sources: number[] = []
  private count = 0
  /** Where the transition that shows an item first begins. */
  private readonly firstShown: number[] = []
  private toEnding: Int32Array = new Int32Array()
  /** By state: the next on a shortest way to an ending. */
  private nextToEnding: Uint32Array = new Uint32Array()
  /** Bit e: ending e (of the first 32) can still be come to from the state. */
  private open: Uint32Array = new Uint32Array()
  private readonly before: Int32Array
  private readonly stamps: Uint32Array
  private stamp = 0

  constructor(
    private readonly survey: Looked,
    private readonly stop: () => boolean,
  ) {
    const { states } = survey.search
    this.before = new Int32Array(states + 1)
    this.stamps = new Uint32Array(states + 1)
  }

  /** The state before the story has begun. */
  private get root(): number {
    return this.survey.search.states
  }

  private firstEdge(state: number): number {
    return state === this.root ? this.survey.search.transitions : this.survey.search.firstEdge(state)
  }

  private endEdge(state: number): number {
    return state === this.root
      ? this.survey.search.transitions + this.beginnings.length
      : this.survey.search.endEdge(state)
  }

  /** Plays every transition again to see what it shows. */
  *gather(): Slices<void> {
    const { search } = this.survey
    const { events } = search
    const edges = search.transitions
    const numbers = new Map<number | string, number>()
    const item = (name: number | string, edge: number) => {
      let number = numbers.get(name)
      if (number === undefined) {
        number = numbers.size
        numbers.set(name, number)
        this.firstShown.push(edge)
      }
      return number
    }
    const itemsOf = (shown: readonly number[], edge: number) =>
      shown.filter((event) => SHOWN.has(events.at(event).kind)).map((event) => item(event, edge))
    const gatherFrom = (from: number, to: number) =>
      events.recording((shows) => {
        for (let state = from; state < to; state += 1) {
          const start = search.firstEdge(state)
          search.decisionsIn(state).forEach((decision, pick) => {
            const edge = start + pick
            this.sources[edge] = state
            this.first[edge] = this.items.length
            this.items.push(
              // what the game changes is nothing to be read
              ...('given' in decision ? [] : [item('choice' in decision ? decision.choice : decision.at, edge)]),
              ...itemsOf(
                shows(() => search.replayPick(state, pick)),
                edge,
              ),
            )
          })
        }
      })
    for (let from = 0; from < search.expanded; from += STRIDE) {
      gatherFrom(from, Math.min(from + STRIDE, search.expanded))
      yield
    }
    events.recording((_, shown) =>
      search.eachBeginning(
        () => events.forgetShown(),
        (to) => {
          const edge = edges + this.beginnings.length
          this.sources[edge] = this.root
          this.first[edge] = this.items.length
          this.items.push(...itemsOf(shown, edge))
          this.beginnings.push({ given: search.givens.chosen(), to })
        },
      ),
    )
    this.first[this.endEdge(this.root)] = this.items.length
    this.count = numbers.size
    const ended: number[] = []
    for (let state = 0; state < search.states; state += 1)
      if (search.loadResting(state).ending !== -1) ended.push(state)
    const ends = search.backward.distancesTo(ended)
    this.toEnding = ends.distances
    this.nextToEnding = ends.next
    const seeds = new Uint32Array(search.states)
    for (const state of ended) seeds[state] = (1 << (search.loadResting(state).ending & 31)) >>> 0
    this.open = new Uint32Array(this.root + 1)
    this.open.set(search.backward.canReach(seeds, -1))
    for (const { to } of this.beginnings) if (to !== NO_STATE) this.open[this.root]! |= this.open[to]!
  }

  /** What is shown however the story begins needs no route. */
  private get opening(): readonly number[] {
    return this.beginnings.length === 1 ? this.itemsOf(this.firstEdge(this.root)) : []
  }

  /** Undefined when it was stopped before everything was shown. */
  *walks(manner: Manner): Slices<Walk[] | undefined> {
    const covered = new Uint8Array(this.count)
    let left = this.count - cover(covered, this.opening)
    const walks: Walk[] = []
    while (left > 0) {
      if (this.stop()) return undefined
      yield
      const walk = this.walk(covered, manner)
      const fresh = walk.reduce((sum, edge) => sum + cover(covered, this.itemsOf(edge)), 0)
      if (fresh === 0) break
      left -= fresh
      walks.push(walk)
    }
    return walks
  }

  /** One walk from the start that goes on as long as there is something new to come to, and then to an ending. */
  private walk(before: Uint8Array, manner: Manner): Walk {
    const covered = before.slice()
    const walk: number[] = []
    let at = this.root
    let aim = manner === 'farthest' ? this.farthest(covered) : undefined
    while (!this.stop()) {
      if (aim !== undefined && covered[aim.item] === 1) aim = this.farthest(covered)
      const path = this.next(at, covered, manner, aim)
      if (path.length === 0) break
      for (const edge of path) cover(covered, this.itemsOf(edge))
      walk.push(...path)
      at = this.target(path.at(-1)!)
      if (at === NO_STATE) return walk
    }
    return at === this.root ? walk : [...walk, ...this.toAnEnding(at)]
  }

  private next(from: number, covered: Uint8Array, manner: Manner, aim: Aim | undefined): number[] {
    if (manner === 'careful') {
      const endings = this.open[from]!
      const spared = this.nearest(
        from,
        covered,
        (next) => next !== NO_STATE && (this.open[next]! & endings) === endings,
      )
      if (spared.length > 0) return spared
    } else if (aim !== undefined) {
      const spared = this.nearest(
        from,
        covered,
        (next, edge) => (next !== NO_STATE && aim.distances[next] !== -1) || this.showsItem(edge, aim.item),
      )
      if (spared.length > 0) return spared
    }
    return this.nearest(from, covered)
  }

  /** Makes each walk anew for what it alone shows, as long as that makes any shorter. */
  *shortened(walks: readonly Walk[]): Slices<Walk[]> {
    let now = [...walks]
    for (let round = 0; round < ROUNDS && !this.stop(); round += 1) {
      const times = this.timesShown(now)
      let better = false
      for (const [at, walk] of now.entries()) {
        if (this.stop()) break
        yield
        const needed = new Set(walk.flatMap((edge) => this.itemsOf(edge)).filter((item) => times[item] === 1))
        const covered = new Uint8Array(this.count).fill(1)
        for (const item of needed) covered[item] = 0
        const made = MANNERS.map((manner) => this.walk(covered, manner)).filter(
          (one) => one.length < walk.length && this.shows(one, needed),
        )
        const best = made.reduce((least, one) => (one.length < least.length ? one : least), walk)
        if (best === walk) continue
        better = true
        now[at] = best
        for (const item of new Set(walk.flatMap((edge) => this.itemsOf(edge)))) times[item]! -= 1
        for (const item of new Set(best.flatMap((edge) => this.itemsOf(edge)))) times[item]! += 1
      }
      if (!better) break
      now = this.withoutNeedless(now)
    }
    return now
  }

  private shows(walk: Walk, needed: ReadonlySet<number>): boolean {
    const left = new Set(needed)
    for (const edge of walk) for (const item of this.itemsOf(edge)) left.delete(item)
    return left.size === 0
  }

  /** How many walks show each item; what the opening shows counts as one more. */
  private timesShown(walks: readonly Walk[]): Uint32Array {
    const times = new Uint32Array(this.count)
    for (const item of this.opening) times[item] = 1
    for (const walk of walks) for (const item of new Set(walk.flatMap((edge) => this.itemsOf(edge)))) times[item]! += 1
    return times
  }

  /** Leaves out every walk of which the others show all; long ones are tried first. */
  withoutNeedless(walks: readonly Walk[]): Walk[] {
    const times = this.timesShown(walks)
    const kept = new Set(walks.keys())
    const order = [...walks.keys()].sort((a, b) => walks[b]!.length - walks[a]!.length)
    for (const at of order) {
      const shown = new Set(walks[at]!.flatMap((edge) => this.itemsOf(edge)))
      if ([...shown].some((item) => times[item] === 1)) continue
      kept.delete(at)
      for (const item of shown) times[item]! -= 1
    }
    return walks.filter((_, at) => kept.has(at))
  }

  tell(walks: readonly Walk[]): ReadingList {
    const { search, routes, story } = this.survey
    const covered = new Uint8Array(this.count)
    cover(covered, this.opening)
    const list = walks.map((walk): ReadingRoute => {
      const last = this.target(walk.at(-1)!)
      const ending = last === NO_STATE ? -1 : search.loadResting(last).ending
      const [first, ...rest] = walk
      return {
        decisions: routes.byPicks(
          this.beginnings[first! - this.firstEdge(this.root)]!.given,
          rest.map((edge) => {
            const state = this.sources[edge]!
            return { state, pick: edge - search.firstEdge(state) }
          }),
        ),
        fresh: walk.reduce((sum, edge) => sum + cover(covered, this.itemsOf(edge)), 0),
        ending: ending === -1 ? undefined : story.endings[ending]!.id,
      }
    })
    return {
      routes: list,
      decisions: list.reduce((sum, { decisions }) => sum + decisionsIn(decisions), 0),
      items: this.count,
    }
  }

  private itemsOf(edge: number): readonly number[] {
    return this.items.slice(this.first[edge], this.first[edge + 1])
  }

  private showsItem(edge: number, item: number): boolean {
    for (let at = this.first[edge]!; at < this.first[edge + 1]!; at += 1) if (this.items[at] === item) return true
    return false
  }

  private target(edge: number): number {
    const { search } = this.survey
    return edge < search.transitions ? search.successor(edge) : this.beginnings[edge - search.transitions]!.to
  }

  /** The shortest way from a state to a transition that shows something new, with it; of equally near ones that which shows most. Empty where there is none, or no allowed one. */
  private nearest(from: number, covered: Uint8Array, allowed?: (next: number, edge: number) => boolean): number[] {
    this.stamp += 1
    this.stamps[from] = this.stamp
    const queue = [from]
    for (let head = 0; head < queue.length; head += 1) {
      const state = queue[head]!
      const end = this.endEdge(state)
      let best = -1
      let most = 0
      for (let edge = this.firstEdge(state); edge < end; edge += 1) {
        const next = this.target(edge)
        if (allowed?.(next, edge) === false) continue
        const fresh = this.fresh(edge, covered)
        if (fresh > most) {
          most = fresh
          best = edge
        }
        if (next === NO_STATE || this.stamps[next] === this.stamp) continue
        this.stamps[next] = this.stamp
        this.before[next] = edge
        queue.push(next)
      }
      if (best !== -1) return [...this.wayBack(state, from), best]
    }
    return []
  }

  private fresh(edge: number, covered: Uint8Array): number {
    let fresh = 0
    for (let at = this.first[edge]!; at < this.first[edge + 1]!; at += 1) if (covered[this.items[at]!] === 0) fresh += 1
    return fresh
  }

  private wayBack(state: number, from: number): number[] {
    const way: number[] = []
    for (let at = state; at !== from; at = this.sources[this.before[at]!]!) way.push(this.before[at]!)
    return way.reverse()
  }

  /** Of what is new, that which is shown last, and how far each state is from it; undefined where nothing is left. */
  private farthest(covered: Uint8Array): Aim | undefined {
    const { search } = this.survey
    // states are numbered in order of depth, so the last transition is one of the deepest
    let item = -1
    for (let one = 0; one < this.count; one += 1)
      if (covered[one] === 0 && (item === -1 || this.firstShown[one]! > this.firstShown[item]!)) item = one
    if (item === -1) return undefined
    const goals = new Set<number>()
    for (let edge = 0; edge < search.transitions; edge += 1)
      if (this.showsItem(edge, item)) goals.add(this.sources[edge]!)
    return { item, distances: search.backward.distancesTo([...goals]).distances }
  }

  private toAnEnding(from: number): number[] {
    const { search } = this.survey
    const way: number[] = []
    for (let at = from; this.nextToEnding[at]! !== NO_STATE;) {
      const end = search.endEdge(at)
      let edge = search.firstEdge(at)
      while (edge < end && this.target(edge) !== this.nextToEnding[at]) edge += 1
      way.push(edge)
      at = this.target(edge)
    }
    return way
  }
}

/** Covers items; gives how many were new. */
function cover(covered: Uint8Array, items: readonly number[]): number {
  let fresh = 0
  for (const item of items) {
    if (covered[item] === 1) continue
    covered[item] = 1
    fresh += 1
  }
  return fresh
}
