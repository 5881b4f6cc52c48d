'use client'

import { parseAddress } from '../../core/base/address'
import { Box, Flex, Text } from '@chakra-ui/react'
import { sayCondition, sayEffect } from '../../core/expression/words'
import { cachedEffect, cachedExpression } from '../../core/story/link-parts'
import type { Use } from '../../core/story/linked'
import { ownersIn } from '../../core/story/owners-in'
import { beatAt } from '../../core/story/beat-at'
import type { Story } from '../../core/story/types'
import { sayAddress, storyNames } from '../../session/names'
import { Quiet } from '../../ui/buttons'
import { useGoTo } from '../shared/session/use-go-to'
import { useSessionState } from '../shared/session/use-session'

const SHOWN = 60

/** Where an entry is read and changed, with the sentence that does. */
export function Uses({ uses }: { uses: readonly Use[] }) {
  const story = useSessionState((state) => state.story)
  const goTo = useGoTo()
  return (
    <Box pl="4" pb="2" data-uses={uses.length}>
      {uses.slice(0, SHOWN).map((use, at) => (
        <Flex key={at} gap="3" align="baseline" fontSize="sm">
          <Text w="4.5rem" flexShrink={0} color="faded">
            {use.how === 'read' ? 'read' : 'changed'}
          </Text>
          <Text flex="1" minW="0">
            {sentence(story, use)}
          </Text>
          {use.address.includes('.') && (
            <Quiet fontSize="sm" aria-label={`Go to it: ${use.address} ${use.part}`} onClick={() => goTo(use.address)}>
              {sayAddress(use.address, story)}
            </Quiet>
          )}
        </Flex>
      ))}
      {uses.length > SHOWN && <Text color="faded">and {uses.length - SHOWN} more</Text>}
    </Box>
  )
}

function sentence(story: Story, { address, part }: Use): string {
  const names = storyNames(story)
  const place = parseAddress(address)
  if (place === undefined) {
    const promise = story.promises?.find(({ id }) => id === address) as
      Readonly<Record<string, string | undefined>> | undefined
    return promise?.[part] === undefined ? address : `promise: ${said(promise[part], names)}`
  }
  const beat = beatAt(story, address)
  if (beat === undefined) return ''
  if (part === 'into') return `asked for: “${beat.ask?.prompt ?? ''}”`
  if (part === 'prompt') return `“${beat.ask?.prompt ?? ''}”`
  const owner = ownersIn(place.scene, beat).find((one) => one.address === address)?.part
  if (part === 'when') return `opens when ${said(owner?.when ?? '', names)}`
  const effect = /^do(\d+)$/.exec(part)
  if (effect !== null) {
    const source = owner?.do?.[Number(effect[1]) - 1] ?? ''
    const parsed = cachedEffect(source)
    return parsed.ok ? sayEffect(parsed.value, names) : source
  }
  return `“${(owner as { text?: string } | undefined)?.text ?? ''}”`
}

function said(source: string, names: ReturnType<typeof storyNames>): string {
  const parsed = cachedExpression(source)
  return parsed.ok ? sayCondition(parsed.value, names) : source
}
