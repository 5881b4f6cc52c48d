'use client'

import { chakra } from '@chakra-ui/react'
import { useEffect, useId, useRef, type ReactNode } from 'react'

interface Props {
  readonly title: string
  readonly onClose: () => void
  readonly wide?: boolean
  readonly children: ReactNode
}

/** A page laid over the others while it is there; Escape or a press beside it puts it away. */
export function Dialog({ title, onClose, wide, children }: Props) {
  const box = useRef<HTMLDialogElement>(null)
  const id = useId()
  useEffect(() => {
    const dialog = box.current!
    const before = document.activeElement
    if (!dialog.open) dialog.showModal()
    return () => {
      dialog.close()
      if (before instanceof HTMLElement && before.isConnected) before.focus()
    }
  }, [])
  return (
    <chakra.dialog
      ref={box}
      aria-labelledby={id}
      onCancel={(event) => {
        event.preventDefault()
        onClose()
      }}
      onMouseDown={(event) => {
        if (event.target === box.current) onClose()
      }}
      m="auto"
      p="0"
      bg="sheet"
      color="ink"
      border="1px solid"
      borderColor="edge"
      borderRadius="sheet"
      w={wide ? '52rem' : '34rem'}
      maxW="92vw"
      maxH="84vh"
      css={{ '&::backdrop': { background: 'color-mix(in srgb, black 35%, transparent)' } }}
    >
      <chakra.div px="6" py="5" display="flex" flexDirection="column" gap="3" maxH="84vh">
        <chakra.h2 id={id} fontFamily="story" fontSize="lg">
          {title}
        </chakra.h2>
        {children}
      </chakra.div>
    </chakra.dialog>
  )
}
