'use client'

import { Box, VisuallyHidden } from '@chakra-ui/react'
import { useParams, useSearchParams } from 'next/navigation'
import { useCallback, useDeferredValue, useEffect, useMemo, useRef, useState, type ReactNode } from 'react'
import type { Chart } from '../../core/atlas/chart'
import { pictureOf } from '../../core/atlas/picture'
import { Columns } from '../../ui/columns'
import { Beside } from '../shared/beside'
import { beatText } from '../desk/outline/outline-rows'
import { useSessionState } from '../shared/session/use-session'
import { AsTree } from './as-tree'
import { AtlasBar } from './atlas-bar'
import { ChartCanvas, type ChartHandle, type Parts, type Spot } from './chart-canvas'
import { ChartWords } from './chart-words'
import { Key } from './key'
import { readAddress, writeAddress } from './kept-look'
import type { OverlayId } from './overlays'
import { PickedPanel } from './picked-panel'
import { sayDistance } from './profile'
import type { SaveAs } from './save-as'
import { saveChart } from './save-chart'
import type { Look } from './sheet'
import { BeatTip, RoadTip } from './tips'
import { useGoing } from './use-going'
import { useShown } from './use-shown'

/** With more beats bands are closed until one opens them. */
const OPEN_MAX = 1_500
/** After a movement, until the address says it, in milliseconds. */
const ADDRESS_MS = 300

interface Props {
  readonly chart: Chart
  /** By roads alone: the first survey is not done. */
  readonly isEarly: boolean
  readonly beside: ReactNode
}

/** The chart with what stands around it: what is shown on it, the picked beat, and how one goes about. */
export function ChartPage({ chart, isEarly, beside }: Props) {
  const { id } = useParams<{ id: string }>()
  const story = useSessionState((state) => state.story)
  const report = useSessionState((state) => state.survey.report)
  const beat = useSessionState((state) => state.beat)
  // the router knows the address before the window does
  const params = useSearchParams()
  const [addressed] = useState(() => readAddress(params.toString()))
  const [overlay, setOverlay] = useState<OverlayId>(addressed.overlay)
  const [of, setOf] = useState(addressed.of)
  const [turned, setTurned] = useState<ReadonlySet<string>>(() => new Set(addressed.turned))
  const [search, setSearch] = useState('')
  const [isTree, setTree] = useState(false)
  const handle = useRef<ChartHandle>(null)

  const isOpenFirst = chart.beats.length <= OPEN_MAX
  const isOpen = useCallback((scene: string) => turned.has(scene) !== isOpenFirst, [turned, isOpenFirst])
  const picture = useMemo(() => pictureOf(chart, isOpen), [chart, isOpen])
  const words = useMemo(() => new ChartWords(story, chart), [story, chart])
  const picked = useMemo(() => {
    const at = beat === undefined ? -1 : chart.beats.indexOf(beat)
    return at === -1 ? undefined : at
  }, [chart, beat])

  const { overlay: shown, profile, route, routeBeats, path } = useShown(words, picked, isEarly, overlay, of)
  const wanted = useDeferredValue(search.trim().toLowerCase())
  const found = useMemo(() => {
    if (wanted === '') return undefined
    const all = new Set<number>()
    chart.beats.forEach((_, index) => {
      const one = words.beat(index)
      if (one !== undefined && beatText(words.sceneOf(index), one).includes(wanted)) all.add(index)
    })
    return all
  }, [wanted, chart, words])
  const address = useRef<ReturnType<typeof setTimeout>>(undefined)
  const noteAddress = useCallback(() => {
    clearTimeout(address.current)
    address.current = setTimeout(() => {
      if (!window.location.pathname.endsWith('/atlas')) return
      const text = writeAddress({ overlay, of, turned: [...turned], look: handle.current?.look() })
      // past the router, which would take it for a page to go to
      const to = `${window.location.pathname}${text}${beat === undefined ? '' : `#${beat}`}`
      History.prototype.replaceState.call(window.history, window.history.state, '', to)
    }, ADDRESS_MS)
  }, [overlay, of, turned, beat])
  useEffect(noteAddress, [noteAddress])
  useEffect(() => () => clearTimeout(address.current), [])

  // who comes to see a beat sees it from near, once it stands where the survey has it
  const isToShow = useRef(addressed.isNear === true)
  useEffect(() => {
    if (!isToShow.current || isEarly || picked === undefined) return
    isToShow.current = false
    handle.current?.show(picked, true)
  }, [picked, isEarly])

  const turnBand = (scene: string) =>
    setTurned((before) => {
      const next = new Set(before)
      if (!next.delete(scene)) next.add(scene)
      return next
    })
  const going = useGoing({
    words,
    picked,
    path,
    found,
    handle,
    onBand: turnBand,
    onEscape: () => setSearch(''),
  })
  const { road, out, setRoad, pick, openText, rehearse } = going
  const onSpot = (spot: Spot, { altKey }: { readonly altKey: boolean }) => {
    switch (spot.of) {
      case 'beat':
        if (altKey) rehearse(spot.beat)
        else if (spot.beat === picked && road === undefined) openText()
        else pick(spot.beat)
        return
      case 'road':
        if (chart.roads.from[spot.road] !== picked) pick(chart.roads.from[spot.road]!, spot.road)
        else setRoad(spot.road)
        return
      case 'band':
        return turnBand(chart.scenes[spot.band]!)
      case 'distance':
        return
    }
  }
  const tip = useCallback(
    (spot: Spot) => {
      switch (spot.of) {
        case 'beat':
          return <BeatTip words={words} beat={spot.beat} sign={shown?.beat(spot.beat)} />
        case 'road':
          return <RoadTip words={words} road={spot.road} />
        case 'band':
          return (
            <>
              {words.scene(spot.band)}: press to {picture.open[spot.band] ? 'close' : 'open'} it
            </>
          )
        case 'distance':
          return profile && <>{sayDistance(profile, spot.column)}</>
      }
    },
    [words, shown, picture, profile],
  )
  const verdict = useCallback(
    (index: number) => {
      const said = report?.of('beats', chart.beats[index]!)
      return said === 'reached' || said === 'unreached' ? said : 'undecided'
    },
    [report, chart],
  )
  const parts: Parts = {
    picture,
    words,
    verdict,
    overlay: shown,
    profile,
    picked,
    pickedRoad: road,
    route,
    routeBeats,
    found,
    isFile: false,
  }
  const save = (as: SaveAs) => saveChart(as, parts, story.title)
  const setLook = (look: Look) => handle.current?.setLook(look)
  return (
    <Columns
      name="atlas"
      as="main"
      label="Atlas"
      end={{
        name: 'the picked beat',
        width: 17,
        openFrom: 64,
        content: (
          <PickedPanel words={words} picked={picked} road={road} onPick={pick} onRoad={setRoad} onRehearse={rehearse} />
        ),
      }}
    >
      <Box display="grid" gridTemplateRows="auto minmax(0, 1fr)" h="100%" minW="0" position="relative">
        <AtlasBar
          id={id}
          overlay={overlay}
          of={of}
          onOverlay={(next, about) => {
            setOverlay(next)
            setOf(about)
          }}
          search={search}
          found={found?.size}
          onSearch={setSearch}
          onNextFound={going.step}
          isTree={isTree}
          onTree={setTree}
          onWhole={() => handle.current?.whole()}
          onAll={(open) => setTurned(new Set(open === isOpenFirst ? [] : chart.scenes))}
          onSave={save}
          addressOf={() => writeAddress({ overlay, of, turned: [...turned], look: handle.current?.look() })}
          onKept={(kept) => {
            const read = readAddress(kept)
            setOverlay(read.overlay)
            setOf(read.of)
            setTurned(new Set(read.turned))
            if (read.look !== undefined) setLook(read.look)
          }}
        />
        {isTree ? (
          <AsTree
            words={words}
            picked={picked}
            report={report}
            onPick={pick}
            onOpenText={openText}
            onRehearse={rehearse}
          />
        ) : (
          <Beside
            name="atlas"
            offer="Rehearse beside it"
            close="Close the rehearsal"
            what="The rehearsal"
            page={beside}
            at="bottom"
          >
            <ChartCanvas
              parts={parts}
              handle={handle}
              first={addressed.look}
              label={`Chart of ${story.title}: ${chart.beats.length} beats in ${chart.scenes.length} scenes. Right follows a road, left goes back, up and down choose a road, Enter opens the text.`}
              onLook={noteAddress}
              onSpot={onSpot}
              onNothing={() => setRoad(undefined)}
              onKeyDown={going.onKeyDown}
              tip={tip}
            />
            <Key overlay={shown} found={found?.size} isByRoads={isEarly} />
          </Beside>
        )}
        <VisuallyHidden role="status" aria-live="polite" data-said="">
          {road === undefined
            ? picked === undefined
              ? ''
              : `${words.title(picked)}, ${chart.inMargin[picked] === 1 ? 'on no route' : `after ${chart.column[picked]}`}, ${out.length} roads`
            : sayRoadShort(words, road, out)}
        </VisuallyHidden>
      </Box>
    </Columns>
  )
}

function sayRoadShort(words: ChartWords, road: number, out: readonly number[]): string {
  const { head, gate, does, to } = words.sayRoad(road)
  const place = out.includes(road) ? `Road ${out.indexOf(road) + 1} of ${out.length}. ` : ''
  return `${place}${head}${gate === undefined ? '' : `, opens when ${gate}`}${does === undefined ? '' : `, changes ${does}`}, ${to}`
}
