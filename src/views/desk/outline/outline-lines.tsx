'use client'

import { Flex, Text } from '@chakra-ui/react'
import { memo, type DragEvent } from 'react'
import { Quiet } from '../../../ui/buttons'
import { VerdictMark } from '../../../ui/marks'
import { useThings } from '../../shared/naming/things'
import { HereMark } from './here-mark'
import { EditId } from '../../shared/fields/edits'
import { useSession } from '../../shared/session/use-session'
import { useVerdict } from '../../shared/session/verdicts'
import { putBeat } from './beat-selection'
import { type BeatRow, type SceneRow } from './outline-rows'

/** What is dragged is named in a type of its own, so that nothing else is taken for a beat. */
const DRAGGED = 'application/x-paper-compass-beat'

function dropping(drop: (dragged: string) => void) {
  return {
    onDragOver: (event: DragEvent) => {
      if (event.dataTransfer.types.includes(DRAGGED)) event.preventDefault()
    },
    onDrop: (event: DragEvent) => {
      const dragged = event.dataTransfer.getData(DRAGGED)
      if (dragged === '') return
      event.preventDefault()
      drop(dragged)
    },
  }
}

export const SceneLine = memo(function SceneLine({ row, onFold }: { row: SceneRow; onFold: (id: string) => void }) {
  const session = useSession()
  const things = useThings()
  return (
    <Flex
      {...dropping((dragged) => putBeat(session, dragged, row.id, 0))}
      css={{ '& .scene-more': { opacity: 0 }, '&:hover .scene-more, &:focus-within .scene-more': { opacity: 1 } }}
    >
      <Quiet
        flex="1"
        minW="0"
        fontWeight={600}
        color="ink"
        overflow="hidden"
        textOverflow="ellipsis"
        aria-expanded={row.open}
        onClick={() => onFold(row.id)}
      >
        {row.open ? '–' : '+'} {row.title}
      </Quiet>
      <EditId
        className="scene-more"
        fontSize="xs"
        title={`In expressions: ${row.id}. Rename it there`}
        aria-label={`Rename the scene ${row.id} in expressions`}
        onClick={() => things.rename({ of: 'scene', id: row.id })}
      >
        {row.id}
      </EditId>
    </Flex>
  )
}, sameScene)

/** A scene's row is made anew with every edit. */
function sameScene(a: { readonly row: SceneRow }, b: { readonly row: SceneRow }): boolean {
  return a.row.id === b.row.id && a.row.title === b.row.title && a.row.open === b.row.open
}

export interface How {
  readonly add: boolean
  readonly range: boolean
}

interface BeatLineProps {
  readonly row: BeatRow
  readonly current: boolean
  readonly chosen: boolean
  readonly onChoose: (row: BeatRow, how: How) => void
}

export const BeatLine = memo(function BeatLine({ row, current, chosen, onChoose }: BeatLineProps) {
  const session = useSession()
  const verdict = useVerdict(row.address)
  return (
    <Flex
      asChild
      align="center"
      gap="2"
      w="100%"
      pl="4"
      bg={chosen ? 'kept.wash' : current ? 'wash' : undefined}
      color={current ? 'ink' : 'faded'}
      fontFamily="story"
      fontSize="sm"
      {...dropping((dragged) => putBeat(session, dragged, row.scene, row.at))}
    >
      <Quiet
        draggable
        aria-current={current ? 'true' : undefined}
        aria-pressed={chosen}
        onDragStart={(event) => event.dataTransfer.setData(DRAGGED, row.address)}
        onClick={(event) => onChoose(row, { add: event.ctrlKey || event.metaKey, range: event.shiftKey })}
      >
        <VerdictMark verdict={verdict} size={9} />
        <Text as="span" truncate>
          {row.name}
        </Text>
        <HereMark address={row.address} />
        {(row.ending || row.place || row.todo) && (
          <Text as="span" fontFamily="body" fontSize="xs" color={row.todo ? 'ochre' : 'faded'}>
            {row.todo ? 'to do' : row.ending ? 'ending' : 'place'}
          </Text>
        )}
      </Quiet>
    </Flex>
  )
})
