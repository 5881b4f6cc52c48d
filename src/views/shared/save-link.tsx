'use client'

import { useState } from 'react'
import { api } from '../../session/api'
import { Plain } from '../../ui/buttons'
import { saveBlob } from '../../ui/save-file'
import { useSession } from './session/use-session'

interface Props {
  readonly href: string
  readonly title?: string
  readonly children: React.ReactNode
}

/** Saves a file that the server makes, which can take a while; where it can't be made or fetched, the story's page says why. */
export function SaveLink({ href, title, children }: Props) {
  const session = useSession()
  const [isMaking, setMaking] = useState(false)
  const save = async () => {
    if (isMaking) return
    setMaking(true)
    const file = await api.file(href)
    setMaking(false)
    if (file.ok) saveBlob(file.value.name, file.value.blob)
    else session.tell(`Nothing was saved: ${file.error.message}`)
  }
  return (
    <Plain asChild>
      <a
        href={href}
        download
        title={title}
        aria-busy={isMaking}
        onClick={(event) => {
          event.preventDefault()
          void save()
        }}
      >
        {children}
        {isMaking && ' …'}
      </a>
    </Plain>
  )
}
