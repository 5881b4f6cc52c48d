'use client'

import { chakra } from '@chakra-ui/react'

const framed = {
  px: '3',
  py: '1',
  border: '1px solid',
  borderRadius: 'sheet',
  fontWeight: 500,
  whiteSpace: 'nowrap',
  _disabled: { opacity: 0.5, cursor: 'not-allowed' },
} as const

/** A button that is a word with a hairline: the usual one. */
export const Plain = chakra('button', {
  base: { ...framed, borderColor: 'edge', bg: 'sheet', color: 'ink', _hover: { bg: 'wash' } },
})

/** The one thing to do next. */
export const Main = chakra('button', {
  base: {
    ...framed,
    bg: 'needle',
    borderColor: 'needle',
    color: 'needle.on',
    _hover: { bg: 'needle', filter: 'brightness(0.92)' },
  },
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
