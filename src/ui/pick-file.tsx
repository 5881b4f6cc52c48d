'use client'

import { useRef, type ComponentProps } from 'react'
import { Plain } from './buttons'

interface Props extends Pick<ComponentProps<typeof Plain>, 'children' | 'disabled' | 'title'> {
  /** What the field is called that takes the files. */
  readonly label: string
  readonly accept: string
  readonly multiple?: boolean
  readonly as?: typeof Plain
  readonly onPick: (files: readonly File[]) => void
}

/** A button that asks for files. The same one can be picked twice. */
export function PickFile({ label, accept, multiple = false, as: Button = Plain, onPick, ...button }: Props) {
  const input = useRef<HTMLInputElement>(null)
  return (
    <>
      <Button type="button" {...button} onClick={() => input.current?.click()} />
      <input
        ref={input}
        type="file"
        hidden
        multiple={multiple}
        accept={accept}
        aria-label={label}
        onChange={({ target }) => {
          const files = [...(target.files ?? [])]
          target.value = ''
          if (files.length > 0) onPick(files)
        }}
      />
    </>
  )
}
