'use client'

import { Flex } from '@chakra-ui/react'
import { type EffectPick, type Subject } from '../../core/expression/pick'
import { type Surroundings, kindOf, valuesOf, ValueField, SubjectSelect } from './pick-fields'

export function EffectPicker({
  things,
  pick,
  onChange,
}: {
  things: Surroundings
  pick: EffectPick | undefined
  onChange: (pick: EffectPick) => void
}) {
  const start = (subject: Subject) => {
    if (subject.of !== 'entry' && subject.of !== 'quest') return
    const kind = kindOf(things, subject)
    const target = { of: subject.of, id: subject.id }
    if (kind === 'number') onChange({ subject: target, how: 'add', value: 1 })
    else
      onChange({
        subject: target,
        how: 'set',
        value:
          kind === 'yes-no'
            ? true
            : kind === 'word'
              ? ''
              : (valuesOf(things, target).at(kind === 'one-of' ? 1 : 0)?.value ?? ''),
      })
  }
  return (
    <Flex gap="1" align="center" wrap="wrap" py="0.5" data-pick={pick?.subject.id}>
      <SubjectSelect
        things={things}
        label="What is changed"
        changes
        {...(pick === undefined ? { hint: 'choose what it changes …' } : { subject: pick.subject })}
        onChoose={start}
      />
      {pick !== undefined && (
        <>
          {kindOf(things, pick.subject) === 'number' ? (
            <select
              aria-label="How it is changed"
              value={pick.how}
              onChange={(event) => onChange({ ...pick, how: event.target.value as EffectPick['how'] })}
            >
              <option value="add">goes up by</option>
              <option value="subtract">goes down by</option>
              <option value="set">becomes</option>
            </select>
          ) : (
            <span>becomes</span>
          )}
          <ValueField
            things={things}
            subject={pick.subject}
            value={pick.value}
            onChange={(value) => onChange({ ...pick, value })}
          />
        </>
      )}
    </Flex>
  )
}
