import type { Slices } from '../../base/slices'
import type { LinkedBeat } from '../../story/linked'
import { EVERY_BEAT } from '../interpreter/machine'
import { NO_STATE } from '../states/state-set'
import type { Share } from '../findings/exploration'
import { prospectsOfEndings, type Prospects } from '../explicit/prospects'
import type { Survey } from '../survey'
import { Bearings } from './bearing'

/** Whether each ending can still be reached from each beat. */
export interface Outlook {
  readonly beats: readonly string[]
  readonly endings: readonly string[]
  /** By beat, then by ending, a code of SHARES. */
  readonly shares: Uint8Array
}

/** By code; undefined: not worked out in time. */
export const SHARES: readonly (Share | undefined)[] = [undefined, 'none', 'some', 'all']
const CODE: Readonly<Record<Share, number>> = { none: 1, some: 2, all: 3 }

/** Backward reachability answers this many endings at once. */
const GROUP = 32
/** Beats between two looks at the clock. */
const STRIDE = 8

/** How the endings stand at every beat, as the bearing of each beat says it. */
export function* outlook(survey: Survey, stop: () => boolean): Slices<Outlook> {
  const { story, search } = survey
  const count = story.endings.length
  const shares = new Uint8Array(story.beats.length * count)
  if (search.done)
    for (let from = 0; from < count; from += GROUP) {
      const many = Math.min(GROUP, count - from)
      const prospects = prospectsOfEndings(search, from, many)
      const tally = () => new Tally(story.beats.length, prospects, from, many)
      resting(survey, tally(), shares)
      yield
      yield* passing(survey, tally(), shares, stop)
    }
  const bearings = new Bearings(survey)
  for (const { index: beat, address } of count === 0 ? [] : story.inOrder) {
    if (shares[beat * count] !== 0) continue
    if (beat % STRIDE === 0) yield
    if (stop()) break
    const of = bearings.of(address)?.endings
    story.endings.forEach(({ id }, at) => (shares[beat * count + at] = of?.[id] === undefined ? 0 : CODE[of[id]]))
  }
  const told = new Uint8Array(story.inOrder.length * count)
  story.inOrder.forEach(({ index }, at) => told.set(shares.subarray(index * count, (index + 1) * count), at * count))
  return {
    beats: story.inOrder.map(({ address }) => address),
    endings: story.endings.map(({ id }) => id),
    shares: told,
  }
}

/** Which of some endings can still be come to, over all states that tell of a beat. */
class Tally {
  private readonly some: Uint32Array
  private readonly all: Uint32Array
  private readonly isSeen: Uint8Array

  constructor(
    beats: number,
    private readonly prospects: Prospects,
    /** Index of the first of the endings, and how many they are. */
    private readonly from: number,
    private readonly many: number,
  ) {
    this.some = new Uint32Array(beats)
    this.all = new Uint32Array(beats).fill(0xffffffff)
    this.isSeen = new Uint8Array(beats)
  }

  /** The endings that a state can surely come to, a bit each; none after an endless run. */
  maskOf(state: number): number {
    let mask = 0
    if (state !== NO_STATE)
      for (let at = 0; at < this.many; at += 1) if (this.prospects.must(state, at)) mask |= 1 << at
    return mask
  }

  note(beat: number, mask: number): void {
    this.isSeen[beat] = 1
    this.some[beat]! |= mask
    this.all[beat]! &= mask
  }

  /** Writes the shares of a beat; `count`: how many endings the story has. */
  write(beat: number, shares: Uint8Array, count: number): void {
    for (let at = 0; at < this.many; at += 1) {
      const bit = 1 << at
      const isNone = this.isSeen[beat] === 0 || (this.some[beat]! & bit) === 0
      const share: Share = isNone ? 'none' : (this.all[beat]! & bit) === 0 ? 'some' : 'all'
      shares[beat * count + this.from + at] = CODE[share]
    }
  }
}

/** Of beats at which the player always rests all states tell at once. */
function resting({ story, search }: Survey, tally: Tally, shares: Uint8Array): void {
  for (let state = 0; state < search.states; state += 1) {
    const beat = search.locationOf(state)
    if (beat >= 0 && beat < story.beats.length) tally.note(beat, tally.maskOf(state))
  }
  for (const beat of story.inOrder) if (!isPassed(beat)) tally.write(beat.index, shares, story.endings.length)
}

/** Whether the player can go on from a beat without having rested there. */
function isPassed({ ending, ask, onward }: LinkedBeat): boolean {
  return ending === -1 && ask === undefined && onward.length > 0
}

/** States whose decisions are played again between two looks at the clock. */
const REPLAYED = 500

/** Of beats that are passed the states tell that each run through them comes to: all runs are played again, once. */
function* passing({ story, search }: Survey, tally: Tally, shares: Uint8Array, stop: () => boolean): Slices<void> {
  const passed = story.inOrder.filter(isPassed)
  if (passed.length === 0) return
  let run: number[] = []
  const begin = () => {
    run = []
  }
  const end = (state: number) => {
    const mask = tally.maskOf(state)
    for (const beat of run) tally.note(beat, mask)
  }
  const play = (work: () => void) =>
    search.machine.watching(
      EVERY_BEAT,
      (beat) => void run.push(beat),
      () => search.events.quietly(work),
    )
  play(() => search.eachBeginning(begin, end))
  for (let state = 0; state < search.expanded; state += REPLAYED) {
    yield
    if (stop()) return
    play(() => {
      for (let at = state; at < Math.min(search.expanded, state + REPLAYED); at += 1) {
        const edge = search.firstEdge(at)
        search.replayFrom(at, begin, (pick) => end(search.successor(edge + pick)))
      }
    })
  }
  for (const { index } of passed) tally.write(index, shares, story.endings.length)
}
