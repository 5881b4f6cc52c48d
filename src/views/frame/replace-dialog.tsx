'use client'

import { Box, Flex, Text } from '@chakra-ui/react'
import { useMemo, useState } from 'react'
import { findTexts, replaceTexts, type TextPlace, type TextQuery } from '../../core/story/rename/replace-text'
import { sayAddress } from '../../session/names'
import { Main, Plain, Quiet } from '../../ui/buttons'
import { Dialog } from '../../ui/dialog'
import { useGoTo } from '../shared/session/use-go-to'
import { useSession, useSessionState } from '../shared/session/use-session'
import { said } from '../shared/said'

const SHOWN = 300

/** Finds words in every text of the story and puts others in their place, after showing each. */
export function ReplaceDialog({ onClose }: { onClose: () => void }) {
  const session = useSession()
  const goTo = useGoTo()
  const story = useSessionState((state) => state.story)
  const scene = useSessionState((state) => state.scene)
  const [find, setFind] = useState('')
  const [replacement, setReplacement] = useState('')
  const [matchCase, setMatchCase] = useState(false)
  const [wholeWord, setWholeWord] = useState(false)
  const [here, setHere] = useState(false)
  const [left, setLeft] = useState<ReadonlySet<string>>(new Set())
  const query: TextQuery = useMemo(
    () => ({ find, replacement, matchCase, wholeWord, scene: here ? scene : undefined }),
    [find, replacement, matchCase, wholeWord, here, scene],
  )
  const places = useMemo(() => findTexts(story, query), [story, query])
  // what a replacement would spoil is taken only when one says so
  const isChosen = (place: TextPlace) => place.breaks === left.has(place.key)
  const chosen = places.filter((place) => isChosen(place) && place.after !== place.before)
  const toggle = (key: string) => {
    const next = new Set(left)
    if (!next.delete(key)) next.add(key)
    setLeft(next)
  }
  const replace = () => {
    const change = replaceTexts(story, query, new Set(chosen.map(({ key }) => key)))
    if (change !== undefined) session.edit(change)
    onClose()
  }
  const box = (label: string, on: boolean, set: (on: boolean) => void) => (
    <label>
      <input type="checkbox" checked={on} onChange={(event) => set(event.target.checked)} /> {label}
    </label>
  )
  return (
    <Dialog title="Find and replace" wide onClose={onClose}>
      <Flex gap="2" wrap="wrap">
        <Box asChild className="field" flex="1 1 14rem">
          <input
            autoFocus
            aria-label="Find"
            placeholder="Find"
            value={find}
            onChange={(event) => setFind(event.target.value)}
          />
        </Box>
        <Box asChild className="field" flex="1 1 14rem">
          <input
            aria-label="Replace with"
            placeholder="Replace with"
            value={replacement}
            onChange={(event) => setReplacement(event.target.value)}
          />
        </Box>
      </Flex>
      <Flex gap="4" color="faded" fontSize="sm" wrap="wrap">
        {box('as written (capitals)', matchCase, setMatchCase)}
        {box('whole words', wholeWord, setWholeWord)}
        {box('only in this scene', here, setHere)}
        <Box flex="1" />
        <Text role="status">
          {find === ''
            ? 'Texts, names and notes are looked through; expressions are not.'
            : `${said(places.length, 'text')}, ${chosen.length} chosen`}
        </Text>
      </Flex>
      <Box
        overflowY="auto"
        tabIndex={0}
        role="group"
        aria-label="What was found"
        minH="10rem"
        maxH="24rem"
        borderTop="1px solid"
        borderColor="hairline"
      >
        {places.slice(0, SHOWN).map((place) => (
          <Flex key={place.key} gap="3" py="1.5" borderBottom="1px solid" borderColor="hairline" align="baseline">
            <input
              type="checkbox"
              aria-label={`Replace in: ${place.before}`}
              checked={isChosen(place)}
              onChange={() => toggle(place.key)}
            />
            <Box flex="1" minW="0" fontFamily="story">
              <Text color="faded">{place.before}</Text>
              {place.after !== place.before && <Text>{place.after}</Text>}
              {place.breaks && (
                <Text color="needle" fontFamily="body" fontSize="sm">
                  The text could no longer be read: a name or form inside braces would change.
                </Text>
              )}
            </Box>
            {place.beat === undefined ? (
              <Text color="faded" fontSize="sm">
                {place.of}
              </Text>
            ) : (
              <Quiet
                fontSize="sm"
                onClick={() => {
                  onClose()
                  if (place.beat !== undefined) goTo(place.beat)
                }}
              >
                {sayAddress(place.beat, story)}
              </Quiet>
            )}
          </Flex>
        ))}
        {places.length > SHOWN && (
          <Text py="2" color="faded">
            and {places.length - SHOWN} more, which are chosen too
          </Text>
        )}
      </Box>
      <Flex gap="2">
        <Main disabled={chosen.length === 0} onClick={replace}>
          Replace in {said(chosen.length, 'text')}
        </Main>
        <Plain onClick={onClose}>Close</Plain>
      </Flex>
    </Dialog>
  )
}
