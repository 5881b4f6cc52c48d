'use client'

import { Box, Flex, Text } from '@chakra-ui/react'
import { useVirtualizer } from '@tanstack/react-virtual'
import { useMemo, useRef, useState } from 'react'
import { diffWordsWithSpace } from 'diff'
import { translationTrouble } from '../../core/story/languages'
import { termsMissed, type TranslatedTerm } from '../../core/texts/glossary'
import type { TextRow } from '../../core/texts/rows'
import { Quiet } from '../../ui/buttons'
import { focusSoon } from '../../ui/named-fields'
import { isTooLong, signsOf } from '../../core/texts/length'
import { RouteSteps } from '../shared/naming/route-steps'
import { useAnswer } from '../shared/session/use-answer'
import { FormsFields } from './forms-fields'
import { DraftText } from '../shared/fields/draft-text'
import { useLinked, useMayWrite, useSession, useSessionState } from '../shared/session/use-session'
import { directionOf } from '../../core/base/direction'
import { EditQuiet } from '../shared/fields/edits'

const ROW_GUESS = 92

/** One row a text: where it stands and what it says, and beside it what it is in the language. */
export function TextTable({
  language,
  rows,
  limit,
  glossary,
}: {
  language: string
  rows: readonly TextRow[]
  limit: number | undefined
  glossary: readonly TranslatedTerm[]
}) {
  const scroll = useRef<HTMLDivElement>(null)
  const linked = useLinked()
  const trouble = useMemo(() => translationTrouble(linked), [linked])
  // oxlint-disable-next-line react/incompatible-library -- its answers are used here only, never handed on
  const list = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroll.current,
    estimateSize: () => ROW_GUESS,
    getItemKey: (at) => rows[at]!.key,
    overscan: 8,
  })
  const goOn = (at: number) => {
    const next = rows[at]
    if (next === undefined) return
    list.scrollToIndex(at)
    focusSoon(fieldOf(next.key))
  }
  return (
    <Box
      ref={scroll}
      overflowY="auto"
      aria-label="Texts"
      role="table"
      tabIndex={-1}
      borderTop="1px solid"
      borderColor="hairline"
    >
      {rows.length === 0 && (
        <Text color="faded" py="4">
          Nothing here.
        </Text>
      )}
      <Box position="relative" role="rowgroup" style={{ height: list.getTotalSize() }}>
        {list.getVirtualItems().map(({ index, key, start }) => (
          <Box
            key={key}
            ref={list.measureElement}
            data-index={index}
            role="row"
            position="absolute"
            insetInline="0"
            style={{ transform: `translateY(${start}px)` }}
          >
            <Row
              language={language}
              row={rows[index]!}
              limit={limit}
              glossary={glossary}
              trouble={trouble}
              onNext={() => goOn(index + 1)}
            />
          </Box>
        ))}
      </Box>
    </Box>
  )
}

/** By what name the field of a text is focused. */
function fieldOf(key: string): string {
  return `text ${key}`
}

interface RowProps {
  readonly language: string
  readonly row: TextRow
  /** More signs than that do not fit. */
  readonly limit: number | undefined
  readonly glossary: readonly TranslatedTerm[]
  readonly trouble: (key: string, text: string) => string | undefined
  readonly onNext: () => void
}

function Row({ language, row, limit, glossary, trouble, onNext }: RowProps) {
  const session = useSession()
  const mayWrite = useMayWrite()
  const own = useSessionState((state) => state.story.language)
  const [typed, setTyped] = useState<string>()
  const { key, source, text = '', where, beat, who, before, gate, notes, of, state } = row
  const set = (next: string, checked: boolean) =>
    session.edit({
      op: 'set-texts',
      language,
      values: {
        [key]: next === '' ? null : { text: next, of: source, ...(checked ? { state: 'checked' as const } : {}) },
      },
    })
  const now = typed ?? text
  const why = now === '' ? undefined : trouble(key, now)
  const missed = now === '' || row.isName ? [] : termsMissed(source, now, glossary)
  return (
    <Box
      display="grid"
      gridTemplateColumns={{ base: '1fr', md: 'minmax(0, 1fr) minmax(0, 1fr) 9rem' }}
      columnGap="6"
      rowGap="1"
      py="2"
      borderBottom="1px solid"
      borderColor="hairline"
      data-text-key={key}
      data-text-state={state}
    >
      <Box role="cell">
        <Flex gap="2" align="baseline" wrap="wrap">
          <Text fontSize="sm" color="faded" title={key}>
            {[where, who, gate].filter((one) => one !== undefined).join(' · ')}
          </Text>
          {beat !== undefined && <HowOneComes beat={beat} />}
        </Flex>
        {before !== undefined && (
          <Text fontSize="sm" color="faded" truncate title={before}>
            after: {before}
          </Text>
        )}
        {notes !== undefined && (
          <Text fontSize="sm" color="faded">
            note: {notes}
          </Text>
        )}
        <Text fontFamily="story" whiteSpace="pre-wrap" lang={own} dir={directionOf(own)}>
          {of === undefined ? source : <Changed before={of} after={source} />}
        </Text>
      </Box>
      <Box role="cell" lang={language} dir={directionOf(language)} fontFamily="story">
        <Box className="field">
          <DraftText
            label={`“${source}” in ${language}`}
            value={text}
            placeholder="…"
            field={fieldOf(key)}
            onType={(next) => {
              setTyped(next)
              return false
            }}
            onCommit={(next) => {
              setTyped(undefined)
              // as it is kept now: a key may have marked it as checked just before the field was left
              const texts = session.getState().story.languages?.[language]?.texts ?? {}
              if (next !== (Object.hasOwn(texts, key) ? texts[key]!.text : '')) set(next, false)
            }}
            onKeyDown={(event, next) => {
              if (event.key !== 'Enter' || !(event.ctrlKey || event.metaKey)) return
              event.preventDefault()
              if (next !== '') set(next, true)
              onNext()
            }}
          />
        </Box>
        <FormsFields
          language={language}
          source={source}
          text={now}
          onCommit={(next) => {
            setTyped(undefined)
            set(next, false)
          }}
        />
        {missed.length > 0 && (
          <Text fontFamily="body" fontSize="sm" color="ochre" dir="auto">
            {missed.map((term) => `“${term.source}” is “${term.text}” elsewhere`).join('; ')}
          </Text>
        )}
        {why !== undefined && (
          <Text role="alert" fontFamily="body" fontSize="sm" color="needle" dir="ltr">
            would not play: {why}; the source is shown instead
          </Text>
        )}
      </Box>
      <Flex role="cell" gap="2" align="start" fontSize="sm" color="faded" wrap="wrap">
        {state === 'missing' ? (
          'missing'
        ) : (
          <label>
            <input
              type="checkbox"
              aria-label={`Checked: “${source}”`}
              checked={state === 'checked'}
              disabled={!mayWrite}
              onChange={(event) => set(text, event.target.checked)}
            />{' '}
            checked
          </label>
        )}
        {state === 'outdated' && (
          <EditQuiet title="The text still fits the source as it is now" onClick={() => set(text, false)}>
            out of date: it still fits
          </EditQuiet>
        )}
        {now.length > 0 && (
          <Box
            as="span"
            title="Signs, and how long that is against the source"
            color={isTooLong(row, now, limit) ? 'needle' : undefined}
          >
            {signsOf(now)} ({Math.round((100 * signsOf(now)) / Math.max(1, signsOf(source)))} %)
            {isTooLong(row, now, limit) && ` more than ${limit}`}
          </Box>
        )}
      </Flex>
    </Box>
  )
}

/** How one comes to a text, asked for where it is wanted. */
function HowOneComes({ beat }: { beat: string }) {
  const [isAsked, setAsked] = useState(false)
  const route = useAnswer('route-to', isAsked ? beat : undefined, () => ({ what: 'beats', address: beat }))
  if (!isAsked)
    return (
      <Quiet fontSize="sm" onClick={() => setAsked(true)}>
        how one comes here
      </Quiet>
    )
  if (route.status !== 'ready')
    return (
      <Text fontSize="sm" color="faded">
        {route.status === 'failed' ? route.message : 'Asking …'}
      </Text>
    )
  if (route.answer === undefined) return <Text fontSize="sm">No route comes here.</Text>
  if (route.answer.length === 0) return <Text fontSize="sm">The story begins here.</Text>
  return (
    <Box fontSize="sm">
      <RouteSteps route={route.answer} />
    </Box>
  )
}

/** What the source was when it was translated, and what it is now. */
function Changed({ before, after }: { before: string; after: string }) {
  return diffWordsWithSpace(before, after).map(({ value, added, removed }, at) =>
    added ? (
      <Box as="ins" key={at} bg="teal.wash" textDecoration="none">
        {value}
      </Box>
    ) : removed ? (
      <Box as="del" key={at} color="faded">
        {value}
      </Box>
    ) : (
      <span key={at}>{value}</span>
    ),
  )
}
