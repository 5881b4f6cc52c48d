import { each } from '../analysis/adjacency'
import { beatsBefore } from '../analysis/beats-that-touch'
import { isSameRow } from '../analysis/bits'
import { NumberList } from '../states/lists'
import { NO_STATE } from '../states/state-set'
import { NEW, UNKNOWN, type Origins } from './origins'
import type { QuestGroup, QuestGroups } from './quest-groups'
import type { Search } from './search'

/** Where findings can come from: states at which quests of a group are under way, which of them by bits. */
export class Marks {
  readonly states: NumberList
  /** Their outcome can't be come to any more. */
  readonly stranded: NumberList
  /** The story ends there. */
  readonly ended: NumberList
  /** No road ahead sets them any more. */
  readonly final: NumberList

  /** `capacity`: for about so many. */
  constructor(capacity = 16) {
    this.states = new NumberList(capacity)
    this.stranded = new NumberList(capacity)
    this.ended = new NumberList(capacity)
    this.final = new NumberList(capacity)
  }

  get length(): number {
    return this.states.length
  }

  add(state: number, stranded: number, ended: number, final: number): void {
    this.states.push(state)
    this.stranded.push(stranded)
    this.ended.push(ended)
    this.final.push(final)
  }

  addFrom(other: Marks, at: number, state: number): void {
    this.add(state, other.stranded.items[at]!, other.ended.items[at]!, other.final.items[at]!)
  }

  /** The same in the order of states. */
  inOrder(): Marks {
    const { items, length } = this.states
    let ordered = 1
    while (ordered < length && items[ordered - 1]! <= items[ordered]!) ordered += 1
    if (ordered >= length) return this
    const places = Array.from({ length }, (_, at) => at).sort((a, b) => items[a]! - items[b]!)
    const sorted = new Marks(length)
    for (const at of places) sorted.addFrom(this, at, items[at]!)
    return sorted
  }
}

/** Room for what comes with an edit. */
const SPARE = 64

/** What is known of a group of quests in all states: by state the bits of those whose outcome can be come to, 0 where none is held. */
export interface QuestMasks {
  readonly masks: Uint32Array
  readonly marks: Marks
}

/** For every group of quests the states that hold one of them, in order. */
export function statesByGroup(search: Search, { list, at }: QuestGroups): Uint32Array[] {
  const lists = list.map(() => new NumberList(64))
  for (let state = 0; state < search.states; state += 1) {
    const groups = at(search.locationOf(state))
    for (let index = 0; index < groups.length; index += 1) lists[groups[index]!]!.push(state)
  }
  return lists.map(({ items, length }) => items.subarray(0, length))
}

/**
 * Writes for states that hold quests of a group what these say by themselves; gives which are under way in each. From a
 * state at which a quest is under way its outcome is come to, if at all, through states that hold the quest.
 */
export function seed(search: Search, { stages }: QuestGroup, states: Uint32Array, masks: Uint32Array): Uint32Array {
  const under = new Uint32Array(states.length)
  for (let index = 0; index < states.length; index += 1) {
    const state = states[index]!
    stages.read(search.packedOf(state))
    // what was not looked at may lead anywhere
    masks[state] = state < search.expanded ? stages.ended : 0xffffffff
    under[index] = stages.open
  }
  return under
}

/** Marks states whose masks are settled; `under` tells what is under way in each. */
export function mark(
  search: Search,
  { finals }: QuestGroup,
  states: Uint32Array,
  under: Uint32Array,
  masks: Uint32Array,
  marks: Marks,
): void {
  const { beats } = search.story
  for (let index = 0; index < states.length; index += 1) {
    const open = under[index]!
    if (open === 0) continue
    const state = states[index]!
    const beat = search.beatOf(state)
    if (beats[beat]!.ending !== -1) marks.add(state, 0, open, 0)
    else {
      const stranded = open & ~masks[state]!
      const final = open & finals(beat)
      if ((stranded | final) !== 0) marks.add(state, stranded, 0, final)
    }
  }
}

/**
 * The masks after an edit. What they are in a strongly connected component of the roads hangs on nothing but its own
 * states, their transitions, and the masks of later components: so only those are settled again in which a state was
 * played anew, or that lead to one where the masks are others now.
 */
export class MasksAfterEdit {
  /** By component: 1 where its states are settled again whatever comes of others. */
  private readonly touched: Uint8Array
  /** States component by component, each one's in order. */
  private readonly states: Uint32Array
  private readonly firstOf: Int32Array
  private readonly rankOf: Int32Array
  /** How many states are settled again at least. */
  readonly played: number
  private now: Uint32Array | undefined
  private runs: NumberList | undefined

  constructor(
    private readonly search: Search,
    private readonly groups: QuestGroups,
    private readonly origins: Origins,
  ) {
    const { layerOf } = search.prepared.roads
    const { states } = search
    this.rankOf = new Int32Array(states)
    this.touched = new Uint8Array(layerOf.length)
    this.firstOf = new Int32Array(layerOf.length + 1)
    for (let state = 0; state < states; state += 1) {
      const rank = layerOf[search.beatOf(state)]!
      this.rankOf[state] = rank
      this.firstOf[rank + 1]! += 1
      if (!origins.isTaken(state)) this.touched[rank] = 1
    }
    this.touchWhereHeldElse()
    for (let rank = 0; rank < layerOf.length; rank += 1) this.firstOf[rank + 1]! += this.firstOf[rank]!
    this.states = new Uint32Array(states)
    const fill = this.firstOf.slice()
    for (let state = 0; state < states; state += 1) {
      const rank = this.rankOf[state]!
      this.states[fill[rank]!] = state
      fill[rank]! += 1
    }
    let played = 0
    for (let rank = 0; rank < layerOf.length; rank += 1)
      if (this.touched[rank] === 1) played += this.firstOf[rank + 1]! - this.firstOf[rank]!
    this.played = played
  }

  /** Where other quests may still be set than before, or are looked at, others are held. */
  private touchWhereHeldElse(): void {
    const { horizon } = this.search
    const { layerOf } = this.search.prepared.roads
    const then = this.origins.horizon
    if (horizon === then) return
    for (let beat = 0; beat < layerOf.length; beat += 1)
      if (!isSameRow(horizon.ahead, then.ahead, beat) || !isSameRow(horizon.observed, then.observed, beat))
        this.touched[layerOf[beat]!] = 1
  }

  /** The masks of a group now, by those before the edit. */
  of(group: number, before: QuestMasks): QuestMasks {
    const { search, origins, firstOf } = this
    const masks = new Uint32Array(search.states)
    const { items, length } = (this.runs ??= runsOf(origins, search.states))
    for (let at = 0; at < length; at += 3)
      masks.set(before.masks.subarray(items[at + 1], items[at + 1]! + items[at + 2]!), items[at])
    const again = this.touched.slice()
    const marks = new Marks(before.marks.length + SPARE)
    for (let rank = again.length - 1; rank >= 0; rank -= 1)
      if (again[rank] === 1 && firstOf[rank]! < firstOf[rank + 1]! && this.settle(rank, group, masks, marks))
        this.passOn(rank, again)
    this.keep(before.marks, again, marks)
    return { masks, marks: marks.inOrder() }
  }

  /** Settles the states of a component; true where one that there was before has other bits now. */
  private settle(rank: number, group: number, masks: Uint32Array, marks: Marks): boolean {
    const { search, groups, rankOf, origins } = this
    const members = this.states.subarray(this.firstOf[rank], this.firstOf[rank + 1])
    const before = new Uint32Array(members.length)
    for (let at = 0; at < members.length; at += 1) before[at] = masks[members[at]!]!
    const under = seed(search, groups.list[group]!, members, masks)
    // what they lead to outside is settled
    const outside = new Set<number>()
    let end = 0
    for (let at = 0; at < members.length; at += 1) {
      const state = members[at]!
      // mostly they follow one another
      const begin = at > 0 && members[at - 1] === state - 1 ? end : search.firstEdge(state)
      end = begin + search.degree(state)
      for (let edge = begin; edge < end; edge += 1) {
        const next = search.successor(edge)
        if (next !== NO_STATE && rankOf[next] !== rank && masks[next] !== 0) outside.add(next)
      }
    }
    const within = new Uint32Array(members.length + outside.size)
    within.set(members)
    within.set([...outside], members.length)
    search.backward.canReachWithin(masks, within.sort())
    mark(search, groups.list[group]!, members, under, masks, marks)
    for (let at = 0; at < members.length; at += 1) {
      const origin = origins.of(members[at]!)
      // whoever leads to what is new was played anew
      if (origin === UNKNOWN || (origin !== NEW && masks[members[at]!] !== before[at])) return true
    }
    return false
  }

  /** Has all components settled again from which a decision can come to one. */
  private passOn(rank: number, again: Uint8Array): void {
    const { roads } = this.search.prepared
    const entered = new Set<number>()
    each(roads.membersOf, rank, (beat) => {
      beatsBefore(roads, beat, entered, (source) => (again[roads.layerOf[source]!] = 1))
    })
  }

  /** Takes over marks of states in components that were not settled again. */
  private keep(before: Marks, again: Uint8Array, marks: Marks): void {
    if (before.length === 0) return
    const now = (this.now ??= this.numbersNow())
    for (let at = 0; at < before.length; at += 1) {
      const state = now[before.states.items[at]!] ?? NO_STATE
      if (state !== NO_STATE && again[this.rankOf[state]!] === 0) marks.addFrom(before, at, state)
    }
  }

  /** By the number of a state before the edit: its own, or NO_STATE. */
  private numbersNow(): Uint32Array {
    const { origins, rankOf } = this
    let most = -1
    for (let state = 0; state < rankOf.length; state += 1) {
      const origin = origins.of(state)
      if (origin < UNKNOWN && origin > most) most = origin
    }
    const now = new Uint32Array(most + 1).fill(NO_STATE)
    for (let state = 0; state < rankOf.length; state += 1) {
      const origin = origins.of(state)
      if (origin < UNKNOWN) now[origin] = state
    }
    return now
  }
}

/** States that followed one another before an edit as they do now: of each such run its first state now, before, and how many. */
function runsOf(origins: Origins, states: number): NumberList {
  const runs = new NumberList(48)
  let end: number
  for (let begin = 0; begin < states; begin = end) {
    const origin = origins.of(begin)
    end = begin + 1
    if (origin >= UNKNOWN) continue
    while (end < states && origins.of(end) === origin + end - begin) end += 1
    for (const number of [begin, origin, end - begin]) runs.push(number)
  }
  return runs
}
