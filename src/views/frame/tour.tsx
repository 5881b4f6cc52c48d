'use client'

import { Box, Flex, Text } from '@chakra-ui/react'
import { usePathname } from 'next/navigation'
import { useEffect, useState } from 'react'
import { Main, Quiet } from '../../ui/buttons'

/** Remembers in this browser that the tour was seen. */
const SEEN = 'paper-compass.tour'

const STEPS: readonly { readonly at: string; readonly says: string }[] = [
  {
    at: '[data-manuscript] .beat',
    says: 'This is the manuscript. Write straight into it: Enter goes on to the next line, Ctrl+Enter starts a choice, and naming a beat that does not exist yet offers to make it.',
  },
  {
    at: '.row .margin .gate, .row .margin .effect',
    says: 'The margin says in plain words when something opens and what it changes. Press one of these to pick or to type it. What stands under “when taken” happens only to those who take that choice.',
  },
  {
    at: '[aria-label="Bearing of this beat"]',
    says: 'The bearing of the beat you are in: the shortest route to it, what can be true here, and which endings can still be reached.',
  },
  {
    at: '[aria-label="The needle"]',
    says: 'The needle surveys the whole story after every edit. It tells what an edit did, and F8 goes from finding to finding. Open “First draft of Hollin Reach” in the library to see what it finds.',
  },
  {
    at: 'nav[aria-label="Views"]',
    says: 'Rehearse plays the story with its memory beside it; Bearings lists every ending, promise and finding, each with a route to walk. The Ledger holds what the story remembers, and what the game gives it. Ctrl+K goes anywhere, ? lists the keys.',
  },
]

/** Five steps through the sample, for whoever opens it first; out of the way for good once it is dismissed. */
export function Tour() {
  const [step, setStep] = useState(-1)
  // what it points at stands on the Desk
  const isDesk = usePathname().endsWith('/desk')
  useEffect(() => {
    let seen = true
    try {
      seen = localStorage.getItem(SEEN) !== null
    } catch {
      // where nothing is kept the tour would come again and again
    }
    // the page has to stand before something on it can be pointed at
    if (!seen) queueMicrotask(() => setStep(0))
  }, [])
  const at = isDesk ? STEPS[step]?.at : undefined
  useEffect(() => {
    const target = at === undefined ? null : document.querySelector<HTMLElement>(at)
    target?.setAttribute('data-toured', '')
    return () => target?.removeAttribute('data-toured')
  }, [at])
  const end = () => {
    setStep(-1)
    try {
      localStorage.setItem(SEEN, 'seen')
    } catch {
      // then it comes again next time
    }
  }
  const shown = STEPS[step]
  if (shown === undefined || !isDesk) return null
  return (
    <Box
      as="aside"
      aria-label="Tour"
      position="absolute"
      right="4"
      bottom="4"
      w="21rem"
      bg="sheet"
      border="1px solid"
      borderColor="needle"
      borderRadius="sheet"
      boxShadow="md"
      p="4"
      zIndex="docked"
    >
      <Text aria-live="polite">{shown.says}</Text>
      <Flex gap="2" mt="3" align="center">
        <Main onClick={() => (step === STEPS.length - 1 ? end() : setStep(step + 1))}>
          {step === STEPS.length - 1 ? 'Begin' : 'Next'}
        </Main>
        <Text color="faded" fontSize="sm">
          {step + 1} of {STEPS.length}
        </Text>
        <Box flex="1" />
        <Quiet onClick={end}>No tour</Quiet>
      </Flex>
    </Box>
  )
}
