import { replay } from '../play/replay'
import type { LinkedStory } from '../story/linked'
import type { RouteItem } from '../story/types'
import type { Share } from './result'
import { counted as countedNumbers, spreadOf, type Spread } from './spread'

/** A playthrough as somebody played it elsewhere: what is replayed, and the seconds at each rest before an item. */
export interface Recorded {
  readonly steps: readonly { readonly item: RouteItem; readonly seconds: number }[]
  /** Seconds at the last rest. */
  readonly lastSeconds: number
}

/** How a recorded playthrough plays in the story as it is now. */
export interface Replayed {
  readonly route: readonly RouteItem[]
  /** How many of its steps could be played. */
  readonly played: number
  /** Why it parts there from the story as it is now; undefined where it plays to its end. */
  readonly parts: string | undefined
  /** Beats that were come to, each once. */
  readonly beats: ReadonlySet<string>
  readonly choices: ReadonlySet<string>
  /** Where it stopped, as it plays now. */
  readonly at: string
  readonly ending: string | undefined
  readonly seconds: number
}

export function replayRecord(story: LinkedStory, { steps, lastSeconds }: Recorded): Replayed {
  const route = steps.map(({ item }) => item)
  const beats = new Set<string>()
  const { state, played, refused } = replay(story, route, { beat: ({ address }) => void beats.add(address) })
  const choices = new Set(route.slice(0, played).flatMap((item) => ('choice' in item ? [item.choice] : [])))
  const ending = state.status === 'ended' ? story.endings[story.beats[state.at]!.ending]?.id : undefined
  const spent = steps.slice(0, played).reduce((sum, { seconds }) => sum + seconds, 0)
  return {
    route,
    played,
    parts: refused,
    beats,
    choices,
    at: story.beats[state.at]?.address ?? '',
    ending,
    seconds: spent + (played === route.length ? lastSeconds : 0),
  }
}

/** What many recorded playthroughs came to, in the measures of simulated ones. */
export interface PlaytestFigures {
  readonly plays: number
  readonly endings: Readonly<Record<string, Share>>
  /** Where those stopped who came to no ending: by beat, most first. */
  readonly stopped: readonly { readonly beat: string; readonly plays: number }[]
  readonly beats: Readonly<Record<string, Share>>
  readonly choices: Readonly<Record<string, Share>>
  /** How long a whole playthrough took. */
  readonly minutes: Spread | undefined
  /** Those that part from the story as it is now. */
  readonly parted: number
}

export function figuresOf(replayed: readonly Replayed[]): PlaytestFigures {
  const plays = replayed.length
  const share = (count: number): Share => ({ plays: count, share: plays === 0 ? 0 : count / plays })
  const counted = (all: Iterable<string>) => {
    const counts = new Map<string, number>()
    for (const one of all) counts.set(one, (counts.get(one) ?? 0) + 1)
    return counts
  }
  const shares = (counts: ReadonlyMap<string, number>) =>
    Object.fromEntries([...counts].map(([id, count]) => [id, share(count)]))
  const open = replayed.filter(({ ending }) => ending === undefined)
  return {
    plays,
    endings: shares(counted(replayed.flatMap(({ ending }) => ending ?? []))),
    stopped: [...counted(open.map(({ at }) => at))]
      .map(([beat, count]) => ({ beat, plays: count }))
      .sort((a, b) => b.plays - a.plays || (a.beat < b.beat ? -1 : 1)),
    beats: shares(counted(replayed.flatMap(({ beats }) => [...beats]))),
    choices: shares(counted(replayed.flatMap(({ choices }) => [...choices]))),
    minutes: spreadOf(countedNumbers(replayed.map(({ seconds }) => Math.round(seconds / 6) / 10))),
    parted: replayed.filter(({ parts }) => parts !== undefined).length,
  }
}
