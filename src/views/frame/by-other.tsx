'use client'

import { Text } from '@chakra-ui/react'
import { useEffect, useState } from 'react'
import { useSessionState } from '../shared/session/use-session'

/** For so long a change of somebody else is told of, in milliseconds. */
const SAID_MS = 8_000

/** Who else has just changed something, and what; quietly, only for a moment, and where nothing gives way to it. */
export function ByOther() {
  const last = useSessionState((state) => state.byOther)
  const [over, setOver] = useState<number>()
  useEffect(() => {
    if (last === undefined) return
    const timer = setTimeout(() => setOver(last.revision), SAID_MS)
    return () => clearTimeout(timer)
  }, [last])
  if (last === undefined || over === last.revision) return null
  return (
    <Text color="faded" minW="0" truncate title={`${last.name}: ${last.summary}`} data-by-other="">
      <b>{last.name}</b> {last.summary}
    </Text>
  )
}
