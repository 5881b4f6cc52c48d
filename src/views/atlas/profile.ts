import type { Outlook } from '../../core/survey/questions/outlook'
import type { SimulationResult } from '../../core/simulate/result'
import { wordsOfBeat } from '../../core/story/words'
import { said } from '../shared/said'
import type { ChartWords } from './chart-words'
import type { Profile } from './sheet'

/** What a whole story holds at each distance from the start. */
export function profileOf(
  words: ChartWords,
  outlook: Outlook | undefined,
  players: SimulationResult | undefined,
): Profile {
  const { chart, story } = words
  const size = Math.max(1, chart.columns)
  const [beats, written] = [new Float64Array(size), new Float64Array(size)]
  chart.beats.forEach((_, index) => {
    if (chart.inMargin[index] === 1) return
    const beat = words.beat(index)
    beats[chart.column[index]!]! += 1
    written[chart.column[index]!]! += beat === undefined ? 0 : wordsOfBeat(beat, story.language)
  })
  return { beats, words: written, endings: endingsAt(words, outlook, size), share: shareAt(players, size) }
}

/** Endings that some beat at a distance can still come to; not a number where it is not known of any. */
function endingsAt({ chart }: ChartWords, outlook: Outlook | undefined, size: number): Float64Array | undefined {
  if (outlook === undefined) return undefined
  const { endings, shares } = outlook
  const index = new Map(chart.beats.map((address, at) => [address, at]))
  const open = Array.from({ length: size }, () => new Set<number>())
  const isKnown = new Uint8Array(size)
  outlook.beats.forEach((address, beat) => {
    const at = index.get(address)
    if (at === undefined || chart.inMargin[at] === 1) return
    for (let ending = 0; ending < endings.length; ending += 1) {
      const share = shares[beat * endings.length + ending]!
      if (share > 0) isKnown[chart.column[at]!] = 1
      if (share > 1) open[chart.column[at]!]!.add(ending)
    }
  })
  return Float64Array.from(open, (set, column) => (isKnown[column] === 1 ? set.size : NaN))
}

/** The share of playthroughs with at least so many decisions. */
function shareAt(players: SimulationResult | undefined, size: number): Float64Array | undefined {
  if (players === undefined || players.plays === 0) return undefined
  const { bars } = players.decisions
  return Float64Array.from({ length: size }, (_, column) => {
    const far = bars.reduce((sum, { from, to, plays }) => {
      if (from >= column) return sum + plays
      // of a bar that is divided here the part behind
      return to > column ? sum + (plays * (to - column)) / (to - from) : sum
    }, 0)
    return far / players.plays
  })
}

/** What there is at a distance, in a sentence. */
export function sayDistance({ beats, words, endings, share }: Profile, column: number): string {
  const parts = [said(beats[column] ?? 0, 'beat'), said(words[column] ?? 0, 'word')]
  if (endings !== undefined && !Number.isNaN(endings[column]))
    parts.push(`${said(endings[column] ?? 0, 'ending')} still possible`)
  if (share !== undefined) parts.push(`${Math.round(100 * (share[column] ?? 0))} % of simulated players get so far`)
  return `${column === 0 ? 'At the start' : `After ${said(column, 'decision')}`}: ${parts.join(', ')}`
}
