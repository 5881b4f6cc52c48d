'use client'

import { Box, Flex, Heading, Text } from '@chakra-ui/react'
import { useMemo, useState } from 'react'
import { makeRivals, type RivalKind } from '../../core/story/quests/make-rivals'
import type { Quest } from '../../core/story/types'
import { questLinks, rivalsOf } from '../../core/survey/questions/quests/quest-sites'
import { storyNames } from '../../session/names'
import { rowName } from '../../session/say-finding'
import { Quiet } from '../../ui/buttons'
import { ConnectionMap } from './connection-map'
import { useGoTo } from '../shared/session/use-go-to'
import { useLinked, useSession, useSessionState } from '../shared/session/use-session'
import { EditPlain, EditSelect } from '../shared/fields/edits'

/** What other quests open here, what this one opens in others, and with whom it can't be had together. */
export function Connections({ quest }: { quest: Quest }) {
  const linked = useLinked()
  const story = useSessionState((state) => state.story)
  const names = storyNames(story)
  const goTo = useGoTo()
  const links = useMemo(
    () => questLinks(linked).filter(({ from, to }) => from === quest.id || to === quest.id),
    [linked, quest.id],
  )
  const rivals = useMemo(() => rivalsOf(linked).filter(({ quests }) => quests.includes(quest.id)), [linked, quest.id])
  const fails = ({ to, sets }: { readonly to: string; readonly sets: string }) =>
    linked.doc.quests?.find(({ id }) => id === to)?.stages.find(({ id }) => id === sets)?.outcome === 'failure'
  return (
    <Box as="section" aria-label="Connected quests" mb="6">
      <Heading as="h2" fontSize="sm" fontWeight={600} color="faded">
        Connected quests
      </Heading>
      <ConnectionMap quest={quest} links={links.filter((link) => !fails(link))} rivals={rivals} />
      {links.length === 0 && rivals.length === 0 && (
        <Text color="faded">No gate of this quest asks for another, and no other asks for this one.</Text>
      )}
      {links.map(({ from, stages, to, sets, owner }) => (
        <Flex key={`${owner} ${from} ${to} ${sets}`} gap="2" py="0.5" align="baseline" data-link={`${from} ${to}`}>
          <Text>
            <Text as="span" fontFamily="story">
              {names.quest(from)}
            </Text>{' '}
            {stages.length === 0
              ? 'is asked for'
              : `at ${stages.map((stage) => `“${names.stage(from, stage)}”`).join(' or ')}`}{' '}
            → {fails({ to, sets }) ? 'fails' : 'opens'}{' '}
            <Text as="span" fontFamily="story">
              {names.quest(to)}
            </Text>{' '}
            at “{names.stage(to, sets)}”
          </Text>
          <Quiet fontSize="sm" aria-label={`Go to it: ${owner}`} onClick={() => goTo(owner)}>
            {rowName(story, owner)}
          </Quiet>
        </Flex>
      ))}
      {rivals.map(({ quests, owners }) => (
        <Flex key={quests.join(' ')} gap="2" py="0.5" align="baseline" wrap="wrap" data-rivals={quests.join(' ')}>
          <Text color="ochre">
            Rival of{' '}
            <Text as="span" fontFamily="story">
              {names.quest(quests.find((id) => id !== quest.id)!)}
            </Text>
            : helping one fails the other
          </Text>
          {owners.map((owner) => (
            <Quiet key={owner} fontSize="sm" aria-label={`Go to it: ${owner}`} onClick={() => goTo(owner)}>
              {rowName(story, owner)}
            </Quiet>
          ))}
        </Flex>
      ))}
      <SetUpRivals quest={quest} known={rivals.flatMap(({ quests }) => quests)} />
    </Box>
  )
}

function SetUpRivals({ quest, known }: { quest: Quest; known: readonly string[] }) {
  const session = useSession()
  const story = useSessionState((state) => state.story)
  const others = (story.quests ?? []).filter(({ id }) => id !== quest.id && !known.includes(id))
  const [other, setOther] = useState('')
  const [kind, setKind] = useState<RivalKind>('fails')
  const [trouble, setTrouble] = useState<string>()
  if (others.length === 0) return null
  const make = () => {
    const made = makeRivals(story, [quest.id, other], kind)
    setTrouble(made.ok ? undefined : made.error)
    if (made.ok) session.edit(made.value)
    setOther('')
  }
  return (
    <>
      <Flex gap="2" align="center" pt="1" wrap="wrap">
        <Text color="faded">Make it a rival of</Text>
        <EditSelect
          aria-label={`Rival of ${quest.name}`}
          value={other}
          onChange={(event) => setOther(event.target.value)}
        >
          <option value="">…</option>
          {others.map(({ id, name }) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
        </EditSelect>
        <EditSelect
          aria-label="What accepting one does to the other"
          value={kind}
          onChange={(event) => setKind(event.target.value as RivalKind)}
        >
          <option value="fails">accepting one fails the other, from any stage</option>
          <option value="closes">accepting one closes the other</option>
        </EditSelect>
        <EditPlain disabled={other === ''} title="Either way a promise says that not both can succeed" onClick={make}>
          Make rivals
        </EditPlain>
      </Flex>
      {trouble !== undefined && (
        <Text role="alert" color="needle">
          {trouble}
        </Text>
      )}
    </>
  )
}
