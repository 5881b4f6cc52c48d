'use client'

import { Box } from '@chakra-ui/react'
import { useEffect, useRef, useState, type KeyboardEvent } from 'react'
import { NO_BEAT, roadsAt } from '../../core/story/roads'
import type { SurveyReport } from '../../session/survey-report'
import { said } from '../shared/said'
import { VerdictMark } from '../../ui/marks'
import { verdictOf } from '../shared/session/verdicts'
import type { ChartWords } from './chart-words'

interface Props {
  readonly words: ChartWords
  readonly picked: number | undefined
  readonly report: SurveyReport | undefined
  readonly onPick: (beat: number) => void
  readonly onOpenText: () => void
  readonly onRehearse: (beat: number) => void
}

/** A place in the tree: a scene, a beat of it, a road of that. */
type Place = { readonly band: number; readonly beat?: number; readonly road?: number }

const nameOf = ({ band, beat, road }: Place) => `${band}/${beat ?? ''}/${road ?? ''}`

/** The chart as a tree of scenes, beats and roads: the same by the same keys. */
export function AsTree({ words, picked, report, onPick, onOpenText, onRehearse }: Props) {
  const { chart } = words
  const [open, setOpen] = useState<ReadonlySet<string>>(
    () =>
      new Set(
        picked === undefined
          ? ['0//']
          : [`${chart.bandOf[picked]}//`, nameOf({ band: chart.bandOf[picked]!, beat: picked })],
      ),
  )
  const [at, setAt] = useState<Place>(() =>
    picked === undefined ? { band: 0 } : { band: chart.bandOf[picked]!, beat: picked },
  )
  const box = useRef<HTMLDivElement>(null)
  const moved = useRef(false)
  useEffect(() => {
    if (!moved.current) return
    const item = box.current?.querySelector<HTMLElement>(`[data-place="${CSS.escape(nameOf(at))}"]`)
    item?.focus()
    item?.scrollIntoView({ block: 'nearest' })
  }, [at, open])
  const beatsOf = (band: number) => {
    const list: number[] = []
    chart.bandOf.forEach((one, beat) => one === band && list.push(beat))
    return list.sort((a, b) => chart.inMargin[a]! - chart.inMargin[b]! || chart.column[a]! - chart.column[b]! || a - b)
  }
  const roadsOf = (beat: number) => roadsAt(chart.roads, beat).out
  const isOpen = (place: Place) => open.has(nameOf(place))
  const visible = (): Place[] =>
    chart.scenes.flatMap((_, band): Place[] => [
      { band },
      ...(isOpen({ band })
        ? beatsOf(band).flatMap((beat): Place[] => [
            { band, beat },
            ...(isOpen({ band, beat }) ? roadsOf(beat).map((road) => ({ band, beat, road })) : []),
          ])
        : []),
    ])
  const go = (place: Place | undefined) => {
    if (place === undefined) return
    moved.current = true
    setAt(place)
    if (place.beat !== undefined) onPick(place.beat)
  }
  const turn = (place: Place, wanted: boolean) =>
    setOpen((before) => {
      const next = new Set(before)
      if (wanted) next.add(nameOf(place))
      else next.delete(nameOf(place))
      return next
    })
  const follow = (road: number) => {
    const to = chart.roads.to[road]!
    if (to === NO_BEAT) return
    const band = chart.bandOf[to]!
    turn({ band }, true)
    turn({ band, beat: to }, true)
    go({ band, beat: to })
  }
  const press = (event: KeyboardEvent) => {
    const list = visible()
    const index = list.findIndex((place) => nameOf(place) === nameOf(at))
    const acts: Readonly<Record<string, () => void>> = {
      ArrowDown: () => go(list[index + 1]),
      ArrowUp: () => go(list[index - 1]),
      Home: () => go(list[0]),
      End: () => go(list.at(-1)),
      ArrowRight: () => {
        if (at.road !== undefined) follow(at.road)
        else if (isOpen(at)) go(list[index + 1])
        else turn(at, true)
      },
      ArrowLeft: () => {
        if (at.road === undefined && isOpen(at)) turn(at, false)
        else if (at.road !== undefined) go({ band: at.band, beat: at.beat! })
        else if (at.beat !== undefined) go({ band: at.band })
      },
      Enter: () => {
        if (at.road !== undefined) follow(at.road)
        else if (at.beat === undefined) turn(at, !isOpen(at))
        else if (event.altKey) onRehearse(at.beat)
        else onOpenText()
      },
    }
    const act = acts[event.key]
    if (act === undefined || event.ctrlKey || event.metaKey || (event.altKey && event.key !== 'Enter')) return
    event.preventDefault()
    act()
  }
  const item = (place: Place) => ({
    role: 'treeitem',
    'data-place': nameOf(place),
    tabIndex: nameOf(place) === nameOf(at) ? 0 : -1,
    'aria-selected': nameOf(place) === nameOf(at),
    onClick: (event: React.MouseEvent) => {
      event.stopPropagation()
      if (place.road !== undefined) return follow(place.road)
      if (nameOf(place) === nameOf(at)) turn(place, !isOpen(place))
      go(place)
    },
  })
  return (
    <Box
      ref={box}
      role="tree"
      aria-label="The story as a list of scenes, beats and roads"
      overflowY="auto"
      px="5"
      py="3"
      maxW="60rem"
      onKeyDown={press}
      css={{
        '& [role=treeitem]': { cursor: 'pointer', py: '1', px: '1' },
        '& [aria-selected=true]': { bg: 'needle.wash' },
      }}
    >
      {chart.scenes.map((scene, band) => (
        <div key={scene} role="none">
          <Box {...item({ band })} aria-level={1} aria-expanded={isOpen({ band })} fontFamily="story" fontWeight={600}>
            {isOpen({ band }) ? '– ' : '+ '}
            {words.scene(band)}
          </Box>
          {isOpen({ band }) &&
            beatsOf(band).map((beat) => (
              <Box key={beat} role="none" pl="5">
                <Box
                  {...item({ band, beat })}
                  aria-level={2}
                  aria-expanded={isOpen({ band, beat })}
                  display="flex"
                  gap="2"
                  alignItems="center"
                >
                  <VerdictMark verdict={verdictOf(report, 'beats', chart.beats[beat]!)} />
                  <Box as="span" fontFamily="story">
                    {words.title(beat)}
                  </Box>
                  <Box as="span" color="faded" fontSize="sm">
                    {chart.inMargin[beat] === 1
                      ? 'on no route'
                      : chart.column[beat] === 0
                        ? 'the start'
                        : `after ${chart.column[beat]}`}
                    , {said(roadsOf(beat).length, 'road')}
                    {words.isEnding(beat) ? ', an ending' : ''}
                  </Box>
                </Box>
                {isOpen({ band, beat }) &&
                  roadsOf(beat).map((road) => {
                    const { head, gate, does, to } = words.sayRoad(road)
                    return (
                      <Box key={road} {...item({ band, beat, road })} aria-level={3} ml="6" fontSize="sm">
                        {head}
                        {gate === undefined ? '' : `, opens when ${gate}`}
                        {does === undefined ? '' : `, ${does}`}, <u>{to}</u>
                      </Box>
                    )
                  })}
              </Box>
            ))}
        </div>
      ))}
    </Box>
  )
}
