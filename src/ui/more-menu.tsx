'use client'

import { Menu } from '@chakra-ui/react'
import { useRef, useState } from 'react'
import { Bare } from './bare'

export interface MenuItem {
  readonly id: string
  readonly text: string
  /** What it is for, or its key. */
  readonly hint?: string
  readonly onPick: () => void
}

interface Props {
  readonly label: string
  readonly text: string
  readonly items: () => readonly MenuItem[]
  readonly className?: string
  /** Where the focus goes when nothing was picked. */
  readonly onLeave?: () => void
}

/** A small button that opens a list of things to do; the list is made when it is opened, for a page has hundreds. */
export function MoreMenu({ label, text, items, className, onLeave }: Props) {
  const [open, setOpen] = useState(false)
  const picked = useRef(false)
  const button = (
    <Bare
      className={className}
      aria-label={label}
      aria-haspopup="menu"
      title={label}
      tabIndex={-1}
      data-more=""
      onClick={
        open
          ? undefined
          : () => {
              picked.current = false
              setOpen(true)
            }
      }
    >
      {text}
    </Bare>
  )
  if (!open) return button
  const list = items()
  return (
    <Menu.Root
      open
      size="sm"
      positioning={{ placement: 'bottom-end', gutter: 2 }}
      onSelect={({ value }) => {
        picked.current = true
        list.find(({ id }) => id === value)?.onPick()
      }}
      onOpenChange={({ open: stays }) => {
        if (stays) return
        setOpen(false)
        if (!picked.current) requestAnimationFrame(() => onLeave?.())
      }}
    >
      <Menu.Trigger asChild>{button}</Menu.Trigger>
      <Menu.Positioner zIndex="dropdown">
        <Menu.Content
          bg="sheet"
          color="ink"
          border="1px solid"
          borderColor="edge"
          borderRadius="sheet"
          boxShadow="sm"
          fontFamily="body"
          fontSize="sm"
          fontStyle="normal"
          minW="13rem"
          p="1"
          aria-label={label}
        >
          {list.map(({ id, text: words, hint }) => (
            <Menu.Item key={id} value={id} data-item={id} _highlighted={{ bg: 'wash' }} cursor="pointer" gap="4">
              <span style={{ flex: 1 }}>{words}</span>
              {hint !== undefined && (
                <span style={{ color: 'var(--chakra-colors-faded)', fontSize: '0.85em' }}>{hint}</span>
              )}
            </Menu.Item>
          ))}
        </Menu.Content>
      </Menu.Positioner>
    </Menu.Root>
  )
}
