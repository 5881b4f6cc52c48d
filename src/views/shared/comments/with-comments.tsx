'use client'

import { chakra } from '@chakra-ui/react'
import { useSessionState } from '../session/use-session'

interface Props {
  readonly isWanted: boolean
  readonly onChange: (isWanted: boolean) => void
}

/** Whether what goes out has what is still talked about; not asked where nothing is. */
export function WithComments({ isWanted, onChange }: Props) {
  const isAny = useSessionState(({ threads }) => (threads ?? []).some(({ done }) => done === null))
  if (!isAny) return null
  return (
    <chakra.label display="flex" gap="2" alignItems="center">
      <input type="checkbox" checked={isWanted} onChange={({ target }) => onChange(target.checked)} />
      with comments
    </chakra.label>
  )
}
