'use client'

import { useEffect, useLayoutEffect, useRef, useState, type AriaAttributes, type KeyboardEvent } from 'react'
import { flushSync } from 'react-dom'
import { keepClick } from '../../../ui/steady-click'
import { useMayWrite, useSession } from '../session/use-session'

interface Props {
  readonly label: string
  readonly value: string
  readonly onCommit: (text: string) => unknown
  readonly placeholder?: string
  /** One line only. */
  readonly single?: boolean
  /** Found by this name when it is to be focused. */
  readonly field?: string
  readonly className?: string
  /** Runs after what was typed has become an edit. */
  readonly onKeyDown?: (event: KeyboardEvent<HTMLTextAreaElement>, text: string) => void
  /** Hears what is pasted before it goes in; true when it is dealt with. */
  readonly onPaste?: (clipboard: DataTransfer) => boolean
  /** Looks at every keystroke; true when it dealt with the text itself. */
  readonly onType?: (text: string) => boolean
  /** Hears where the cursor is while the text is written; undefined when it is left. */
  readonly onCaret?: (caret: Caret | undefined) => void
  /** Ties it to what is offered below it. */
  readonly tie?: AriaAttributes | undefined
  /** Takes a key before anything else does; true when it did. */
  readonly takeKey?: (event: KeyboardEvent<HTMLTextAreaElement>) => boolean
}

/** The text as it is being written. */
export interface Caret {
  readonly text: string
  readonly at: number
  /** Puts another text in its place; `undefined` leaves the cursor and the focus where they are. */
  readonly replace: (text: string, start: number | undefined, end: number | undefined) => void
}

/** After so long without a keystroke what was typed becomes an edit, in milliseconds. */
const PAUSE_MS = 400

/** A text edited in place: grows with what is typed, and becomes an edit at a pause, on leaving, or before a key that acts. */
export function DraftText({
  label,
  value,
  onCommit,
  placeholder,
  single,
  field,
  className,
  onKeyDown,
  onType,
  onCaret,
  onPaste,
  takeKey,
  tie,
}: Props) {
  const session = useSession()
  const mayWrite = useMayWrite()
  const [draft, setDraft] = useState<string>()
  const box = useRef<HTMLTextAreaElement>(null)
  const held = useRef<{ text: string | undefined; commit: (text: string) => unknown; value: string }>({
    text: undefined,
    commit: onCommit,
    value,
  })
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined)

  useLayoutEffect(() => {
    held.current.commit = onCommit
    held.current.value = value
  })

  const settle = useRef(() => {
    clearTimeout(timer.current)
    const { text, commit, value: known } = held.current
    if (text === undefined) return
    held.current.text = undefined
    session.countDraft(-1)
    if (text !== known) commit(text)
  })

  const flush = () => {
    settle.current()
    setDraft(undefined)
  }

  useEffect(() => {
    const settleNow = settle.current
    window.addEventListener('pagehide', settleNow)
    return () => {
      window.removeEventListener('pagehide', settleNow)
      settleNow()
    }
  }, [])

  const type = (typed: string) => {
    const text = single ? typed.replace(/[\r\n]+/g, ' ') : typed
    if (onType?.(text)) {
      if (held.current.text !== undefined) {
        held.current.text = undefined
        session.countDraft(-1)
      }
      clearTimeout(timer.current)
      setDraft(undefined)
      return
    }
    if (held.current.text === undefined) session.countDraft(1)
    held.current.text = text
    setDraft(text)
    clearTimeout(timer.current)
    timer.current = setTimeout(flush, PAUSE_MS)
  }

  const shown = draft ?? value
  const tellCaret = (text: string, at: number) =>
    onCaret?.({
      text,
      at,
      replace: (next, start, end) => {
        const put = () => {
          type(next)
          tellCaret(next, start ?? at)
        }
        if (start === undefined) return put()
        // drawn at once: the next key may be pressed before the next frame, and belongs where the cursor will be
        flushSync(put)
        box.current?.focus()
        box.current?.setSelectionRange(start, end ?? start)
      },
    })
  return (
    <textarea
      {...tie}
      ref={box}
      className={`draft ${className ?? ''}`}
      aria-label={label}
      data-field={field}
      rows={1}
      readOnly={!mayWrite}
      value={shown}
      placeholder={placeholder}
      spellCheck
      onPaste={(event) => {
        if (onPaste?.(event.clipboardData) === true) event.preventDefault()
      }}
      onChange={(event) => {
        type(event.target.value)
        tellCaret(event.target.value, event.target.selectionStart)
      }}
      onSelect={(event) =>
        document.activeElement === event.currentTarget && tellCaret(shown, event.currentTarget.selectionStart)
      }
      onFocus={(event) => tellCaret(shown, event.currentTarget.selectionStart)}
      onBlur={(event) => {
        // in the fields of its forms one is still at the text
        if (
          event.relatedTarget instanceof HTMLElement &&
          event.relatedTarget.dataset.keepDraft !== undefined &&
          event.currentTarget.parentElement?.contains(event.relatedTarget)
        )
          return
        // what it becomes may move the page under the pointer
        if (held.current.text !== undefined) keepClick()
        flush()
        onCaret?.(undefined)
      }}
      onKeyDown={(event) => {
        if (event.nativeEvent.isComposing) return
        if (takeKey?.(event)) {
          event.preventDefault()
          event.stopPropagation()
          return
        }
        if (event.key === 'Escape') event.currentTarget.blur()
        const acts =
          event.key === 'Enter' || event.key === 'Backspace' || event.altKey || event.ctrlKey || event.metaKey
        if (!acts) return
        if (event.key === 'Enter' && single && onKeyDown === undefined) {
          event.preventDefault()
          event.currentTarget.blur()
          return
        }
        onKeyDown?.(event, shown)
        // only once the key has acted on it does the draft have to be an edit
        if (event.defaultPrevented) flush()
      }}
    />
  )
}
