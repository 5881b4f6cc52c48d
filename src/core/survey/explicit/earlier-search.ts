import { beatOf } from '../../base/address'
import { beatsThatTouch } from '../analysis/beats-that-touch'
import type { Adjacency } from '../analysis/adjacency'
import type { NamedEvent } from '../interpreter/events'
import type { Sightings } from '../interpreter/sightings'
import { NO_STATE } from '../states/state-set'
import type { StateSpace } from './state-space'
import { changedBeats } from '../../story/linked-parts'

/** A search that holds more is let go before the next begins. */
const BYTES_MOST = 100_000_000

/**
 * The search of a story as it was before an edit, whose transitions are taken over where the edit can't have changed
 * them: those of a state that it had too, resting where no run from there comes to a beat that the edit changed, or
 * whose states hold something else now.
 *
 * What a state that is taken over shows is what the earlier search first saw there, and things that it had seen before.
 * Those were seen anew by now, or can't be seen from there: from where something can be seen that was seen earlier then,
 * and was not yet now, all is played. So what an event is first seen at stays the very transition that a search from
 * the beginning finds.
 */
export class EarlierSearch {
  /** By beat: 1 where decisions have to be played. */
  private readonly isPlayed: Uint8Array
  /** Beats of which all that can come to them is played. */
  private readonly entered = new Set<number>()
  /** How many of the sightings have been seen anew, or have what can come to them played. */
  private settled = 0
  private listedEnds: ReadonlyMap<string, readonly number[]> | undefined
  /** An earlier state, packed. */
  private readonly packed: Uint32Array
  private readonly isMoved: boolean
  /** Mostly states are taken over in their order: the one after the last, and its first transition. */
  private readonly next = { number: 0, edge: 0 }

  private constructor(
    readonly before: StateSpace,
    private readonly now: StateSpace,
    private readonly seen: Sightings,
    touched: Uint8Array,
  ) {
    this.isPlayed = beatsThatTouch(now.prepared.roads, touched)
    this.packed = new Uint32Array(now.layout.cells)
    this.isMoved = now.layout !== before.layout
  }

  /** Undefined where nothing can be taken over. */
  static of(before: StateSpace, isDone: boolean, now: StateSpace): EarlierSearch | undefined {
    const seen = now.events === before.events ? now.events.takeSeenBefore() : undefined
    const { begin, free, held } = now.givens.plan
    if (seen === undefined || !isDone || before.bytes > BYTES_MOST || begin.length + free.length + held.length > 0)
      return undefined
    // an endless run goes by the name of the first of its beats
    if (now.prepared.isReordered && seesEndlessRun(now, seen)) return undefined
    const touched = now.layout.differences(before.layout)
    if (touched === undefined) return undefined
    for (const beat of changedBeats(now.story, before.story)) touched[beat] = 1
    return new EarlierSearch(before, now, seen, touched)
  }

  /** The earlier number of a packed state whose transitions can be taken over; NO_STATE where they have to be played. */
  numberOf(packed: Uint32Array, location: number): number {
    const { isPlayed, before, now } = this
    const beat = location % isPlayed.length
    if (isPlayed[beat] === 1) return NO_STATE
    const earlier = this.packed
    earlier.set(packed)
    if (this.isMoved) earlier[0]! += before.layout.baseOf(location) - now.layout.baseOf(location)
    const number = before.table.numberOf(earlier)
    if (number === NO_STATE) return NO_STATE
    this.settle(number)
    return isPlayed[beat] === 1 ? NO_STATE : number
  }

  /** How many successors an earlier state has. */
  degree(number: number): number {
    return this.before.degree(number)
  }

  /** Expands the state that is being expanded as the earlier one was: shows what it showed, and writes its successors as packed now; gives how many. */
  expand(number: number, into: Uint32Array, at: number): number {
    this.show(number)
    const { before, now } = this
    const { table } = before
    const { cells } = now.layout
    const start = number === this.next.number ? this.next.edge : before.firstEdge(number)
    const end = start + before.degree(number)
    this.next.number = number + 1
    this.next.edge = end
    let place = at
    for (let edge = start; edge < end; edge += 1, place += cells) {
      const id = before.successorId(edge)
      into[place] = id
      if (id === NO_STATE) continue
      for (let cell = 0; cell < cells; cell += 1) into[place + cell] = table.cellOf(id, cell)
      if (!this.isMoved) continue
      const location = before.layout.locationOf(into[place]!)
      into[place]! += now.layout.baseOf(location) - before.layout.baseOf(location)
    }
    return end - start
  }

  /** Has played what can come to anything that was seen before an earlier state, and has not been seen anew. */
  private settle(number: number): void {
    const { seen } = this
    for (; this.settled < seen.length && seen.stateAt(this.settled) < number; this.settled += 1)
      if (!this.isSeenAnew(this.settled)) this.play(seen.eventAt(this.settled))
  }

  private isSeenAnew(place: number): boolean {
    const { seen, now } = this
    return now.events.wasSeen(seen.eventAt(place), seen.howAt(place))
  }

  /** Has shown, by the state that is expanded, what was first seen in the earlier one. */
  private show(number: number): void {
    const { seen, now } = this
    for (; this.settled < seen.length && seen.stateAt(this.settled) === number; this.settled += 1) {
      now.events.pick = seen.pickAt(this.settled)
      now.events.see(seen.eventAt(this.settled), seen.howAt(this.settled))
    }
  }

  /** Has played all decisions that can come to where an event is seen. */
  private play(event: number): void {
    const { events } = this.now
    const named = events.namedAt(event)
    const beats = named === undefined ? [events.beatOfPart(event)] : this.beatsOf(named)
    // what an edit did away with is seen nowhere
    for (const beat of beats) if (beat !== undefined) this.playInto(beat)
  }

  /** The beats on coming to which, or resting at which, something that is no part of a beat can be seen. */
  private beatsOf({ kind, key }: NamedEvent): readonly (number | undefined)[] {
    const at = (address: string) => this.now.story.beatOf.get(beatOf(address)!)
    switch (kind) {
      case 'ending':
      case 'stage':
        return this.ends.get(key[0]!) ?? []
      case 'move':
        return this.ends.get(`${key[0]}.${key[2]}`) ?? []
      case 'overrun':
      case 'unset':
        return [at(key[1]!)]
      case 'dead-end':
      case 'endless':
        return [at(key[0]!)]
    }
  }

  /** The beats that each ending, and each stage of a quest, comes with. */
  private get ends(): ReadonlyMap<string, readonly number[]> {
    return (this.listedEnds ??= listEnds(this.now))
  }

  /** Has played what is decided at a beat, and all that can come to it before the story rests. */
  private playInto(beat: number): void {
    const { isPlayed, entered } = this
    const { sources, redirects, onward } = this.now.prepared.roads
    isPlayed[beat] = 1
    const work = [beat]
    for (let target = work.pop(); target !== undefined; target = work.pop()) {
      if (entered.has(target)) continue
      entered.add(target)
      for (let at = sources.first[target]!; at < sources.first[target + 1]!; at += 1) {
        const source = sources.beats[at]!
        isPlayed[source] = 1
        if (leads(redirects, source, target) || leads(onward, source, target)) work.push(source)
      }
    }
  }
}

function seesEndlessRun({ events }: StateSpace, seen: Sightings): boolean {
  for (let place = 0; place < seen.length; place += 1)
    if (events.namedAt(seen.eventAt(place))?.kind === 'endless') return true
  return false
}

function listEnds({ story, prepared }: StateSpace): Map<string, number[]> {
  const found = new Map<string, number[]>()
  const add = (end: string, beat: number) => {
    const known = found.get(end)
    if (known === undefined) found.set(end, [beat])
    else if (known.at(-1) !== beat) known.push(beat)
  }
  for (const { index, ending } of story.inOrder) {
    if (ending !== -1) add(story.endings[ending]!.id, index)
    for (const { effect } of prepared.roads.summaries[index]!.effects)
      if (effect.kind === 'stage' && effect.value.kind === 'string') add(`${effect.quest}.${effect.value.value}`, index)
  }
  return found
}

function leads({ first, beats }: Adjacency, from: number, to: number): boolean {
  for (let at = first[from]!; at < first[from + 1]!; at += 1) if (beats[at] === to) return true
  return false
}
