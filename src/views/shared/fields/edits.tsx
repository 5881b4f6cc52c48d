'use client'

import type { ComponentProps } from 'react'
import { Bare } from '../../../ui/bare'
import { Plain, Quiet } from '../../../ui/buttons'
import { PickFile } from '../../../ui/pick-file'
import { useMayWrite } from '../session/use-session'

/** A choice of what stands in the story; whoever may only read it sees which one it is. */
export function EditSelect(props: ComponentProps<'select'>) {
  const mayWrite = useMayWrite()
  return <select className="field" {...props} disabled={!mayWrite || props.disabled} />
}

/** A button that changes the story: it is not there for whoever may only read it. */
export function EditQuiet(props: ComponentProps<typeof Quiet>) {
  return useMayWrite() ? <Quiet {...props} /> : null
}

export function EditPlain(props: ComponentProps<typeof Plain>) {
  return useMayWrite() ? <Plain {...props} /> : null
}

/** The same, as plain as can be: whoever may only read sees what it says. */
export function EditBare(props: ComponentProps<typeof Bare>) {
  const mayWrite = useMayWrite()
  return <Bare {...props} disabled={!mayWrite || props.disabled} />
}

/** A file that is picked to change the story, or what stands with it. */
export function EditFile(props: ComponentProps<typeof PickFile>) {
  return useMayWrite() ? <PickFile {...props} /> : null
}

/** An id that is pressed to be renamed; whoever may only read it reads it. */
export function EditId(props: ComponentProps<typeof Quiet>) {
  const mayWrite = useMayWrite()
  return <Quiet {...props} disabled={!mayWrite || props.disabled} _disabled={{ opacity: 1, cursor: 'default' }} />
}
