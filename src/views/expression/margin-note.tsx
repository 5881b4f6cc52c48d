'use client'

import { useState } from 'react'
import { Bare } from '../../ui/bare'
import { ExpressionField } from './expression-field'
import { useReader, type Form } from './reader'

interface NoteProps {
  /** The part of a promise: it may ask where the story rests. */
  readonly promise?: boolean
  readonly form: Form
  readonly scene: string
  readonly source: string
  /** undefined: it is taken away. */
  readonly onChange: (source: string | undefined) => void
  /** What the words begin with: "opens when", "if". */
  readonly lead?: string
  readonly field: string
}

/** A gate or an effect in plain words; the expression while it is edited. */
export function MarginNote({ form, scene, source, onChange, lead, field, promise }: NoteProps) {
  const { read: reader } = useReader(scene, promise)
  const [editing, setEditing] = useState(source === '' && promise !== true)
  const editor = editing && (
    <ExpressionField
      form={form}
      scene={scene}
      source={source}
      field={field}
      promise={promise}
      onDone={(text) => {
        setEditing(false)
        if (text !== source) onChange(text === '' ? undefined : text)
      }}
      onGiveUp={(text) => {
        setEditing(false)
        if (text === source) return
        if (text !== '') onChange(text)
        onChange(source === '' ? undefined : source)
      }}
    />
  )
  if (editing && promise) return editor
  const { words, error } = reader(form, source)
  return (
    <>
      {editor}
      <Bare
        tabIndex={promise ? undefined : -1}
        data-field={field}
        data-unwritten={source === '' ? '' : undefined}
        className={`flush wrapped ${error === undefined ? form : 'broken'}`}
        onClick={() => setEditing(true)}
        title={error === undefined ? source : `${error.message} — ${source}`}
      >
        {words === undefined
          ? source === ''
            ? 'write it …'
            : source
          : lead === undefined
            ? words
            : `${lead} ${words}`}
      </Bare>
    </>
  )
}
