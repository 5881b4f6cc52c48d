'use client'

import { Box, chakra } from '@chakra-ui/react'
import { useEffect, useId, useRef, useState, type KeyboardEvent } from 'react'
import { Offers, tieToOffers } from './offers'

export interface ComboOption {
  readonly value: string
  readonly label: string
  readonly hint?: string
}

interface Props {
  readonly label: string
  readonly text: string
  readonly onText: (text: string) => void
  readonly options: readonly ComboOption[]
  /** An option was taken. */
  readonly onPick: (value: string) => void
  /** Enter with no option chosen. */
  readonly onEnter: () => void
  /** The field is left otherwise. */
  readonly onLeave: () => void
  /** Escape: as if nothing had been typed. */
  readonly onCancel: () => void
  readonly field?: string
  readonly autoFocus?: boolean
  /** All of it is selected when it is come to. */
  readonly selectAll?: boolean
  readonly placeholder?: string
  /** Enter takes the first option when none was chosen. */
  readonly eager?: boolean
}

const SHOWN_MAX = 64

/** A text field with what it could become below it. */
export function Combo(props: Props) {
  const { label, text, onText, options, onPick, onEnter, onLeave, onCancel, eager } = props
  const id = useId()
  const [active, setActive] = useState(-1)
  const [closed, setClosed] = useState(false)
  const shown = closed ? [] : options.slice(0, SHOWN_MAX)
  const chosen = active >= 0 ? active : eager && shown.length > 0 ? 0 : -1
  const list = useRef<HTMLDivElement>(null)
  const isOpen = shown.length > 0
  // near the lower edge the list comes into view whole
  useEffect(() => {
    if (isOpen) list.current?.lastElementChild?.scrollIntoView({ block: 'nearest' })
  }, [isOpen])
  const pick = ({ value }: ComboOption) => {
    setActive(-1)
    onPick(value)
  }

  const press = (event: KeyboardEvent) => {
    if (event.nativeEvent.isComposing) return
    if (event.key === 'ArrowDown' || event.key === 'ArrowUp') {
      if (shown.length === 0) return
      event.preventDefault()
      const step = event.key === 'ArrowDown' ? 1 : -1
      setActive((active + step + shown.length + (active === -1 && step === -1 ? 1 : 0)) % shown.length)
    } else if (event.key === 'Enter' || (event.key === 'Tab' && !event.shiftKey && active !== -1)) {
      event.preventDefault()
      event.stopPropagation()
      const option = shown[chosen]
      if (option === undefined) onEnter()
      else pick(option)
    } else if (event.key === 'Escape') {
      event.preventDefault()
      event.stopPropagation()
      if (shown.length > 0) setClosed(true)
      else onCancel()
    }
  }
  return (
    <Box ref={list} position="relative" display="inline-block" w="100%">
      <chakra.input
        role="combobox"
        aria-label={label}
        aria-expanded={shown.length > 0}
        {...tieToOffers(`${id}-list`, shown.length, chosen)}
        aria-controls={`${id}-list`}
        data-field={props.field}
        autoFocus={props.autoFocus}
        placeholder={props.placeholder}
        value={text}
        onChange={(event) => {
          setActive(-1)
          setClosed(false)
          onText(event.target.value)
        }}
        onKeyDown={press}
        onBlur={onLeave}
        onFocus={props.selectAll ? (event) => event.currentTarget.select() : undefined}
        autoComplete="off"
        spellCheck={false}
        w="100%"
        minH="24px"
        px="1"
        bg="sheet"
        color="ink"
        border="1px solid"
        borderColor="edge"
        borderRadius="sheet"
      />
      <Offers
        id={`${id}-list`}
        label={label}
        offers={shown}
        chosen={chosen}
        keyOf={({ value }) => value}
        onTake={pick}
        hidden={shown.length === 0}
        position="absolute"
        zIndex="dropdown"
        top="100%"
        left="0"
        minW="14rem"
        maxW="22rem"
        bg="sheet"
        border="1px solid"
        borderColor="edge"
        boxShadow="sm"
        maxH="15rem"
        overflowY="auto"
      >
        {(option) => (
          <>
            {option.label}
            {option.hint !== undefined && (
              <chakra.span color="faded" fontSize="sm">
                {option.hint}
              </chakra.span>
            )}
          </>
        )}
      </Offers>
    </Box>
  )
}
