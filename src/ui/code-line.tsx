'use client'

import {
  acceptCompletion,
  autocompletion,
  closeCompletion,
  completionStatus,
  moveCompletionSelection,
  startCompletion,
} from '@codemirror/autocomplete'
import { defaultKeymap, history, historyKeymap } from '@codemirror/commands'
import { EditorState, StateEffect, StateField, Transaction } from '@codemirror/state'
import { Decoration, EditorView, keymap, placeholder as placeholderOf, type DecorationSet } from '@codemirror/view'
import { useEffect, useLayoutEffect, useRef, useState } from 'react'
import { useNonce } from './nonce'

/** A stretch of the text that is told apart by a class of the page's style. */
export interface CodePart {
  readonly start: number
  readonly end: number
  readonly className: string
}

export interface CodeOption {
  /** The text before the cursor once it is taken. */
  readonly value: string
  readonly label: string
  readonly hint?: string
}

interface Props {
  readonly label: string
  readonly text: string
  readonly onText: (text: string) => void
  readonly parts: (text: string) => readonly CodePart[]
  /** What the text before the cursor could become. */
  readonly complete: (before: string) => readonly CodeOption[]
  readonly onEnter: () => void
  readonly onCancel: () => void
  /** Where in the text something is wrong; the message stands under it. */
  readonly errorAt?: number | undefined
  readonly message: React.ReactNode
  readonly messageId: string
  readonly invalid: boolean
  readonly placeholder: string
  readonly field: string
}

const setParts = StateEffect.define<readonly CodePart[]>()

const partsField = StateField.define<DecorationSet>({
  create: () => Decoration.none,
  update(decorations, transaction) {
    let next = decorations.map(transaction.changes)
    for (const effect of transaction.effects) {
      if (!effect.is(setParts)) continue
      const { length } = transaction.newDoc
      const marks = effect.value
        .filter(({ start, end }) => start < end && end <= length)
        .map(({ start, end, className }) => Decoration.mark({ class: className }).range(start, end))
      next = Decoration.set(marks, true)
    }
    return next
  },
  provide: (field) => EditorView.decorations.from(field),
})

/** Pasted or dropped lines become one. */
const oneLine = EditorState.transactionFilter.of((transaction) =>
  transaction.newDoc.lines === 1
    ? transaction
    : [
        transaction,
        {
          changes: {
            from: 0,
            to: transaction.newDoc.length,
            insert: transaction.newDoc.toString().replace(/\s*\n\s*/g, ' '),
          },
          sequential: true,
        },
      ],
)

const look = EditorView.theme({
  '&': { border: '1px solid var(--chakra-colors-edge)', borderRadius: '3px', background: 'var(--chakra-colors-sheet)' },
  '&.cm-focused': { outline: '2px solid var(--chakra-colors-needle)', outlineOffset: '1px' },
  '.cm-scroller': { fontFamily: 'var(--chakra-fonts-mono)', fontSize: '12px', lineHeight: '1.5' },
  '.cm-content': { padding: '2px 0', color: 'var(--chakra-colors-ink)', caretColor: 'var(--chakra-colors-ink)' },
  '.cm-placeholder': { color: 'var(--chakra-colors-faded)' },
  '.cm-tooltip': {
    background: 'var(--chakra-colors-sheet)',
    color: 'var(--chakra-colors-ink)',
    border: '1px solid var(--chakra-colors-edge)',
  },
  '.cm-tooltip.cm-tooltip-autocomplete > ul': { fontFamily: 'inherit', maxHeight: '14rem' },
  '.cm-tooltip.cm-tooltip-autocomplete > ul > li': { padding: '2px 8px', display: 'flex', gap: '8px' },
  '.cm-tooltip.cm-tooltip-autocomplete > ul > li[aria-selected]': {
    background: 'var(--chakra-colors-wash)',
    color: 'var(--chakra-colors-ink)',
  },
  '.cm-completionDetail': { color: 'var(--chakra-colors-faded)', fontStyle: 'normal', marginLeft: 'auto' },
})

/** Gives the parts of the text their classes. */
function tellApart(editor: EditorView, { text, parts, invalid }: Pick<Props, 'text' | 'parts' | 'invalid'>): void {
  editor.dispatch({ effects: setParts.of(parts(text)), annotations: Transaction.remote.of(true) })
  editor.contentDOM.setAttribute('aria-invalid', String(invalid))
}

/** A line of code with its parts told apart, what it could become, and what is wrong under its very place. */
export function CodeLine(props: Props) {
  const { text, parts, errorAt, message, messageId, invalid, field } = props
  const box = useRef<HTMLDivElement>(null)
  const view = useRef<EditorView>(undefined)
  const nonce = useNonce()
  // the editor lives as long as the field, and asks for what is so now
  const now = useRef(props)
  const [under, setUnder] = useState(0)
  useLayoutEffect(() => {
    now.current = props
  })
  useEffect(() => {
    const editor = new EditorView({
      parent: box.current!,
      state: EditorState.create({
        doc: now.current.text,
        selection: { anchor: now.current.text.length },
        extensions: [
          ...(nonce === undefined ? [] : [EditorView.cspNonce.of(nonce)]),
          look,
          oneLine,
          history(),
          partsField,
          placeholderOf(now.current.placeholder),
          autocompletion({
            icons: false,
            // its Escape also ends a question that is still under way: the key would do nothing that one sees
            defaultKeymap: false,
            selectOnOpen: false,
            activateOnTypingDelay: 0,
            interactionDelay: 0,
            override: [
              (context) => {
                const before = context.state.sliceDoc(0, context.pos)
                const options = now.current.complete(before)
                if (options.length === 0) return null
                return {
                  from: 0,
                  filter: false,
                  options: options.map(({ value, label, hint }) => ({
                    label: value,
                    displayLabel: label,
                    ...(hint === undefined ? {} : { detail: hint }),
                    apply: value,
                  })),
                }
              },
            ],
          }),
          keymap.of([
            { key: 'Tab', run: acceptCompletion },
            {
              key: 'Enter',
              run: (editor) => {
                if (acceptCompletion(editor)) return true
                now.current.onEnter()
                return true
              },
            },
            { key: 'ArrowDown', run: moveCompletionSelection(true) },
            { key: 'ArrowUp', run: moveCompletionSelection(false) },
            { key: 'PageDown', run: moveCompletionSelection(true, 'page') },
            { key: 'PageUp', run: moveCompletionSelection(false, 'page') },
            { key: 'Ctrl-Space', run: startCompletion },
            {
              key: 'Escape',
              run: (editor) => {
                // while others are looked for, the list of before may still be seen
                const isSeen =
                  completionStatus(editor.state) === 'active' ||
                  document.querySelector('.cm-tooltip-autocomplete') !== null
                if (isSeen && closeCompletion(editor)) return true
                now.current.onCancel()
                return true
              },
              stopPropagation: true,
            },
            ...historyKeymap,
            ...defaultKeymap,
          ]),
          EditorView.contentAttributes.of({
            'aria-label': now.current.label,
            'aria-multiline': 'false',
            'aria-describedby': messageId,
            'data-field': field,
            autocapitalize: 'off',
          }),
          EditorView.updateListener.of((update) => {
            if (update.docChanged && !update.transactions.every((one) => one.annotation(Transaction.remote)))
              now.current.onText(update.state.doc.toString())
          }),
        ],
      }),
    })
    view.current = editor
    tellApart(editor, now.current)
    editor.focus()
    return () => editor.destroy()
    // one editor for one field
  }, [nonce, field, messageId])

  useLayoutEffect(() => {
    const editor = view.current
    if (editor === undefined) return
    const before = editor.state.doc.toString()
    if (before !== text)
      editor.dispatch({
        changes: { from: 0, to: before.length, insert: text },
        annotations: Transaction.remote.of(true),
      })
    tellApart(editor, { text, parts, invalid })
  }, [text, parts, invalid])
  useLayoutEffect(() => {
    const editor = view.current
    const width = box.current?.clientWidth ?? 0
    const place = errorAt === undefined ? null : editor?.coordsAtPos(Math.min(errorAt, editor.state.doc.length))
    const left = place === null || place === undefined ? 0 : place.left - box.current!.getBoundingClientRect().left
    // the message needs room to be read

    setUnder(Math.max(0, Math.min(left, width / 2)))
  }, [errorAt, text])
  return (
    <>
      {/* in a dialog Escape is the field's first */}
      <div ref={box} data-own-escape="" />
      <div
        id={messageId}
        aria-live="polite"
        style={{ minHeight: '1.2em', marginLeft: under }}
        data-under={under > 0 || undefined}
      >
        {message}
      </div>
    </>
  )
}
