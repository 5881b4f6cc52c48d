'use client'

import { Box, Flex, Heading, Text } from '@chakra-ui/react'
import { freshId } from '../../core/base/ids'
import { nameStage } from '../../core/story/reshape/naming'
import type { Outcome, Quest, Stage } from '../../core/story/types'
import type { QuestFacts } from '../../core/survey/questions/quests/quest-facts'
import { Quiet } from '../../ui/buttons'
import { VerdictMark } from '../../ui/marks'
import { useSteadyKeys } from '../../ui/use-steady-keys'
import { DraftText } from '../shared/fields/draft-text'
import { useThings } from '../shared/naming/things'
import { useSession, useSessionState } from '../shared/session/use-session'
import { useWalkTo } from '../shared/session/use-walk'
import { verdictOf } from '../shared/session/verdicts'
import { said } from '../shared/said'
import { EditId, EditQuiet, EditSelect } from '../shared/fields/edits'

const FINISH = {
  all: 'can always still be finished',
  some: 'in some cases it can’t be finished any more',
  none: 'can’t be finished from here',
} as const

interface Props {
  readonly quest: Quest
  readonly facts: QuestFacts | undefined
  readonly onChange: (quest: Quest) => void
}

/** The stages one by one: what each is called and read as, how it is come to, whether the quest can be finished from it. */
export function StageRows({ quest, facts, onChange }: Props) {
  const session = useSession()
  const setStage = (index: number, keys: Partial<Stage>) =>
    onChange({
      ...quest,
      stages: quest.stages.map((stage, other) => (other === index ? { ...stage, ...keys } : stage)),
    })
  const move = (index: number, by: 1 | -1) => {
    const stages = [...quest.stages]
    const [stage] = stages.splice(index, 1)
    stages.splice(index + by, 0, stage!)
    onChange({ ...quest, stages })
  }
  const keys = useSteadyKeys()
  const rename = (index: number, text: string) => {
    const stage = quest.stages[index]!
    const { change, id } = nameStage(session.getState().story, quest, stage, text)
    keys.renamed(stage.id, id)
    session.edit(change)
  }
  const addStage = () => {
    const id = freshId('stage', (taken) => quest.stages.some((stage) => stage.id === taken))
    onChange({ ...quest, stages: [...quest.stages, { id, name: 'New stage' }] })
  }
  return (
    <Box as="section" aria-label="Stages" mb="5">
      <Flex align="baseline" gap="3">
        <Heading as="h2" fontSize="sm" fontWeight={600} color="faded">
          Stages, in their order
        </Heading>
        <EditQuiet onClick={addStage}>+ stage</EditQuiet>
      </Flex>
      {quest.stages.map((stage, index) => (
        <StageRow
          key={keys.of(stage.id)}
          quest={quest}
          stage={stage}
          finish={facts?.finish[stage.id]}
          onSet={(keys) => setStage(index, keys)}
          onName={(text) => rename(index, text)}
          onMove={(by) => index + by >= 0 && index + by < quest.stages.length && move(index, by)}
        />
      ))}
    </Box>
  )
}

function StageRow({
  quest,
  stage,
  finish,
  onSet,
  onName,
  onMove,
}: {
  quest: Quest
  stage: Stage
  finish: keyof typeof FINISH | undefined
  onSet: (keys: Partial<Stage>) => void
  onName: (text: string) => void
  onMove: (by: 1 | -1) => void
}) {
  const things = useThings()
  const walkTo = useWalkTo()
  const address = `${quest.id}.${stage.id}`
  const verdict = useSessionState((state) => verdictOf(state.survey.report, 'stages', address))
  const found = useSessionState((state) => state.survey.report?.reached.stages[address])
  return (
    <Box
      borderBottom="1px solid"
      borderColor="hairline"
      py="1"
      data-stage={address}
      onKeyDown={(event) => {
        if (!event.altKey || (event.key !== 'ArrowUp' && event.key !== 'ArrowDown')) return
        event.preventDefault()
        onMove(event.key === 'ArrowUp' ? -1 : 1)
      }}
    >
      <Flex gap="3" align="center">
        <VerdictMark verdict={verdict} size={9} />
        <Box w="13rem" fontFamily="story" flexShrink={0}>
          <DraftText
            label={`Name of the stage ${stage.id}`}
            value={stage.name}
            single
            onCommit={(text) => text.trim() !== '' && onName(text)}
          />
        </Box>
        <EditSelect
          aria-label={`Outcome of ${stage.name}`}
          value={stage.outcome ?? ''}
          onChange={(event) =>
            onSet({ outcome: event.target.value === '' ? undefined : (event.target.value as Outcome) })
          }
        >
          <option value="">under way</option>
          <option value="success">success</option>
          <option value="failure">failure</option>
        </EditSelect>
        <Text flex="1" minW="0" color={verdict === 'unreached' ? 'needle' : 'faded'} fontSize="sm">
          {found === undefined
            ? verdict === 'unreached'
              ? 'on no route'
              : ''
            : `${said(found.decisions, 'decision')}`}
          {finish !== undefined && (
            <Text as="span" color={finish === 'all' ? 'faded' : 'ochre'} data-finish={finish}>
              {' · '}
              {FINISH[finish]}
            </Text>
          )}
        </Text>
        {found !== undefined && (
          <Quiet color="needle" aria-label={`Walk it: ${stage.name}`} onClick={() => walkTo('stages', address)}>
            walk it
          </Quiet>
        )}
        <EditId
          fontSize="sm"
          title="Rename it everywhere"
          aria-label={`Rename ${address}`}
          onClick={() => things.rename({ of: 'stage', quest: quest.id, id: stage.id })}
        >
          {address}
        </EditId>
        <EditQuiet
          aria-label={`Delete the stage ${stage.name}`}
          onClick={() => things.remove({ of: 'stage', quest: quest.id, id: stage.id })}
        >
          Delete
        </EditQuiet>
      </Flex>
      <Flex gap="3" pl="5" fontSize="sm">
        <Box flex="1" fontFamily="story">
          <DraftText
            label={`Journal at ${stage.name}`}
            placeholder="what the player’s journal reads at this stage"
            value={stage.journal ?? ''}
            onCommit={(journal) => onSet({ journal: journal === '' ? undefined : journal })}
          />
        </Box>
        <Box flex="1" color="faded">
          <DraftText
            label={`Note on the stage ${stage.id}`}
            placeholder="note"
            value={stage.notes ?? ''}
            onCommit={(notes) => onSet({ notes: notes === '' ? undefined : notes })}
          />
        </Box>
      </Flex>
    </Box>
  )
}
