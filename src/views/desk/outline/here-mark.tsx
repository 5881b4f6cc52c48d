'use client'

import { Text } from '@chakra-ui/react'
import { useSessionState } from '../../shared/session/use-session'

/** Others who are in a beat, by their first names. */
export function HereMark({ address }: { address: string }) {
  const names = useSessionState(({ here }) =>
    [...new Set(here.filter(({ beat }) => beat === address).map(({ name }) => name.split(' ')[0]!))].join(', '),
  )
  if (names === '') return null
  return (
    <Text as="span" fontFamily="body" fontSize="xs" color="kept" data-here={address} title={`${names}: here now`}>
      {names}
    </Text>
  )
}
