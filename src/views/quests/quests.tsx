'use client'

import { Box, Flex, Text } from '@chakra-ui/react'
import { useState } from 'react'
import { freshId } from '../../core/base/ids'
import { idFrom } from '../../core/base/id-from'
import { nameItem } from '../../core/story/reshape/naming'
import type { Quest } from '../../core/story/types'
import { Quiet } from '../../ui/buttons'
import { Columns } from '../../ui/columns'
import { VerdictMark } from '../../ui/marks'
import { SearchField } from '../../ui/search-field'
import { useSteadyKeys } from '../../ui/use-steady-keys'
import { AddForm } from '../shared/fields/add-form'
import { CommentMark } from '../shared/comments/comment-mark'
import { FailureBoundary } from '../shared/failure-boundary'
import { newQuest } from '../shared/new/new-quest'
import { useSession, useSessionState } from '../shared/session/use-session'
import { verdictOf } from '../shared/session/verdicts'
import { CallSheetView } from './call-sheet-view'
import { Connections } from './connections'
import { MoveRows } from './move-rows'
import { QuestHead } from './quest-head'
import { StageRows } from './stage-rows'
import { Track } from './track'
import { useAddressed } from '../shared/session/use-addressed'
import { NoAnswer } from '../shared/session/no-answer'
import { answerOf, useAnswer } from '../shared/session/use-answer'

/** Every quest as a track of stages, and who says what at which of them. */
export function Quests() {
  const session = useSession()
  const quests = useSessionState((state) => state.story.quests) ?? []
  const [chosen, setChosen] = useAddressed('quest')
  const keys = useSteadyKeys()
  const at = Math.max(
    0,
    quests.findIndex(({ id }) => id === chosen),
  )
  const quest = quests[at]
  const add = (name: string) => {
    const id = freshId(idFrom(name, 'errand'), (taken) => quests.some((one) => one.id === taken))
    session.edit({ op: 'insert', in: { list: 'quests' }, at: quests.length, item: newQuest(id, name) })
    setChosen(id)
  }
  return (
    <Columns
      name="quests"
      start={{
        name: 'the list of quests',
        width: 14,
        openFrom: 50,
        content: <QuestList quests={quests} chosen={quest?.id} onChoose={setChosen} />,
      }}
    >
      <Box overflowY="auto" px="6" py="4" minW="0" tabIndex={-1}>
        {quest === undefined ? (
          <Text color="faded" mb="4">
            A quest runs through stages, from not started to an outcome. Effects of choices set the stage; here you see
            which choices make which move, and who says what at each stage.
          </Text>
        ) : (
          <QuestPage
            key={keys.of(quest.id)}
            quest={quest}
            at={at}
            onId={(id) => {
              keys.renamed(quest.id, id)
              setChosen(id)
            }}
          />
        )}
        <Box maxW="40rem" mt="6">
          <AddForm label="Name of a new quest" placeholder="Mend the sluice" action="Add a quest" onAdd={add} />
        </Box>
      </Box>
    </Columns>
  )
}

function QuestList({
  quests,
  chosen,
  onChoose,
}: {
  quests: readonly Quest[]
  chosen: string | undefined
  onChoose: (id: string) => void
}) {
  const result = useSessionState((state) => state.survey.report)
  const [search, setSearch] = useState('')
  const wanted = search.toLowerCase()
  return (
    <Flex as="nav" aria-label="Quests" direction="column" minH="0">
      <Box p="2">
        <SearchField label="Search the quests" text={search} onText={setSearch} />
      </Box>
      <Box overflowY="auto" flex="1" px="1" tabIndex={-1}>
        {quests
          .filter(
            ({ name, stages }) =>
              wanted === '' ||
              [name, ...stages.map((stage) => stage.name)].some((text) => text.toLowerCase().includes(wanted)),
          )
          .map((quest) => (
            <Quiet
              key={quest.id}
              w="100%"
              display="flex"
              gap="2"
              color="ink"
              bg={quest.id === chosen ? 'wash' : undefined}
              aria-current={quest.id === chosen ? 'true' : undefined}
              onClick={() => onChoose(quest.id)}
              data-quest-row={quest.id}
            >
              <Text as="span" flex="1" minW="0" truncate fontFamily="story">
                {quest.name}
              </Text>
              <Flex as="span" gap="0.5">
                {quest.stages.map((stage) => (
                  <VerdictMark
                    key={stage.id}
                    verdict={verdictOf(result, 'stages', `${quest.id}.${stage.id}`)}
                    size={8}
                  />
                ))}
              </Flex>
            </Quiet>
          ))}
      </Box>
    </Flex>
  )
}

function QuestPage({ quest, at, onId }: { quest: Quest; at: number; onId: (id: string) => void }) {
  const session = useSession()
  const asked = useAnswer('quest-facts', 'all', () => ({}))
  const facts = answerOf(asked)
  const own = facts === 'too many' ? undefined : facts?.[quest.id]
  const replace = (item: Quest) => session.edit({ op: 'replace', in: { list: 'quests' }, id: quest.id, at, item })
  const name = (text: string) => {
    const { story } = session.getState()
    const isTaken = (id: string) => story.quests?.some((one) => one.id === id) ?? false
    const change = nameItem(story, { list: 'quests' }, 'quest', quest, at, text, isTaken)
    session.edit(change)
    if (change.op === 'replace') onId(change.item.id)
  }
  return (
    <Box data-quest={quest.id}>
      <QuestHead quest={quest} onChange={replace} onName={name} />
      <CommentMark topic={`quest ${quest.id}`} offer={quest.name} />
      <Track quest={quest} facts={own} />
      {facts === 'too many' && (
        <Text color="faded">The story has too many states to tell which choices make which move.</Text>
      )}
      {asked.status === 'failed' && <NoAnswer {...asked} />}
      <StageRows quest={quest} facts={own} onChange={replace} />
      <MoveRows quest={quest} facts={own} onChange={replace} />
      <Connections quest={quest} />
      <FailureBoundary what="The call sheet">
        <CallSheetView quest={quest} />
      </FailureBoundary>
    </Box>
  )
}
