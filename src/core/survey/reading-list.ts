import type { Decision } from '../story/types'
import { distancesTo } from './explicit/backward'
import { NO_STATE } from './explicit/table'
import type { MarkKind } from './marks'
import type { Survey } from './survey'

/** Routes that together take every choice and show every line, variant and ending that any route comes to. */
export interface ReadingList {
  readonly routes: readonly ReadingRoute[]
  /** Decisions of all of them together. */
  readonly decisions: number
  /** Choices, beats, lines, variants and endings that they show. */
  readonly items: number
}

export interface ReadingRoute {
  readonly decisions: readonly Decision[]
  /** How many of the items no earlier route of the list shows. */
  readonly fresh: number
  readonly ending: string | undefined
}

/** Playing more transitions than this again takes too long while somebody waits. */
const TRANSITIONS_MAX = 400_000
const SHOWN: ReadonlySet<MarkKind> = new Set(['beat', 'line', 'variant', 'ending'])

/** A walk over the search's states: its transitions in order, by their place among the edges. */
type Walk = readonly number[]

/**
 * A cover of everything that the story can show. Finding the smallest is NP-hard (set cover; Karp,
 * 1972); this is the greedy walk: always on to the nearest transition that shows something new, then to
 * the nearest ending, then again from the start; from two kinds of beginnings, of which the shorter
 * list is kept, without the walks that the others make needless.
 */
export function readingList(survey: Survey): ReadingList | 'too many' {
  if (!survey.search.done || survey.search.edges.length > TRANSITIONS_MAX) return 'too many'
  const map = new ReadingMap(survey)
  const lists = (['nearest', 'farthest'] as const).map((first) => map.withoutNeedless(map.walks(first)))
  const steps = (walks: readonly Walk[]) => walks.reduce((sum, walk) => sum + walk.length, 0)
  return map.tell(steps(lists[1]!) < steps(lists[0]!) ? lists[1]! : lists[0]!)
}

class ReadingMap {
  /** What the run from the start shows, before any decision. */
  private readonly opening: readonly number[]
  /** Items of transition e: from `first[e]` to `first[e + 1]` of `items`. */
  private readonly first: Uint32Array
  private readonly items: number[] = []
  private readonly sources: Uint32Array
  private readonly count: number
  /** Where the transition that shows an item first begins. */
  private readonly firstShown: number[] = []
  private readonly toEnding: Int32Array
  private readonly before: Int32Array
  private readonly stamps: Uint32Array
  private stamp = 0

  constructor(private readonly survey: Survey) {
    const { search, story } = survey
    const { marks, rows } = search
    const edges = search.edges.length
    this.first = new Uint32Array(edges + 1)
    this.sources = new Uint32Array(edges)
    this.before = new Int32Array(search.states)
    this.stamps = new Uint32Array(search.states)
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
    let opening: number[] = []
    marks.recording((shows) => {
      const shown = (again: () => void, edge: number) => shows(again).filter((mark) => SHOWN.has(marks.list[mark]!.kind)).map((mark) => item(mark, edge))
      if (story.start !== -1) opening = shown(() => void search.machine.begin(story.start), -1)
      for (let state = 0; state < search.expanded; state += 1) {
        const start = rows.items[state]!
        search.decisionsIn(state).forEach((decision, pick) => {
          const edge = start + pick
          this.sources[edge] = state
          this.first[edge] = this.items.length
          this.items.push(item('choice' in decision ? decision.choice : decision.at, edge), ...shown(() => search.replayPick(state, pick), edge))
        })
      }
    })
    this.first[edges] = this.items.length
    this.opening = opening
    this.count = numbers.size
    const ended: number[] = []
    for (let state = 0; state < search.states; state += 1) if (search.settle(state).ending !== -1) ended.push(state)
    this.toEnding = distancesTo(search, ended)
  }

  walks(begin: 'nearest' | 'farthest'): Walk[] {
    const covered = new Uint8Array(this.count)
    let left = this.count - cover(covered, this.opening)
    const walks: Walk[] = []
    while (left > 0) {
      const walk: number[] = []
      let at = 0
      let path = begin === 'farthest' ? this.wayToFarthest(covered) : this.nearest(at, covered)
      while (path.length > 0) {
        for (const edge of path) left -= cover(covered, this.itemsOf(edge))
        walk.push(...path)
        at = this.target(path.at(-1)!)
        if (at === NO_STATE) break
        path = left === 0 ? [] : this.nearest(at, covered)
      }
      if (walk.length === 0) break
      for (const edge of at === NO_STATE ? [] : this.toAnEnding(at)) {
        left -= cover(covered, this.itemsOf(edge))
        walk.push(edge)
      }
      walks.push(walk)
    }
    return walks
  }

  /** Leaves out every walk of which the others show all; long ones are tried first. */
  withoutNeedless(walks: readonly Walk[]): Walk[] {
    const times = new Uint32Array(this.count)
    const shown = walks.map((walk) => [...new Set(walk.flatMap((edge) => this.itemsOf(edge)))])
    for (const list of shown) for (const one of list) times[one]! += 1
    const opening = new Set(this.opening)
    const kept = new Set(walks.keys())
    const order = [...walks.keys()].sort((a, b) => walks[b]!.length - walks[a]!.length)
    for (const at of order) {
      if (!shown[at]!.every((one) => opening.has(one) || times[one]! > 1)) continue
      kept.delete(at)
      for (const one of shown[at]!) times[one]! -= 1
    }
    return walks.filter((_, at) => kept.has(at))
  }

  tell(walks: readonly Walk[]): ReadingList {
    const { search, routes, story } = this.survey
    const covered = new Uint8Array(this.count)
    cover(covered, this.opening)
    const list = walks.map((walk): ReadingRoute => {
      const last = this.target(walk.at(-1)!)
      const ending = last === NO_STATE ? -1 : search.settle(last).ending
      return {
        decisions: walk.map((edge) => routes.decision(this.sources[edge]!, edge - search.rows.items[this.sources[edge]!]!)),
        fresh: walk.reduce((sum, edge) => sum + cover(covered, this.itemsOf(edge)), 0),
        ending: ending === -1 ? undefined : story.endings[ending]!.id,
      }
    })
    return { routes: list, decisions: walks.reduce((sum, walk) => sum + walk.length, 0), items: this.count }
  }

  private itemsOf(edge: number): readonly number[] {
    return this.items.slice(this.first[edge]!, this.first[edge + 1]!)
  }

  private target(edge: number): number {
    return this.survey.search.edges.items[edge]!
  }

  /** The shortest way from a state to a transition that shows something new, with it; of equally near ones that which shows most. Empty where there is none. */
  private nearest(from: number, covered: Uint8Array): number[] {
    const { search } = this.survey
    this.stamp += 1
    this.stamps[from] = this.stamp
    const queue = [from]
    for (let head = 0; head < queue.length; head += 1) {
      const state = queue[head]!
      const end = search.rowEnd(state)
      let best = -1
      let most = 0
      for (let edge = search.rows.items[state]!; edge < end; edge += 1) {
        const fresh = this.fresh(edge, covered)
        if (fresh > most) {
          most = fresh
          best = edge
        }
        const next = this.target(edge)
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

  /** From the start to where the new item that lies farthest off is first shown. */
  private wayToFarthest(covered: Uint8Array): number[] {
    const { search } = this.survey
    // states are numbered in order of depth, so the last transition is one of the deepest
    let farthest = -1
    for (let item = 0; item < this.count; item += 1) if (covered[item] === 0 && this.firstShown[item]! > farthest) farthest = this.firstShown[item]!
    const way = [farthest]
    for (let found = search.foundBy(this.sources[farthest]!); found !== undefined; found = search.foundBy(found.state)) way.push(search.rows.items[found.state]! + found.pick)
    return way.reverse()
  }

  private toAnEnding(from: number): number[] {
    const { search } = this.survey
    const way: number[] = []
    for (let at = from; this.toEnding[at]! > 0; ) {
      const end = search.rowEnd(at)
      let edge = search.rows.items[at]!
      while (edge < end && !this.isNearer(edge, at)) edge += 1
      way.push(edge)
      at = this.target(edge)
    }
    return way
  }

  private isNearer(edge: number, than: number): boolean {
    const next = this.target(edge)
    return next !== NO_STATE && this.toEnding[next] === this.toEnding[than]! - 1
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
