'use client'

import { useCallback, useMemo, useState, type KeyboardEvent, type RefObject } from 'react'
import { NO_BEAT, roadsAt } from '../../core/story/roads'
import { useGoTo } from '../shared/session/use-go-to'
import { useSession } from '../shared/session/use-session'
import { useWalkTo } from '../shared/session/use-walk'
import type { ChartHandle } from './chart-canvas'
import type { ChartWords } from './chart-words'

/** So many beats one can go back through. */
const TRAIL_MAX = 50
const SCALE_BY = 1.4

interface Surroundings {
  readonly words: ChartWords
  readonly picked: number | undefined
  /** The beats on a shortest route to the picked one. */
  readonly path: readonly string[] | undefined
  readonly found: ReadonlySet<number> | undefined
  readonly handle: RefObject<ChartHandle | null>
  readonly onBand: (scene: string) => void
  readonly onEscape: () => void
}

export interface Going {
  /** The chosen road; roads are told by their index in the chart of the moment. */
  readonly road: number | undefined
  /** The roads from the picked beat. */
  readonly out: readonly number[]
  readonly setRoad: (road: number | undefined) => void
  /** Picks a beat and brings it into view; `via`: a road that is chosen then. */
  readonly pick: (beat: number, via?: number) => void
  /** The next (1) or last (−1) of the beats that the search lit up. */
  readonly step: (by: 1 | -1) => void
  readonly openText: () => void
  readonly rehearse: (beat: number) => void
  readonly onKeyDown: (event: KeyboardEvent) => void
}

/** How one goes about on the chart: along roads, back, to the text, to the rehearsal; by key too. */
export function useGoing({ words, picked, path, found, handle, onBand, onEscape }: Surroundings): Going {
  const { chart } = words
  const session = useSession()
  const goTo = useGoTo()
  const walkTo = useWalkTo()
  const [held, setHeld] = useState<{ readonly of: ChartWords['chart']; readonly road: number | undefined }>()
  const [trail, setTrail] = useState<readonly string[]>([])
  // of another chart its index means nothing
  const road = held?.of === chart ? held.road : undefined
  const setRoad = useCallback((next: number | undefined) => setHeld({ of: chart, road: next }), [chart])
  const out = useMemo(() => (picked === undefined ? [] : roadsAt(chart.roads, picked).out), [chart, picked])
  const enter = useCallback(
    (beat: number, via?: number) => {
      setRoad(via)
      session.enter(chart.beats[beat])
      handle.current?.show(beat)
    },
    [chart, session, handle, setRoad],
  )
  const pick = useCallback(
    (beat: number, via?: number) => {
      if (picked !== undefined && picked !== beat)
        setTrail((before) => [...before.slice(1 - TRAIL_MAX), chart.beats[picked]!])
      enter(beat, via)
    },
    [chart, picked, enter],
  )
  const openText = () => picked !== undefined && goTo(chart.beats[picked]!)
  const rehearse = (beat: number) => {
    if (chart.inMargin[beat] === 1)
      session.tell(`No route comes to “${words.title(beat)}”, so it can not be rehearsed.`)
    else walkTo('beats', chart.beats[beat]!)
  }
  const turnRoad = (by: 1 | -1) => {
    if (out.length === 0) return
    const at = road === undefined ? -1 : out.indexOf(road)
    setRoad(out[at === -1 ? (by === 1 ? 0 : out.length - 1) : (at + by + out.length) % out.length])
  }
  const follow = () => {
    const via = road !== undefined && out.includes(road) ? road : out[0]
    const to = via === undefined ? NO_BEAT : chart.roads.to[via]!
    if (to !== NO_BEAT) pick(to)
    else if (via !== undefined) setRoad(via)
  }
  const goBack = () => {
    // without a trail back along a shortest route
    const last = trail.at(-1) ?? path?.at(-2)
    setTrail(trail.slice(0, -1))
    const at = last === undefined ? -1 : chart.beats.indexOf(last)
    if (at !== -1) enter(at)
  }
  const step = (by: 1 | -1) => {
    const list = [...(found ?? [])]
    if (list.length === 0) return
    const at = picked === undefined ? -1 : list.indexOf(picked)
    pick(list[(at + by + list.length) % list.length]!)
  }
  const acts: Readonly<Record<string, (event: KeyboardEvent) => void>> = {
    ArrowRight: follow,
    ArrowLeft: goBack,
    Backspace: goBack,
    ArrowDown: () => turnRoad(1),
    ArrowUp: () => turnRoad(-1),
    Enter: ({ altKey }) => {
      if (!altKey) openText()
      else if (picked !== undefined) rehearse(picked)
    },
    Home: () => chart.start >= 0 && pick(chart.start),
    Escape: () => {
      setRoad(undefined)
      onEscape()
    },
    '+': () => handle.current?.scale(SCALE_BY),
    '=': () => handle.current?.scale(SCALE_BY),
    '-': () => handle.current?.scale(1 / SCALE_BY),
    '0': () => handle.current?.whole(),
    o: () => picked !== undefined && onBand(chart.scenes[chart.bandOf[picked]!]!),
    n: () => step(1),
    p: () => step(-1),
  }
  const onKeyDown = (event: KeyboardEvent) => {
    if (event.ctrlKey || event.metaKey || (event.altKey && event.key !== 'Enter')) return
    const act = acts[event.key]
    if (act === undefined) return
    event.preventDefault()
    act(event)
  }
  return { road, out, setRoad, pick, step, openText, rehearse, onKeyDown }
}
