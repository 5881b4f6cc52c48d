'use client'

import { Box, chakra } from '@chakra-ui/react'
import { useId, useState, type KeyboardEvent } from 'react'

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
  readonly placeholder?: string
  readonly invalid?: boolean
  readonly mono?: boolean
  readonly describedBy?: string
  /** Enter takes the first option when none was chosen. */
  readonly eager?: boolean
}

const SHOWN_MAX = 8

/** A text field with what it could become below it (WAI-ARIA combobox with a listbox). */
export function Combo(props: Props) {
  const { label, text, onText, options, onPick, onEnter, onLeave, onCancel, eager } = props
  const id = useId()
  const [active, setActive] = useState(-1)
  const [closed, setClosed] = useState(false)
  const shown = closed ? [] : options.slice(0, SHOWN_MAX)
  const chosen = shown[active] ?? (eager && active === -1 ? shown[0] : undefined)

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
      if (chosen !== undefined) {
        setActive(-1)
        onPick(chosen.value)
      } else onEnter()
    } else if (event.key === 'Escape') {
      event.preventDefault()
      event.stopPropagation()
      if (shown.length > 0 && active !== -1) setClosed(true)
      else onCancel()
    }
  }
  return (
    <Box position="relative" display="inline-block" w="100%">
      <chakra.input
        role="combobox"
        aria-label={label}
        aria-expanded={shown.length > 0}
        aria-controls={`${id}-list`}
        aria-autocomplete="list"
        aria-activedescendant={active >= 0 && active < shown.length ? `${id}-${active}` : undefined}
        aria-invalid={props.invalid}
        aria-describedby={props.describedBy}
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
        autoComplete="off"
        spellCheck={false}
        w="100%"
        minH="24px"
        px="1"
        bg="sheet"
        color="ink"
        border="1px solid"
        borderColor={props.invalid ? 'needle' : 'edge'}
        borderRadius="sheet"
        fontFamily={props.mono ? 'mono' : undefined}
        fontSize={props.mono ? '12px' : undefined}
      />
      <Box
        role="listbox"
        id={`${id}-list`}
        aria-label={label}
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
      >
        {shown.map((option, index) => (
          <Box
            key={option.value}
            id={`${id}-${index}`}
            role="option"
            aria-selected={option === chosen}
            px="2"
            py="0.5"
            bg={option === chosen ? 'wash' : undefined}
            cursor="pointer"
            onMouseDown={(event) => {
              // before the field is left
              event.preventDefault()
              setActive(-1)
              onPick(option.value)
            }}
          >
            {option.label}
            {option.hint !== undefined && (
              <chakra.span color="faded" ml="2" fontSize="sm">
                {option.hint}
              </chakra.span>
            )}
          </Box>
        ))}
      </Box>
    </Box>
  )
}
