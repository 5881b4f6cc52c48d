import type { Slices } from '../../base/slices'
import type { LinkedBeat } from '../../story/linked'
import { EVERY_BEAT } from '../interpreter/machine'
import { NO_STATE } from '../states/state-set'
import type { Share } from '../findings/exploration'
import { prospectsOfEndings } from '../explicit/prospects'
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
      resting(survey, from, many, shares)
      yield
      yield* passing(survey, from, many, shares, stop)
    }
  const bearings = new Bearings(survey)
  for (let beat = 0; beat < story.beats.length && count > 0; beat += 1) {
    if (shares[beat * count] !== 0) continue
    if (beat % STRIDE === 0) yield
    if (stop()) break
    const of = bearings.of(story.beats[beat]!.address)?.endings
    story.endings.forEach(({ id }, at) => (shares[beat * count + at] = of?.[id] === undefined ? 0 : CODE[of[id]]))
  }
  return { beats: story.beats.map(({ address }) => address), endings: story.endings.map(({ id }) => id), shares }
}

/** Of beats at which the player always rests all states tell at once. */
function resting({ story, search }: Survey, from: number, many: number, shares: Uint8Array): void {
  const count = story.endings.length
  const prospects = prospectsOfEndings(search, from, many)
  const [some, all] = [new Uint32Array(story.beats.length), new Uint32Array(story.beats.length).fill(0xffffffff)]
  const isSeen = new Uint8Array(story.beats.length)
  for (let state = 0; state < search.states; state += 1) {
    const beat = search.locationOf(state)
    if (beat < 0) continue
    isSeen[beat] = 1
    let mask = 0
    for (let at = 0; at < many; at += 1) if (prospects.must(state, at)) mask |= 1 << at
    some[beat]! |= mask
    all[beat]! &= mask
  }
  for (const beat of story.beats) {
    const { index } = beat
    if (isPassed(beat)) continue
    for (let at = 0; at < many; at += 1) {
      const bit = 1 << at
      const share: Share =
        isSeen[index] === 0 || (some[index]! & bit) === 0 ? 'none' : (all[index]! & bit) === 0 ? 'some' : 'all'
      shares[index * count + from + at] = CODE[share]
    }
  }
}

/** Whether the player can go on from a beat without having rested there. */
function isPassed({ ending, ask, onward }: LinkedBeat): boolean {
  return ending === -1 && ask === undefined && onward.length > 0
}

/** States whose decisions are played again between two looks at the clock. */
const REPLAYED = 500

/** Of beats that are passed the states tell that each run through them comes to: all runs are played again, once. */
function* passing(
  { story, search }: Survey,
  from: number,
  many: number,
  shares: Uint8Array,
  stop: () => boolean,
): Slices<void> {
  const passed = story.beats.filter(isPassed)
  if (passed.length === 0) return
  const count = story.endings.length
  const prospects = prospectsOfEndings(search, from, many)
  const [some, all] = [new Uint32Array(story.beats.length), new Uint32Array(story.beats.length).fill(0xffffffff)]
  const isSeen = new Uint8Array(story.beats.length)
  let run: number[] = []
  const begin = () => {
    run = []
  }
  const end = (state: number) => {
    let mask = 0
    if (state !== NO_STATE) for (let at = 0; at < many; at += 1) if (prospects.must(state, at)) mask |= 1 << at
    for (const beat of run) {
      isSeen[beat] = 1
      some[beat]! |= mask
      all[beat]! &= mask
    }
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
  for (const { index } of passed)
    for (let at = 0; at < many; at += 1) {
      const bit = 1 << at
      const share: Share =
        isSeen[index] === 0 || (some[index]! & bit) === 0 ? 'none' : (all[index]! & bit) === 0 ? 'some' : 'all'
      shares[index * count + from + at] = CODE[share]
    }
}
