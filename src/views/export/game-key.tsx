'use client'

import { Box, Text } from '@chakra-ui/react'
import { useState } from 'react'
import { Plain } from '../../ui/buttons'
import { useLiveState } from '../live/live-context'

/** What a programmer needs to put a running game on the line to the Desk. */
export function GameKey() {
  const { key, games } = useLiveState()
  const [copied, setCopied] = useState(false)
  if (key === undefined) return <Text color="faded">The line is being opened.</Text>
  const address = `${window.location.protocol === 'https:' ? 'wss' : 'ws'}://${window.location.host}/live`
  return (
    <Box>
      <Box as="pre" className="field" fontSize="sm" whiteSpace="pre-wrap" overflowWrap="anywhere" mb="2">
        {`import { joinDesk } from 'paper-compass-runtime/live'\n\njoinDesk(game, {\n  name: 'My game',\n  url: '${address}',\n  key: '${key}',\n})`}
      </Box>
      <Plain
        onClick={() => {
          void navigator.clipboard.writeText(key).then(() => setCopied(true))
        }}
      >
        Copy the key
      </Plain>
      <Text as="span" role="status" color="faded" ml="3">
        {copied ? 'Copied. ' : ''}
        {games.length === 0 ? 'No game is on the line.' : `On the line: ${games.map(({ name }) => name).join(', ')}.`}
      </Text>
    </Box>
  )
}
