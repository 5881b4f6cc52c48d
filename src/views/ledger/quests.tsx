'use client'

import { Box, Flex } from '@chakra-ui/react'
import { freshId, idFrom } from '../../core/base/ids'
import type { Outcome, Quest, Stage } from '../../core/story/types'
import { Quiet } from '../../ui/buttons'
import { VerdictMark } from '../../ui/marks'
import { DraftText } from '../shared/draft-text'
import { newQuest } from '../shared/new-quest'
import { useThings } from '../shared/things'
import { useSession, useSessionState } from '../shared/use-session'
import { verdictOf } from '../shared/verdicts'
import { AddForm } from './add-form'
import { Moves } from './moves'
import { Section } from './section'

/** Quests with their stages; what each stage is told as, and whether it is an outcome. */
export function Quests() {
  const session = useSession()
  const quests = useSessionState((state) => state.story.quests) ?? []
  const add = (name: string) => {
    const id = freshId(idFrom(name, 'errand'), (taken) => quests.some((quest) => quest.id === taken))
    session.edit({ op: 'insert', in: { list: 'quests' }, at: quests.length, item: newQuest(id, name) })
  }
  return (
    <Section title="Quests" hint="Each quest runs through stages, from unstarted on. An effect sets the stage; an outcome ends the quest.">
      {quests.map((quest, at) => (
        <QuestRow key={quest.id} quest={quest} at={at} />
      ))}
      <AddForm label="Name of a new quest" placeholder="Mend the sluice" action="Add a quest" onAdd={add} />
    </Section>
  )
}

function QuestRow({ quest, at }: { quest: Quest; at: number }) {
  const session = useSession()
  const things = useThings()
  const result = useSessionState((state) => state.survey.report?.result)
  const replace = (item: Quest) => session.edit({ op: 'replace', in: { list: 'quests' }, id: quest.id, at, item })
  const setStage = (index: number, keys: Partial<Stage>) => replace({ ...quest, stages: quest.stages.map((stage, other) => (other === index ? { ...stage, ...keys } : stage)) })
  const addStage = () => {
    const id = freshId('stage', (taken) => quest.stages.some((stage) => stage.id === taken))
    replace({ ...quest, stages: [...quest.stages, { id, name: 'New stage' }] })
  }
  return (
    <Box py="2" borderBottom="1px solid" borderColor="hairline" data-quest={quest.id}>
      <Flex gap="3" align="baseline">
        <Box flex="1" fontWeight={600}>
          <DraftText label={`Name of the quest ${quest.id}`} value={quest.name} single onCommit={(text) => text.trim() !== '' && replace({ ...quest, name: text.trim() })} />
        </Box>
        <Quiet title="Rename it everywhere" aria-label={`Rename ${quest.id}`} onClick={() => things.rename({ of: 'quest', id: quest.id })}>
          quest.{quest.id}
        </Quiet>
        <Quiet onClick={addStage}>+ stage</Quiet>
        <Quiet aria-label={`Delete ${quest.name}`} onClick={() => things.remove({ of: 'quest', id: quest.id })}>
          Delete
        </Quiet>
      </Flex>
      {quest.stages.map((stage, index) => (
        <Flex key={stage.id} gap="3" pl="4" align="center">
          <VerdictMark verdict={verdictOf(result, 'stages', `${quest.id}.${stage.id}`)} size={9} />
          <Quiet px="0" fontSize="sm" w="9rem" flexShrink={0} overflow="hidden" textOverflow="ellipsis" title="Rename it everywhere" aria-label={`Rename ${quest.id}.${stage.id}`} onClick={() => things.rename({ of: 'stage', quest: quest.id, id: stage.id })}>
            {quest.id}.{stage.id}
          </Quiet>
          <Box flex="1" fontFamily="story">
            <DraftText label={`Name of the stage ${stage.id}`} value={stage.name} single onCommit={(text) => text.trim() !== '' && setStage(index, { name: text.trim() })} />
          </Box>
          <Box flex="1" color="faded" fontSize="sm">
            <DraftText label={`Note on the stage ${stage.id}`} placeholder="note" value={stage.notes ?? ''} onCommit={(notes) => setStage(index, { notes: notes === '' ? undefined : notes })} />
          </Box>
          <select
            className="field"
            aria-label={`Outcome of ${stage.name}`}
            value={stage.outcome ?? ''}
            onChange={(event) => setStage(index, { outcome: event.target.value === '' ? undefined : (event.target.value as Outcome) })}
          >
            <option value="">under way</option>
            <option value="success">success</option>
            <option value="failure">failure</option>
          </select>
          <Quiet aria-label={`Delete the stage ${stage.name}`} onClick={() => things.remove({ of: 'stage', quest: quest.id, id: stage.id })}>
            Delete
          </Quiet>
        </Flex>
      ))}
      <Moves quest={quest} onChange={(moves) => replace(withMoves(quest, moves))} />
      <Box pl="4" color="faded">
        <DraftText label={`Note on the quest ${quest.id}`} placeholder="note" value={quest.notes ?? ''} onCommit={(notes) => replace({ ...quest, notes: notes === '' ? undefined : notes })} />
      </Box>
    </Box>
  )
}

function withMoves(quest: Quest, moves: [string, string][] | undefined): Quest {
  const next = { ...quest, moves }
  if (moves === undefined) delete next.moves
  return next
}
