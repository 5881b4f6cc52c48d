'use client'

import { useState } from 'react'
import { formCalled, formsFor } from '../../../core/formats/forms'
import type { ReadManuscript } from '../../../core/formats/manuscript'
import { INCOMING_BYTES } from '../../../core/formats/payload'
import { api } from '../../../session/api'

const ENDINGS = formsFor('manuscript').flatMap(({ endings }) => endings)
/** Endings of files that can be taken into a manuscript, for a field that asks for one. */
export const MANUSCRIPT_FILES = ENDINGS.join(',')

/** A file on its way into a manuscript. */
export type Incoming =
  | { readonly kind: 'reading'; readonly name: string }
  | { readonly kind: 'trouble'; readonly name: string; readonly why: string }
  | { readonly kind: 'read'; readonly name: string; readonly read: ReadManuscript }

/** Reads a file as a manuscript on the server; of two that are read at once the later counts. */
export function useManuscript(): {
  readonly incoming: Incoming | undefined
  readonly read: (file: File, format?: string) => void
  readonly drop: () => void
} {
  const [incoming, setIncoming] = useState<Incoming & { readonly file: File }>()
  const settle = (file: File, next: Incoming) => setIncoming((now) => (now?.file === file ? { ...next, file } : now))
  const read = async (file: File, format: string) => {
    const answer = await api.readManuscript(format, file)
    settle(
      file,
      answer.ok
        ? { kind: 'read', name: file.name, read: answer.value }
        : { kind: 'trouble', name: file.name, why: answer.error.message },
    )
  }
  return {
    incoming,
    drop: () => setIncoming(undefined),
    read: (file, format) => {
      const form = formCalled('manuscript', format ?? file.name)
      const { name } = file
      if (form === undefined)
        return setIncoming({ kind: 'trouble', name, why: `a manuscript comes as ${ENDINGS.join(', ')}`, file })
      if (file.size > INCOMING_BYTES)
        return setIncoming({ kind: 'trouble', name, why: `${INCOMING_BYTES / 1024 / 1024} MB is the most`, file })
      setIncoming({ kind: 'reading', name, file })
      void read(file, form.id)
    },
  }
}
