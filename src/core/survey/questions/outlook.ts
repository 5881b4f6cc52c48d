import type { Slices } from '../../base/slices'
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
      resting(survey, from, Math.min(GROUP, count - from), shares)
      yield
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
  for (const { index, ending, ask, onward } of story.beats) {
    if (ending === -1 && ask === undefined && onward.length > 0) continue
    for (let at = 0; at < many; at += 1) {
      const bit = 1 << at
      const share: Share =
        isSeen[index] === 0 || (some[index]! & bit) === 0 ? 'none' : (all[index]! & bit) === 0 ? 'some' : 'all'
      shares[index * count + from + at] = CODE[share]
    }
  }
}
