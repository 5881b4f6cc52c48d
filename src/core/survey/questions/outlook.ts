import type { Slices } from '../../base/slices'
import type { Share } from '../findings/exploration'
import { prospectsOfEndings } from '../explicit/prospects'
import type { Survey } from '../survey'
import { Bearings } from './bearing'

/** From each beat: the ending can be reached in every case, in some, in none; undefined: not worked out in time. */
export interface Outlook {
  readonly shares: readonly (Share | undefined)[]
}

/** Beats between two looks at the clock. */
const STRIDE = 8

/** How an ending stands at every beat, as the bearing of each beat says it. */
export function* endingOutlook(survey: Survey, ending: string, stop: () => boolean): Slices<Outlook> {
  const { story, search } = survey
  const index = story.endings.findIndex(({ id }) => id === ending)
  const shares = new Array<Share | undefined>(story.beats.length).fill(undefined)
  if (index === -1) return { shares }
  if (search.done) resting(survey, index, shares)
  const bearings = new Bearings(survey)
  for (let beat = 0; beat < shares.length; beat += 1) {
    if (shares[beat] !== undefined) continue
    if (beat % STRIDE === 0) yield
    if (stop()) break
    shares[beat] = bearings.of(story.beats[beat]!.address)?.endings[ending]
  }
  return { shares }
}

/** Of beats at which the player always rests all states tell at once. */
function resting({ story, search }: Survey, ending: number, shares: (Share | undefined)[]): void {
  const outlook = prospectsOfEndings(search, ending, 1)
  const [some, all] = [new Uint8Array(shares.length), new Uint8Array(shares.length).fill(1)]
  const isSeen = new Uint8Array(shares.length)
  for (let state = 0; state < search.states; state += 1) {
    const beat = search.locationOf(state)
    if (beat < 0) continue
    isSeen[beat] = 1
    if (outlook.must(state, 0)) some[beat] = 1
    else all[beat] = 0
  }
  story.beats.forEach((beat, at) => {
    const rests = beat.ending !== -1 || beat.ask !== undefined || beat.onward.length === 0
    if (!rests) return
    shares[at] = isSeen[at] === 0 ? 'none' : all[at] === 1 ? 'all' : some[at] === 1 ? 'some' : 'none'
  })
}
