'use client'

import { Dialog as Chakra, Portal } from '@chakra-ui/react'
import { useEffect, useRef, useState, type ReactNode } from 'react'
import { giveFocusBack } from './focus-back'

interface Props {
  readonly title: string
  readonly onClose: () => void
  readonly wide?: boolean
  readonly children: ReactNode
}

/** A page laid over the others while it is there; Escape or a press beside it puts it away. */
export function Dialog({ title, onClose, wide, children }: Props) {
  useFocusBack()
  const content = useRef<HTMLDivElement>(null)
  return (
    <Chakra.Root
      open
      onOpenChange={({ open }) => !open && onClose()}
      onEscapeKeyDown={(event) => {
        if (event.target instanceof Element && event.target.closest('[data-own-escape]') !== null)
          event.preventDefault()
      }}
      scrollBehavior="inside"
      // what Enter shall do, where one button is meant for it
      initialFocusEl={() => content.current?.querySelector<HTMLElement>('[data-first]') ?? null}
      motionPreset="none"
    >
      <Portal>
        <Chakra.Backdrop bg="color-mix(in srgb, black 35%, transparent)" />
        <Chakra.Positioner alignItems="center">
          <Chakra.Content
            ref={content}
            m="auto"
            bg="sheet"
            color="ink"
            border="1px solid"
            borderColor="edge"
            borderRadius="sheet"
            boxShadow="md"
            w={wide ? '52rem' : '34rem'}
            maxW="92vw"
            maxH="84vh"
            px="6"
            py="5"
            gap="3"
          >
            <Chakra.Title fontFamily="story" fontSize="lg" fontWeight={500} lineHeight={1.3}>
              {title}
            </Chakra.Title>
            {children}
          </Chakra.Content>
        </Chakra.Positioner>
      </Portal>
    </Chakra.Root>
  )
}

/** Whoever opens a dialog takes it away whole, so the focus is given back here. */
function useFocusBack(): void {
  const [before] = useState(() => (typeof document === 'undefined' ? null : document.activeElement))
  useEffect(
    () => () => {
      if (before instanceof HTMLElement && before.isConnected) giveFocusBack(before)
    },
    [before],
  )
}
