'use client'

import { chakra } from '@chakra-ui/react'

/** A button that is a word with a hairline: the usual one. */
export const Plain = chakra('button', {
  base: {
    px: '3',
    py: '1',
    border: '1px solid',
    borderColor: 'edge',
    borderRadius: 'sheet',
    bg: 'sheet',
    color: 'ink',
    fontWeight: 500,
    whiteSpace: 'nowrap',
    _hover: { bg: 'wash' },
    _disabled: { opacity: 0.5, cursor: 'not-allowed' },
  },
})

/** The one thing to do next. */
export const Main = chakra(Plain, {
  base: { bg: 'needle', borderColor: 'needle', color: 'needle.on', _hover: { bg: 'needle', filter: 'brightness(0.92)' } },
})

/** A button that keeps out of the way of the text. */
export const Quiet = chakra('button', {
  base: {
    display: 'inline-flex',
    alignItems: 'center',
    px: '1.5',
    py: '0',
    // no smaller than WCAG 2.2's target size
    minH: '24px',
    minW: '24px',
    borderRadius: 'sheet',
    color: 'faded',
    whiteSpace: 'nowrap',
    textAlign: 'left',
    _hover: { bg: 'wash', color: 'ink' },
    _disabled: { opacity: 0.45, cursor: 'not-allowed' },
  },
})
