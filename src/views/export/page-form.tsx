'use client'

import { Box, Flex, Text } from '@chakra-ui/react'
import { PAGE_PARTS, type PageGround, type PagePart } from '../../core/formats/page/settings'
import type { Page } from '../../core/story/types'
import { DraftText } from '../shared/fields/draft-text'
import { useSession, useSessionState } from '../shared/session/use-session'

const GROUNDS: Readonly<Record<PageGround, string>> = {
  paper: 'Paper',
  white: 'White',
  sea: 'Sea green',
  night: 'Dark',
}
const PARTS: Readonly<Record<PagePart, string>> = {
  title: 'a title page first',
  journal: 'a journal of the quests',
  bag: 'a bag of what is carried',
  earlier: 'what was said before, above the newest',
}
const VERMILION = '#b8341a'
const ACCENTS: Readonly<Record<string, string>> = {
  [VERMILION]: 'Vermilion',
  '#1f6f6b': 'Teal',
  '#9a6a12': 'Ochre',
  '#5b3a6e': 'Plum',
  '#3c4a63': 'Slate',
}

/** What the author chooses for the page that plays the story. */
export function PageForm() {
  const session = useSession()
  const page = useSessionState((state) => state.story.page)
  const set = (key: keyof Page, value: string) =>
    session.edit({ op: 'set-page', values: { [key]: value.trim() === '' ? null : value } })
  const hidden = new Set((page?.hides ?? '').split(' ').filter((part) => part !== ''))
  return (
    <Box display="grid" gap="3">
      <Written label="By" value={page?.author} onCommit={(text) => set('author', text)} placeholder="who wrote it" />
      <Written
        label="Beneath the title"
        value={page?.blurb}
        onCommit={(text) => set('blurb', text)}
        placeholder="a few words that invite"
      />
      <Written
        label="Credits"
        value={page?.credits}
        onCommit={(text) => set('credits', text)}
        placeholder="who else worked on it"
      />
      <Row label="Ground">
        <select
          className="field"
          aria-label="Ground"
          value={page?.ground ?? 'paper'}
          onChange={(event) => set('ground', event.target.value)}
        >
          {Object.entries(GROUNDS).map(([value, name]) => (
            <option key={value} value={value}>
              {name}
            </option>
          ))}
        </select>
        <label>
          Marks{' '}
          <select
            className="field"
            aria-label="Colour of marks"
            value={page?.accent ?? VERMILION}
            onChange={(event) => set('accent', event.target.value)}
          >
            {/* a story file may have any */}
            {[...new Set([...Object.keys(ACCENTS), page?.accent ?? VERMILION])].map((colour) => (
              <option key={colour} value={colour}>
                {ACCENTS[colour] ?? colour}
              </option>
            ))}
          </select>
        </label>
      </Row>
      <Row label="Shows">
        <Box as="fieldset" border="none" p="0" display="grid" gap="1">
          {PAGE_PARTS.map((part) => (
            <label key={part}>
              <input
                type="checkbox"
                checked={!hidden.has(part)}
                onChange={({ target }) => {
                  if (target.checked) hidden.delete(part)
                  else hidden.add(part)
                  set('hides', PAGE_PARTS.filter((one) => hidden.has(one)).join(' '))
                }}
              />{' '}
              {PARTS[part]}
            </label>
          ))}
        </Box>
      </Row>
      <Row label="Playtests">
        <label>
          <input
            type="checkbox"
            checked={page?.playtests === 'ask'}
            onChange={({ target }) => set('playtests', target.checked ? 'ask' : '')}
          />{' '}
          ask readers whether they keep a record of how they play, as a file that they can give you
        </label>
      </Row>
    </Box>
  )
}

function Row({ label, children }: { label: string; children: React.ReactNode }) {
  return (
    <Flex gap="3" align="baseline" wrap="wrap">
      <Text w="8rem" flexShrink={0} color="faded">
        {label}
      </Text>
      <Flex flex="1" minW="12rem" gap="4" align="center" wrap="wrap">
        {children}
      </Flex>
    </Flex>
  )
}

function Written(props: {
  label: string
  value: string | undefined
  placeholder: string
  onCommit: (text: string) => void
}) {
  return (
    <Row label={props.label}>
      <Box className="field" flex="1">
        <DraftText
          label={props.label}
          value={props.value ?? ''}
          placeholder={props.placeholder}
          onCommit={props.onCommit}
        />
      </Box>
    </Row>
  )
}
