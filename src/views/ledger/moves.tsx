'use client'

import { Flex, Text } from '@chakra-ui/react'
import { useState } from 'react'
import type { Quest } from '../../core/story/types'
import { Plain, Quiet } from '../../ui/buttons'

/** Which moves from stage to stage a quest may make; while none is declared, none is checked. */
export function Moves({ quest, onChange }: { quest: Quest; onChange: (moves: [string, string][] | undefined) => void }) {
  const stages = ['unstarted', ...quest.stages.map(({ id }) => id)]
  const [from, setFrom] = useState('unstarted')
  const [to, setTo] = useState('')
  const { moves } = quest
  const name = (id: string) => (id === 'unstarted' ? 'not started' : (quest.stages.find((stage) => stage.id === id)?.name ?? `${id} (does not exist)`))
  if (moves === undefined) {
    // the usual order: one stage after the other, outcomes from the last that is none
    const usual = quest.stages.map(({ id }, at): [string, string] => [stages.slice(0, at + 1).findLast((stage) => quest.stages.find((one) => one.id === stage)?.outcome === undefined) ?? 'unstarted', id])
    return (
      <Flex pl="4" gap="2" align="baseline" fontSize="sm" color="faded">
        <Text>Any stage may follow any other.</Text>
        <Quiet onClick={() => onChange(usual)}>Check its moves</Quiet>
      </Flex>
    )
  }
  const options = (label: string, value: string, set: (id: string) => void, choices: readonly string[]) => (
    <select className="field" aria-label={label} value={value} onChange={(event) => set(event.target.value)}>
      <option value="">…</option>
      {choices.map((id) => (
        <option key={id} value={id}>
          {name(id)}
        </option>
      ))}
    </select>
  )
  const isKnown = moves.some(([a, b]) => a === from && b === to)
  return (
    <Flex pl="4" gap="2" align="center" wrap="wrap" fontSize="sm" data-moves={quest.id}>
      <Text color="faded">Moves:</Text>
      {moves.map(([a, b], at) => (
        <Quiet key={`${a} ${b}`} border="1px solid" borderColor="hairline" title="Take this move away" aria-label={`Take the move from ${name(a)} to ${name(b)} away`} onClick={() => onChange(moves.filter((_, other) => other !== at))}>
          {name(a)} → {name(b)} ×
        </Quiet>
      ))}
      {options(`Move of ${quest.name} from`, from, setFrom, stages)}
      {options(`Move of ${quest.name} to`, to, setTo, stages)}
      <Plain disabled={from === '' || to === '' || from === to || isKnown} onClick={() => onChange([...moves, [from, to]])}>
        Allow
      </Plain>
      <Quiet onClick={() => onChange(undefined)}>Check none</Quiet>
    </Flex>
  )
}
