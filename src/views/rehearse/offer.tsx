'use client'

import { plainId } from '../../core/base/ids'
import { parseAddress } from '../../core/base/address'
import { Box, Flex, Text } from '@chakra-ui/react'
import { useLayoutEffect, useState } from 'react'
import { sayCondition } from '../../core/expression/words'
import { openness } from '../../core/play/choices'
import { cleanWord } from '../../core/play/step'
import type { PlayState } from '../../core/play/state'
import { formatText } from '../../core/play/text'
import { whyClosed, type WhyClosed } from '../../core/play/why-closed'
import type { LinkedStory } from '../../core/story/linked'
import type { RouteItem } from '../../core/story/types'
import { sayValue, storyNames } from '../../session/names'
import { Main, Quiet } from '../../ui/buttons'

interface Props {
  readonly linked: LinkedStory
  readonly state: PlayState
  /** Counts steps, so that each offer begins anew. */
  readonly step: number
  /** Whether a decision was taken from here before. */
  readonly isTried: (decision: RouteItem) => boolean
  readonly onDecide: (decision: RouteItem) => void
}

/** What the player may do now, and what not, and why. */
export function Offer(props: Props) {
  const { linked, state, step } = props
  switch (state.status) {
    case 'choice':
      return <Choices {...props} />
    case 'word':
      return <Word key={step} {...props} />
    case 'ended': {
      const ending = linked.endings[linked.beats[state.at]!.ending]
      return (
        <Box borderTop="1px solid" borderColor="kept" mt="4" pt="3" data-ended={ending?.id}>
          <Text fontFamily="story" fontSize="lg" color="kept">
            {ending?.name}
          </Text>
          <Text color="faded">The story has ended.</Text>
        </Box>
      )
    }
    case 'stuck':
      return (
        <>
          <Closed linked={linked} state={state} />
          <Trouble text="The player is stuck here: nothing is open, and the story has not ended." />
        </>
      )
    case 'endless':
      return <Trouble text="From here the story goes round by itself and never stops." />
    case 'nowhere':
      return <Trouble text="The story has no first beat yet: choose one on the Desk with “begin here”." />
  }
}

function Trouble({ text }: { text: string }) {
  return (
    <Text borderTop="1px solid" borderColor="needle" color="needle" mt="4" pt="3">
      {text}
    </Text>
  )
}

function Choices({ linked, state, step, isTried, onDecide }: Props) {
  const open = linked.beats[state.at]!.choices.filter((choice) => openness(linked, state, choice).open)
  useLayoutEffect(() => {
    const press = (event: KeyboardEvent) => {
      if (event.altKey || event.ctrlKey || event.metaKey || !/^[1-9]$/.test(event.key)) return
      if (event.target instanceof HTMLElement && event.target.matches('input, textarea, select')) return
      const choice = open[Number(event.key) - 1]
      if (choice === undefined) return
      event.preventDefault()
      onDecide({ choice: choice.address })
    }
    window.addEventListener('keydown', press)
    return () => window.removeEventListener('keydown', press)
  })
  return (
    <Box mt="4" pt="3" borderTop="1px solid" borderColor="hairline">
      <Box as="ol" aria-label="Open choices" listStyleType="none">
        {open.map((choice, at) => (
          <li key={`${step} ${choice.address}`}>
            <Quiet
              fontFamily="story"
              fontSize="md"
              color="ink"
              w="100%"
              whiteSpace="normal"
              onClick={() => onDecide({ choice: choice.address })}
              data-choice={choice.address}
            >
              <Text as="span" color="needle" fontFamily="body" fontWeight={600} mr="2">
                {at + 1}
              </Text>
              {formatText(linked, state, choice.text) ||
                plainId(parseAddress(choice.address)?.choice ?? choice.address)}
              {isTried({ choice: choice.address }) && (
                <Text as="span" color="faded" fontFamily="body" fontSize="xs" ml="3" data-tried="">
                  tried
                </Text>
              )}
            </Quiet>
          </li>
        ))}
      </Box>
      <Closed linked={linked} state={state} />
    </Box>
  )
}

function Closed({ linked, state }: { linked: LinkedStory; state: PlayState }) {
  const closed = linked.beats[state.at]!.choices.flatMap((choice) => {
    const why = whyClosed(linked, state, choice)
    return why === undefined ? [] : [{ choice, why }]
  })
  if (closed.length === 0) return null
  return (
    <Box as="ul" aria-label="Closed choices" listStyleType="none" mt="2" fontSize="sm" color="faded">
      {closed.map(({ choice, why }) => (
        <Box as="li" key={choice.address} px="1.5" py="0.5" data-closed={choice.address}>
          <Text as="span" fontFamily="story">
            {formatText(linked, state, choice.text) || plainId(parseAddress(choice.address)?.choice ?? choice.address)}
          </Text>{' '}
          — closed{choice.shownClosed ? '' : ' and hidden'}: {sayWhy(linked, why)}
        </Box>
      ))}
    </Box>
  )
}

function sayWhy(linked: LinkedStory, why: WhyClosed): string {
  const names = storyNames(linked.doc)
  switch (why.kind) {
    case 'gate':
      return why.parts
        .map(({ part, saw }) => {
          const seen = saw
            .map(({ of, id, value }) => `${of === 'quest' ? names.quest(id) : names.entry(id)} is ${sayValue(value)}`)
            .join(', ')
          return `needs “${sayCondition(part, names)}”${seen === '' ? '' : ` (${seen})`}`
        })
        .join('; ')
    case 'broken-gate':
      return `its gate can not be understood: ${why.source}`
    case 'once':
      return 'it can be taken only once, and was'
    case 'nowhere':
      return 'it leads nowhere yet'
    case 'no-place':
      return 'it leads back to a place, and there is none yet'
    case 'rules':
      return 'none of its roads is open'
  }
}

function Word({ linked, state, onDecide }: Props) {
  const beat = linked.beats[state.at]!
  const [text, setText] = useState('')
  const [trouble, setTrouble] = useState(false)
  const say = (word: string) => {
    const said = cleanWord(word) ?? beat.ask!.default
    if (said === undefined) setTrouble(true)
    else onDecide({ at: beat.address, word: said })
  }
  const prompt = formatText(linked, state, beat.ask!.prompt)
  return (
    <Box mt="4" pt="3" borderTop="1px solid" borderColor="hairline">
      <Box
        as="form"
        onSubmit={(event) => {
          event.preventDefault()
          say(text)
        }}
      >
        <label>
          <Text as="span" fontFamily="story" mr="3">
            {prompt}
          </Text>
          <input
            data-field="word"
            autoFocus
            value={text}
            aria-invalid={trouble}
            placeholder={beat.ask!.default}
            className="field"
            onChange={(event) => {
              setTrouble(false)
              setText(event.target.value)
            }}
          />
        </label>{' '}
        <Main type="submit">Say it</Main>
      </Box>
      {trouble && (
        <Text role="alert" color="needle">
          A word can not be empty.
        </Text>
      )}
      <Flex gap="1" mt="2">
        {beat.ask!.suggest.map((word) => (
          <Quiet key={word} fontFamily="story" onClick={() => say(word)}>
            {word}
          </Quiet>
        ))}
      </Flex>
    </Box>
  )
}
