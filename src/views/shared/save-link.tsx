'use client'

import { api } from '../../session/api'
import { Plain } from '../../ui/buttons'
import { saveBlob } from '../../ui/save-file'
import { useSession } from './session/use-session'

interface Props {
  readonly href: string
  readonly title?: string
  readonly children: React.ReactNode
}

/** Saves a file that the server makes; where it can't be made or fetched, the story's page says why. */
export function SaveLink({ href, title, children }: Props) {
  const session = useSession()
  const save = async () => {
    const file = await api.file(href)
    if (file.ok) saveBlob(file.value.name, file.value.blob)
    else session.tell(`Nothing was saved: ${file.error.message}`)
  }
  return (
    <Plain asChild>
      <a
        href={href}
        download
        title={title}
        onClick={(event) => {
          event.preventDefault()
          void save()
        }}
      >
        {children}
      </a>
    </Plain>
  )
}
