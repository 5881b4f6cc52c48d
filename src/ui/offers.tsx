'use client'

import { Box, type BoxProps } from '@chakra-ui/react'
import { useEffect, useRef, type AriaAttributes, type ReactNode } from 'react'

/** What ties a text field to the offers below it (WAI-ARIA combobox with a listbox). */
export function tieToOffers(id: string, count: number, chosen: number): AriaAttributes {
  return {
    'aria-autocomplete': 'list',
    'aria-haspopup': 'listbox',
    'aria-controls': count > 0 ? id : undefined,
    'aria-activedescendant': chosen >= 0 && chosen < count ? optionId(id, chosen) : undefined,
  }
}

function optionId(id: string, at: number): string {
  return `${id}-${at}`
}

interface Props<T> extends Omit<BoxProps, 'children'> {
  readonly id: string
  readonly label: string
  readonly offers: readonly T[]
  readonly chosen: number
  readonly keyOf: (offer: T) => string
  readonly children: (offer: T) => ReactNode
  readonly onTake: (offer: T) => void
  readonly onPoint?: (at: number) => void
}

/** A list of offers, one of them chosen by the keys of the field that it belongs to; the field keeps the focus. */
export function Offers<T>({ id, label, offers, chosen, keyOf, children, onTake, onPoint, ...box }: Props<T>) {
  const list = useRef<HTMLDivElement>(null)
  useEffect(() => {
    list.current?.children[chosen]?.scrollIntoView({ block: 'nearest' })
  }, [chosen])
  return (
    <Box ref={list} id={id} role="listbox" aria-label={label} {...box}>
      {offers.map((offer, at) => (
        <Box
          key={keyOf(offer)}
          id={optionId(id, at)}
          role="option"
          aria-selected={at === chosen}
          display="flex"
          gap="3"
          px="2"
          py="0.5"
          alignItems="baseline"
          cursor="pointer"
          bg={at === chosen ? 'wash' : undefined}
          onMouseMove={onPoint && (() => onPoint(at))}
          // before the field is left
          onMouseDown={(event) => {
            event.preventDefault()
            onTake(offer)
          }}
        >
          {children(offer)}
        </Box>
      ))}
    </Box>
  )
}
