'use client'

import { chakra, Combobox, createListCollection, Portal } from '@chakra-ui/react'
import { useMemo, useState, type KeyboardEvent } from 'react'

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
  /** Enter takes the first option when none was chosen. */
  readonly eager?: boolean
}

const SHOWN_MAX = 8

/** A text field with what it could become below it. */
export function Combo(props: Props) {
  const { label, text, onText, options, onPick, onEnter, onLeave, onCancel, eager } = props
  const [lit, setLit] = useState<string | null>(null)
  const [closed, setClosed] = useState(false)
  const collection = useMemo(
    () =>
      createListCollection({
        items: options.slice(0, SHOWN_MAX),
        itemToValue: ({ value }) => value,
        itemToString: ({ label: name }) => name,
      }),
    [options],
  )
  const shown = closed ? [] : collection.items
  const chosen = shown.find(({ value }) => value === lit) ?? (eager && lit === null ? shown[0] : undefined)
  const pick = (value: string) => {
    setLit(null)
    onPick(value)
  }

  // before the field's own keys: Enter means more here than taking what is lit
  const press = (event: KeyboardEvent) => {
    if (event.nativeEvent.isComposing) return
    const takes = event.key === 'Enter' || (event.key === 'Tab' && !event.shiftKey && lit !== null)
    if (takes) {
      event.preventDefault()
      event.stopPropagation()
      if (chosen === undefined) onEnter()
      else pick(chosen.value)
    } else if (event.key === 'Escape') {
      event.preventDefault()
      event.stopPropagation()
      if (shown.length > 0 && lit !== null) setClosed(true)
      else onCancel()
    }
  }
  return (
    <Combobox.Root
      collection={collection}
      open={shown.length > 0}
      value={[]}
      inputValue={text}
      onInputValueChange={({ inputValue, reason }) => {
        if (reason !== 'input-change') return
        setLit(null)
        setClosed(false)
        onText(inputValue)
      }}
      highlightedValue={lit}
      onHighlightChange={({ highlightedValue }) => setLit(highlightedValue)}
      onValueChange={({ value }) => value[0] !== undefined && pick(value[0])}
      allowCustomValue
      selectionBehavior="preserve"
      disableLayer
      w="100%"
    >
      <Combobox.Control onKeyDownCapture={press}>
        <Combobox.Input asChild>
          <chakra.input
            aria-label={label}
            data-field={props.field}
            autoFocus={props.autoFocus}
            placeholder={props.placeholder}
            onBlur={onLeave}
            autoComplete="off"
            spellCheck={false}
            w="100%"
            minH="24px"
            h="auto"
            px="1"
            py="0"
            bg="sheet"
            color="ink"
            border="1px solid"
            borderColor="edge"
            borderRadius="sheet"
            fontSize="inherit"
          />
        </Combobox.Input>
      </Combobox.Control>
      <Portal>
        <Combobox.Positioner>
          <Combobox.Content
            minW="14rem"
            maxW="22rem"
            p="0"
            bg="sheet"
            color="ink"
            border="1px solid"
            borderColor="edge"
            borderRadius="sheet"
            boxShadow="sm"
            // the field is not left for the list
            onMouseDown={(event) => event.preventDefault()}
          >
            {collection.items.map((option) => (
              <Combobox.Item
                key={option.value}
                item={option}
                px="2"
                py="0.5"
                borderRadius="0"
                bg={option === chosen ? 'wash' : undefined}
                cursor="pointer"
              >
                <Combobox.ItemText>{option.label}</Combobox.ItemText>
                {option.hint !== undefined && (
                  <chakra.span color="faded" ml="2" fontSize="sm">
                    {option.hint}
                  </chakra.span>
                )}
              </Combobox.Item>
            ))}
          </Combobox.Content>
        </Combobox.Positioner>
      </Portal>
    </Combobox.Root>
  )
}
