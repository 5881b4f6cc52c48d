import { NO_STATE } from '../states/state-set'
import type { StateBits } from '../states/state-bits'
import type { TransitionGraph } from './transitions'

export interface BackwardLimits {
  /** Up to so many transitions all is settled over predecessors at once: they are soon listed, and lie near each other. */
  readonly listedMax: number
  /** With more, so many sweeps are tried before predecessors are listed. */
  readonly sweeps: number
  /** The same for one property: a sweep over bits is quick. */
  readonly sweepsOne: number
}

const BACKWARD_LIMITS: BackwardLimits = { listedMax: 2 ** 19, sweeps: 4, sweepsOne: 12 }

/** States over which adding up how many transitions each has is quicker than asking where they begin. */
const NEAR = 32
const WITHIN = 1
const PENDING = 2

/** Sources of the transitions into each state: of state s from `first[s]` to `first[s + 1]`. */
interface Predecessors {
  readonly first: Uint32Array
  readonly sources: Uint32Array
  readonly transitions: number
}

/**
 * Backward reachability over the transitions of one search. Breadth-first numbers mostly grow along transitions, so a
 * sweep from the last state to the first settles nearly everything; a worklist over predecessors settles the rest in
 * time linear in the transitions.
 */
export class Backward {
  /** Listed once, as long as the search goes no further. */
  private listed: Predecessors | undefined
  /** A byte a state, 0 between two uses. */
  private flags = new Uint8Array()

  constructor(
    private readonly graph: TransitionGraph,
    private readonly limits: BackwardLimits = BACKWARD_LIMITS,
  ) {}

  /**
   * For up to 32 properties at once: bit p of the result's word s is set when a state with bit p in `seeds` can be
   * reached from state s, s itself counting. `seeds` is changed and returned; `all` is the bits that there are.
   */
  canReach(seeds: Uint32Array, all: number): Uint32Array {
    const { graph, limits } = this
    const { expanded } = graph
    if (graph.transitions <= limits.listedMax) return this.propagate(seeds)
    for (let sweep = 0; sweep < limits.sweeps; sweep += 1) {
      let changed = false
      let end = graph.transitions
      for (let state = expanded - 1; state >= 0; state -= 1) {
        const start = end - graph.degree(state)
        const before = seeds[state]! | 0
        let mask = before
        // from the last, which leads farthest on most of the time
        for (let at = end - 1; at >= start && mask !== all; at -= 1) {
          const next = graph.successor(at)
          if (next !== NO_STATE) mask |= seeds[next]!
        }
        end = start
        if (mask !== before) {
          seeds[state] = mask
          changed = true
        }
      }
      if (!changed) return seeds
    }
    return this.propagate(seeds)
  }

  /** The same for one property, whose states are given, and which are added to. */
  canReachOne(reach: StateBits): void {
    const { graph } = this
    const { expanded, table, degrees } = graph
    let settled = false
    for (let sweep = 0; sweep < this.limits.sweepsOne && !settled; sweep += 1) {
      settled = true
      let end = graph.transitions
      for (let state = expanded - 1; state >= 0; state -= 1) {
        const start = end - degrees[state]!
        const name = table.idOf(state)
        if (!reach.has(name)) {
          for (let at = end - 1; at >= start; at -= 1) {
            const next = graph.successorId(at)
            if (next === NO_STATE || !reach.has(next)) continue
            reach.add(name)
            settled = false
            break
          }
        }
        end = start
      }
    }
    if (settled) return
    const masks = new Uint32Array(graph.states)
    for (let state = 0; state < masks.length; state += 1) if (reach.has(table.idOf(state))) masks[state] = 1
    this.propagate(masks)
    for (let state = 0; state < masks.length; state += 1) if (masks[state] === 1) reach.add(table.idOf(state))
  }

  /** The same along paths that stay within some states, given in order; `masks` is changed, and looked at nowhere else. */
  canReachWithin(masks: Uint32Array, states: Uint32Array): void {
    if (this.graph.transitions > this.limits.listedMax && this.sweepWithin(masks, states)) return
    this.propagate(masks, states)
  }

  /**
   * The fewest decisions from each state to one of the goals; -1 where none can be come to. Breadth-first, backward;
   * `next` is the state that comes first on such a way.
   */
  distancesTo(goals: readonly number[]): { readonly distances: Int32Array; readonly next: Uint32Array } {
    const { graph } = this
    const { first, sources } = this.predecessors()
    const distances = new Int32Array(graph.states).fill(-1)
    const next = new Uint32Array(graph.states).fill(NO_STATE)
    const changes = this.changes()
    if (changes === undefined) {
      const queue = new Uint32Array(graph.states)
      let tail = 0
      for (const goal of goals) {
        distances[goal] = 0
        queue[tail++] = goal
      }
      for (let head = 0; head < tail; head += 1) {
        const state = queue[head]!
        for (let at = first[state]!; at < first[state + 1]!; at += 1) {
          const source = sources[at]!
          if (distances[source] !== -1) continue
          distances[source] = distances[state]! + 1
          next[source] = state
          queue[tail++] = source
        }
      }
      return { distances, next }
    }
    let level: (readonly [state: number, next: number])[] = goals.map((goal) => [goal, NO_STATE])
    for (let distance = 0; level.length > 0; distance += 1) {
      const further: typeof level = []
      // what leads here without a decision is as far
      for (const [state, to] of level) {
        if (distances[state] !== -1) continue
        distances[state] = distance
        next[state] = to
        for (let at = first[state]!; at < first[state + 1]!; at += 1) {
          const source = sources[at]!
          if (distances[source] === -1)
            (changes.has(source * graph.states + state) ? level : further).push([source, state])
        }
      }
      level = further
    }
    return { distances, next }
  }

  /** Pairs of states of which one leads to the other as something given changes; undefined where nothing can. */
  private changes(): ReadonlySet<number> | undefined {
    const { graph } = this
    if (graph.expanded === 0 || !graph.hasMoves) return undefined
    const pairs = new Set<number>()
    for (let state = 0; state < graph.expanded; state += 1) {
      const start = graph.firstEdge(state)
      for (let at = start; at < start + graph.movesOf(state); at += 1) {
        const to = graph.successor(at)
        if (to !== NO_STATE) pairs.add(state * graph.states + to)
      }
    }
    return pairs
  }

  /** Sweeps from the last state to the first; true when nothing is left to settle. */
  private sweepWithin(masks: Uint32Array, states: Uint32Array): boolean {
    const { graph } = this
    let all = 0
    for (let index = 0; index < states.length; index += 1) all |= masks[states[index]!]!
    for (let sweep = 0; sweep < this.limits.sweeps; sweep += 1) {
      let changed = false
      // where the transitions of the state looked at last begin: a state that stands near begins near
      let last = graph.expanded
      let begin = graph.transitions
      for (let index = states.length - 1; index >= 0; index -= 1) {
        const state = states[index]!
        const before = masks[state]! | 0
        if (before === all || state >= graph.expanded) continue
        let mask = before
        if (last - state > NEAR) begin = graph.firstEdge(state)
        else for (let one = last - 1; one >= state; one -= 1) begin -= graph.degree(one)
        last = state
        for (let at = begin + graph.degree(state) - 1; at >= begin && mask !== all; at -= 1) {
          const next = graph.successor(at)
          if (next !== NO_STATE) mask |= masks[next]!
        }
        if (mask === before) continue
        masks[state] = mask
        changed = true
      }
      if (!changed) return true
    }
    return false
  }

  private predecessors(): Predecessors {
    const { graph, listed } = this
    const { expanded, states, transitions, degrees } = graph
    if (listed !== undefined && listed.transitions === transitions) return listed
    const first = new Uint32Array(states + 1)
    const successors = new Uint32Array(transitions)
    for (let at = 0; at < transitions; at += 1) {
      const next = graph.successor(at)
      successors[at] = next
      if (next !== NO_STATE) first[next + 1]! += 1
    }
    for (let state = 0; state < states; state += 1) first[state + 1]! += first[state]!
    const fill = first.slice(0, states)
    const sources = new Uint32Array(first[states]!)
    let at = 0
    for (let state = 0; state < expanded; state += 1) {
      for (const end = at + degrees[state]!; at < end; at += 1) {
        const next = successors[at]!
        if (next === NO_STATE) continue
        sources[fill[next]!] = state
        fill[next]! += 1
      }
    }
    this.listed = { first, sources, transitions }
    return this.listed
  }

  /** Settles what sweeps have left, over predecessors from what is known; with `list`, only those states are gone through. */
  private propagate(masks: Uint32Array, list?: Uint32Array): Uint32Array {
    const { first, sources } = this.predecessors()
    const { states } = this.graph
    const flags = this.flagsOf(states)
    const size = list?.length ?? states
    const stack = new Uint32Array(size)
    let height = 0
    for (let at = 0; at < size; at += 1) {
      const state = list === undefined ? at : list[at]!
      if (masks[state] === 0) flags[state] = WITHIN
      else {
        flags[state] = WITHIN | PENDING
        stack[height++] = state
      }
    }
    while (height > 0) {
      const state = stack[--height]!
      flags[state] = WITHIN
      const mask = masks[state]! | 0
      for (let at = first[state]!; at < first[state + 1]!; at += 1) {
        const source = sources[at]!
        const flag = flags[source]!
        const before = masks[source]! | 0
        if (flag === 0 || (before | mask) === before) continue
        masks[source] = before | mask
        if (flag !== WITHIN) continue
        flags[source] = WITHIN | PENDING
        stack[height++] = source
      }
    }
    if (list === undefined) flags.fill(0)
    else for (let at = 0; at < size; at += 1) flags[list[at]!] = 0
    return masks
  }

  private flagsOf(states: number): Uint8Array {
    if (this.flags.length < states || this.flags.length > 4 * states + 65536) this.flags = new Uint8Array(states)
    return this.flags
  }
}
