'use client'

import { plainId } from '../../../core/base/ids'
import { Box, Flex, Text } from '@chakra-ui/react'
import { useVirtualizer } from '@tanstack/react-virtual'
import { memo, useCallback, useEffect, useLayoutEffect, useMemo, useRef, useState, type KeyboardEvent } from 'react'
import { Quiet } from '../../../ui/buttons'
import { SearchField } from '../../../ui/search-field'
import { useThings } from '../../shared/naming/things'
import { useNaming, useSession, useSessionState, useMayWrite } from '../../shared/session/use-session'
import { copyChosen, deleteChosen, moveRow, useClipboard } from './beat-selection'
import { FILTERS, outlineRows, type BeatRow, type Filter } from './outline-rows'
import { addBeat, addScene } from './structure'
import { SceneLine, type How, BeatLine } from './outline-lines'

const ROW_PX = 25
/** A story of more beats shows only the scene one is in unfolded. */
const UNFOLDED_MAX = 300

/** Scenes and their beats, each with its mark; searched, filtered, chosen together and put in order. */
export function Outline() {
  const mayWrite = useMayWrite()
  const session = useSession()
  const things = useThings()
  const story = useSessionState((state) => state.story)
  const scene = useSessionState((state) => state.scene)
  const beat = useSessionState((state) => state.beat)
  const chosen = useSessionState((state) => state.chosen)
  const [search, setSearch] = useState('')
  const [filter, setFilter] = useState<Filter>('all')
  // what no filter looks at does not have to redraw the outline
  const result = useSessionState((state) =>
    filter === 'unreached' || filter === 'found' ? state.survey.report : undefined,
  )
  const [folded, setFolded] = useState<ReadonlySet<string>>()
  const large = useMemo(
    () => story.scenes.reduce((sum, one) => sum + one.beats.length, 0) > UNFOLDED_MAX,
    [story.scenes],
  )
  const rows = useMemo(
    () =>
      outlineRows(
        story,
        search,
        filter,
        result,
        (id) => (folded?.has(id) ?? false) || (large && folded === undefined && id !== scene),
      ),
    [story, search, filter, result, folded, large, scene],
  )
  const box = useRef<HTMLDivElement>(null)
  const list = useVirtualizer({
    count: rows.length,
    getScrollElement: () => box.current,
    estimateSize: () => ROW_PX,
    overscan: 12,
  })
  useClipboard(box)

  const at = rows.findIndex((row) => row.kind === 'beat' && row.address === beat)
  useEffect(() => {
    if (at >= 0) list.scrollToIndex(at, { align: 'auto' })
    // only when one goes elsewhere, not at every edit
    // oxlint-disable-next-line react/exhaustive-deps
  }, [beat])

  const fold = (id: string) => {
    const next = new Set(folded ?? (large ? story.scenes.filter((one) => one.id !== scene).map((one) => one.id) : []))
    if (next.has(id)) next.delete(id)
    else next.add(id)
    setFolded(next)
  }
  const choose = (row: BeatRow, how: How) => {
    if (how.range && beat !== undefined) {
      const beats = rows.flatMap((one) => (one.kind === 'beat' ? [one.address] : []))
      const [from, to] = [beats.indexOf(beat), beats.indexOf(row.address)].sort((a, b) => a - b)
      session.choose(beats.slice(Math.max(0, from!), to! + 1))
    } else if (how.add)
      session.choose(
        chosen.includes(row.address) ? chosen.filter((one) => one !== row.address) : [...chosen, row.address],
      )
    else {
      session.choose([])
      session.goTo(row.address)
    }
  }
  // rows are drawn again only when they change, so what they call stays the same
  const latest = useRef({ fold, choose })
  useLayoutEffect(() => {
    latest.current = { fold, choose }
  })
  const onFold = useCallback((id: string) => latest.current.fold(id), [])
  const onChoose = useCallback((row: BeatRow, how: How) => latest.current.choose(row, how), [])
  const press = (event: KeyboardEvent) => {
    const index = Number((event.target as HTMLElement).closest('[data-row]')?.getAttribute('data-row') ?? -1)
    const row = rows[index]
    if (row === undefined) return
    const by = event.key === 'ArrowDown' ? 1 : event.key === 'ArrowUp' ? -1 : 0
    if (by !== 0) {
      event.preventDefault()
      if (event.altKey) {
        moveRow(session, row, by)
        focusRow(box.current, index + by)
        return
      }
      const next = rows[index + by]
      if (event.shiftKey && row.kind === 'beat' && next?.kind === 'beat')
        session.choose([...new Set([...(chosen.length === 0 ? [row.address] : chosen), next.address])])
      list.scrollToIndex(Math.max(0, Math.min(rows.length - 1, index + by)))
      focusRow(box.current, index + by)
    } else if (event.key === ' ' && row.kind === 'beat') {
      event.preventDefault()
      choose(row, { add: true, range: false })
    } else if (event.key === 'Delete' && row.kind === 'beat') {
      event.preventDefault()
      if (!chosen.includes(row.address)) session.choose([row.address])
      deleteChosen(session, things)
    } else if (event.key === 'Escape') session.choose([])
  }
  return (
    <Flex as="nav" aria-label="Outline" direction="column" minH="0">
      <Box p="2">
        <SearchField label="Search the story" text={search} onText={setSearch} />
        <FilterField filter={filter} onChange={setFilter} />
      </Box>
      <Box ref={box} flex="1" minH="0" overflowY="auto" px="1" tabIndex={-1} onKeyDown={press}>
        <Box position="relative" height={`${list.getTotalSize()}px`}>
          {list.getVirtualItems().map((item) => {
            const row = rows[item.index]!
            return (
              <Box
                key={item.key}
                data-row={item.index}
                position="absolute"
                top="0"
                left="0"
                right="0"
                height={`${ROW_PX}px`}
                style={{ transform: `translateY(${item.start}px)` }}
              >
                {row.kind === 'scene' ? (
                  <SceneLine row={row} onFold={onFold} />
                ) : (
                  <BeatLine
                    row={row}
                    current={row.address === beat}
                    chosen={chosen.includes(row.address)}
                    onChoose={onChoose}
                  />
                )}
              </Box>
            )
          })}
        </Box>
        {rows.length === 0 && (
          <Text p="2" color="faded" fontSize="sm">
            {search === '' && filter === 'all' ? 'No scenes yet.' : 'No beat is like that.'}
          </Text>
        )}
      </Box>
      {chosen.length > 0 && <Chosen />}
      <Flex p="2" gap="1" borderTop="1px solid" borderColor="hairline" hidden={!mayWrite}>
        <Quiet
          onClick={() => {
            const target = story.scenes.find((one) => one.id === scene) ?? story.scenes[0]
            if (target !== undefined) addBeat(session, target.id, target.beats.length)
          }}
          disabled={story.scenes.length === 0}
        >
          + beat
        </Quiet>
        <Quiet onClick={() => addScene(session)}>+ scene</Quiet>
      </Flex>
    </Flex>
  )
}

function focusRow(box: HTMLElement | null, index: number): void {
  requestAnimationFrame(() => box?.querySelector<HTMLElement>(`[data-row="${index}"] button`)?.focus())
}

const FilterField = memo(function FilterField({
  filter,
  onChange,
}: {
  filter: Filter
  onChange: (filter: Filter) => void
}) {
  const { story } = useNaming()
  // a story may have hundreds of entries: they are listed once somebody comes to the field
  const [isCome, setCome] = useState(false)
  const come = () => setCome(true)
  const entries = [...(story.ledger ?? []), ...story.scenes.flatMap(({ ledger }) => ledger ?? [])]
  return (
    <Box asChild w="100%" mt="1" color="faded" fontSize="sm" className="field">
      <select
        aria-label="Show beats"
        value={filter}
        onChange={(event) => onChange(event.target.value as Filter)}
        onPointerEnter={come}
        onFocus={come}
      >
        {FILTERS.map(({ value, label }) => (
          <option key={value} value={value}>
            {label}
          </option>
        ))}
        {isCome && (
          <>
            <optgroup label="where somebody speaks or is met">
              {(story.cast ?? []).map(({ id, name }) => (
                <option key={id} value={`person:${id}`}>
                  {name}
                </option>
              ))}
            </optgroup>
            <optgroup label="that read or change">
              {entries.map(({ id, name }) => (
                <option key={id} value={`entry:${id}`}>
                  {name ?? plainId(id)}
                </option>
              ))}
              {(story.quests ?? []).map(({ id, name }) => (
                <option key={id} value={`quest:${id}`}>
                  {name}
                </option>
              ))}
            </optgroup>
          </>
        )}
      </select>
    </Box>
  )
})

/** What is done with the beats that are chosen. */
function Chosen() {
  const session = useSession()
  const things = useThings()
  const count = useSessionState((state) => state.chosen.length)
  return (
    <Flex
      px="2"
      py="1"
      gap="1"
      align="center"
      borderTop="1px solid"
      borderColor="hairline"
      fontSize="sm"
      role="group"
      aria-label="Chosen beats"
    >
      <Text color="faded">{count} chosen</Text>
      <Quiet onClick={() => void navigator.clipboard.writeText(copyChosen(session) ?? '')} title="Ctrl+C">
        Copy
      </Quiet>
      <Quiet onClick={() => deleteChosen(session, things)} title="Delete">
        Delete
      </Quiet>
      <Quiet onClick={() => session.choose([])} title="Escape">
        None
      </Quiet>
    </Flex>
  )
}
