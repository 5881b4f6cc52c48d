'use client'

import { parseAddress } from '../../core/base/address'
import { Box, Flex } from '@chakra-ui/react'
import { useState } from 'react'
import { parseEffect, parseExpression } from '../../core/expression/parse'
import {
  effectOf,
  effectPickOf,
  exprOf,
  pickOf,
  type Comparison,
  type EffectPick,
  type Pick,
  type Subject,
} from '../../core/expression/pick'
import { printEffect, printExpression } from '../../core/expression/print'
import { sayCondition } from '../../core/expression/words'
import type { Entry, Story } from '../../core/story/types'
import { plainId, storyNames } from '../../session/names'
import { Quiet } from '../../ui/buttons'
import { useNaming } from '../shared/session/use-session'
import { entriesIn } from './completions'

interface Props {
  readonly form: 'gate' | 'effect'
  readonly scene: string
  readonly text: string
  readonly onText: (text: string) => void
}

/** A gate or effect put together by choosing; it writes the same expression that can be typed. */
export function PickPanel({ form, scene, text, onText }: Props) {
  const { story } = useNaming()
  const things: Surroundings = { story, scene, entries: entriesIn(story, scene) }
  if (form === 'effect') {
    const parsed = parseEffect(text)
    const pick = parsed.ok ? effectPickOf(parsed.value) : undefined
    if (text.trim() !== '' && pick === undefined) return null
    return <EffectPicker things={things} pick={pick} onChange={(next) => onText(printEffect(effectOf(next)))} />
  }
  const parsed = parseExpression(text)
  if (text.trim() !== '' && !parsed.ok) return null
  const isFlag = (id: string) => things.entries.find((entry) => entry.id === id)?.kind === 'flag'
  const pick: Pick = parsed.ok ? pickOf(parsed.value, isFlag) : { kind: 'group', all: true, items: [] }
  const change = (next: Pick | undefined) => {
    const expr = next && exprOf(next)
    onText(expr === undefined ? '' : printExpression(expr))
  }
  return (
    <Picker
      things={things}
      pick={pick.kind === 'group' ? pick : { kind: 'group', all: true, items: [pick] }}
      onChange={change}
    />
  )
}

interface Surroundings {
  readonly story: Story
  readonly scene: string
  readonly entries: readonly Entry[]
}

interface PickProps {
  readonly things: Surroundings
  readonly pick: Pick
  /** undefined: it is taken away. */
  readonly onChange: (pick: Pick | undefined) => void
}

function Picker({ things, pick, onChange }: PickProps) {
  if (pick.kind === 'test') return <TestRow things={things} pick={pick} onChange={onChange} />
  if (pick.kind === 'not') {
    return (
      <Flex gap="1" align="baseline">
        <span>not</span>
        <Picker things={things} pick={pick.item} onChange={(item) => onChange(item && { ...pick, item })} />
      </Flex>
    )
  }
  if (pick.kind === 'other') {
    return (
      <Flex gap="1" align="baseline">
        <Box as="span" flex="1" color="faded" title="Too intricate to be picked; type it below">
          {sayCondition(pick.expr, storyNames(things.story))}
        </Box>
        <Quiet aria-label="Take this part away" onClick={() => onChange(undefined)}>
          ×
        </Quiet>
      </Flex>
    )
  }
  const replace = (at: number, next: Pick | undefined) => {
    const items =
      next === undefined
        ? pick.items.filter((_, index) => index !== at)
        : pick.items.map((item, index) => (index === at ? next : item))
    onChange(items.length === 0 ? undefined : { ...pick, items })
  }
  const add = (item: Pick) => onChange({ ...pick, items: [...pick.items, item] })
  return (
    <Box
      pl={pick.items.length > 1 ? '2' : '0'}
      borderLeft={pick.items.length > 1 ? '2px solid' : undefined}
      borderColor="hairline"
    >
      {pick.items.length > 1 && (
        <select
          aria-label="How the parts go together"
          value={pick.all ? 'all' : 'any'}
          onChange={(event) => onChange({ ...pick, all: event.target.value === 'all' })}
        >
          <option value="all">all of these</option>
          <option value="any">any of these</option>
        </select>
      )}
      {pick.items.map((item, at) => (
        <Picker key={at} things={things} pick={item} onChange={(next) => replace(at, next)} />
      ))}
      <Flex gap="1" align="baseline">
        <SubjectSelect
          things={things}
          label={pick.items.length === 0 ? 'What it depends on' : 'One more part'}
          hint={pick.items.length === 0 ? 'choose what it depends on …' : pick.all ? 'and …' : 'or …'}
          onChoose={(subject) => add(newTest(things, subject))}
        />
        {pick.items.length > 0 && (
          <SubjectSelect
            things={things}
            label="A group of its own"
            hint={pick.all ? 'and any of …' : 'and all of …'}
            onChoose={(subject) =>
              add({ kind: 'group', all: !pick.all, items: [newTest(things, subject), newTest(things, subject)] })
            }
          />
        )}
      </Flex>
    </Box>
  )
}

type Kind = 'yes-no' | 'number' | 'one-of' | 'word'

function kindOf({ entries }: Surroundings, { of, id }: Subject): Kind {
  if (of === 'taken') return 'yes-no'
  if (of === 'visits') return 'number'
  if (of === 'quest') return 'one-of'
  const kind = entries.find((entry) => entry.id === id)?.kind
  return kind === 'flag' ? 'yes-no' : kind === 'switch' ? 'one-of' : kind === 'text' ? 'word' : 'number'
}

function newTest(things: Surroundings, subject: Subject): Pick & { kind: 'test' } {
  const kind = kindOf(things, subject)
  if (kind === 'yes-no') return { kind: 'test', subject, comparison: 'is', value: true }
  if (kind === 'number') return { kind: 'test', subject, comparison: '>=', value: 1 }
  return {
    kind: 'test',
    subject,
    comparison: '==',
    value: kind === 'word' ? '' : (valuesOf(things, subject).at(-1)?.value ?? ''),
  }
}

/** The positions of a switch or the stages of a quest, as they are called. */
function valuesOf(
  { story, entries }: Surroundings,
  { of, id }: { readonly of: string; readonly id: string },
): { readonly value: string; readonly name: string }[] {
  if (of === 'quest') {
    const stages = story.quests?.find((quest) => quest.id === id)?.stages ?? []
    return [
      { value: 'unstarted', name: 'not started' },
      ...stages.map((stage) => ({ value: stage.id, name: stage.name })),
    ]
  }
  const entry = entries.find((one) => one.id === id)
  return entry?.kind === 'switch' ? entry.positions.map((value) => ({ value, name: plainId(value) })) : []
}

const COMPARISONS: Readonly<Record<Kind, readonly (readonly [Comparison, string])[]>> = {
  'yes-no': [['is', 'is']],
  number: [
    ['>=', 'is at least'],
    ['<=', 'is at most'],
    ['==', 'is exactly'],
    ['!=', 'is not'],
    ['>', 'is more than'],
    ['<', 'is less than'],
  ],
  'one-of': [
    ['==', 'is'],
    ['!=', 'is not'],
    ['atLeast', 'is at least'],
    ['before', 'is before'],
  ],
  word: [
    ['==', 'is'],
    ['!=', 'is not'],
  ],
}

function TestRow({ things, pick, onChange }: PickProps & { readonly pick: Pick & { kind: 'test' } }) {
  const kind = kindOf(things, pick.subject)
  return (
    <Flex gap="1" align="center" wrap="wrap" py="0.5" data-pick={pick.subject.id}>
      <SubjectSelect
        things={things}
        label="What is asked"
        subject={pick.subject}
        onChoose={(subject) => onChange(newTest(things, subject))}
      />
      {kind !== 'yes-no' && (
        <select
          aria-label="How it is compared"
          value={pick.comparison}
          onChange={(event) => onChange({ ...pick, comparison: event.target.value as Comparison })}
        >
          {COMPARISONS[kind].map(([comparison, words]) => (
            <option key={comparison} value={comparison}>
              {words}
            </option>
          ))}
        </select>
      )}
      <ValueField
        things={things}
        subject={pick.subject}
        value={pick.value}
        onChange={(value) => onChange({ ...pick, value })}
      />
      <Quiet aria-label="Take this part away" onClick={() => onChange(undefined)}>
        ×
      </Quiet>
    </Flex>
  )
}

interface ValueProps {
  readonly things: Surroundings
  readonly subject: Subject
  readonly value: boolean | number | string
  readonly onChange: (value: boolean | number | string) => void
}

function ValueField({ things, subject, value, onChange }: ValueProps) {
  switch (kindOf(things, subject)) {
    case 'yes-no':
      return (
        <select
          aria-label="Value"
          value={value === true ? 'yes' : 'no'}
          onChange={(event) => onChange(event.target.value === 'yes')}
        >
          <option>yes</option>
          <option>no</option>
        </select>
      )
    case 'number':
      return (
        <input
          className="field number"
          type="number"
          step={1}
          aria-label="Value"
          value={Number(value)}
          onChange={(event) => Number.isSafeInteger(event.target.valueAsNumber) && onChange(event.target.valueAsNumber)}
        />
      )
    case 'word':
      return (
        <input
          className="field"
          size={8}
          aria-label="Value"
          value={String(value)}
          onChange={(event) => onChange(event.target.value)}
        />
      )
    case 'one-of': {
      const values = valuesOf(things, subject)
      return (
        <select aria-label="Value" value={String(value)} onChange={(event) => onChange(event.target.value)}>
          {!values.some((one) => one.value === value) && (
            <option value={String(value)}>{String(value)} (does not exist)</option>
          )}
          {values.map((one) => (
            <option key={one.value} value={one.value}>
              {one.name}
            </option>
          ))}
        </select>
      )
    }
  }
}

/** So many things to choose from are listed at once. */
const FILLED_MAX = 100

interface SubjectProps {
  readonly things: Surroundings
  readonly label: string
  readonly subject?: Subject
  readonly hint?: string
  /** Only what an effect can change. */
  readonly changes?: boolean
  readonly onChoose: (subject: Subject) => void
}

function SubjectSelect({ things: { story, scene, entries }, label, subject, hint, changes, onChoose }: SubjectProps) {
  const [asked, setAsked] = useState(false)
  const name = (one: Subject) => `${one.of}:${one.id}`
  const beats = story.scenes.find(({ id }) => id === scene)?.beats ?? []
  const option = (one: Subject) => (
    <option key={name(one)} value={name(one)}>
      {wordsOf(one)}
    </option>
  )
  const visited = beats.map((beat) => ({ of: 'visits' as const, id: `${scene}.${beat.id}` }))
  const taken = beats.flatMap((beat) =>
    (beat.choices ?? []).map((choice) => ({
      of: 'taken' as const,
      id: `${scene}.${beat.id}.${choice.id}`,
      text: choice.text,
    })),
  )
  const quests = story.quests ?? []
  const wordsOf = (one: Subject): string => {
    if (one.of === 'entry') return plainId(one.id)
    if (one.of === 'quest') return quests.find(({ id }) => id === one.id)?.name ?? plainId(one.id)
    if (one.of === 'visits') return `visits to ${plainId(parseAddress(one.id)?.beat ?? one.id)}`
    return `took “${taken.find(({ id }) => id === one.id)?.text ?? plainId(one.id)}”`
  }
  // thousands of options in every list are made when one turns to it, not before
  const filled = asked || entries.length + quests.length + visited.length + taken.length <= FILLED_MAX
  const lists: readonly (readonly [string, readonly Subject[]])[] = [
    ['the ledger', entries.map(({ id }) => ({ of: 'entry', id }))],
    ['quests', quests.map(({ id }) => ({ of: 'quest', id }))],
    ...(changes === true
      ? []
      : ([
          ['visits to a beat of this scene', visited],
          ['choices taken in this scene', taken],
        ] as const)),
  ]
  const isListed =
    subject === undefined || (filled && lists.some(([, list]) => list.some((one) => name(one) === name(subject))))
  return (
    <select
      aria-label={label}
      value={subject === undefined ? '' : name(subject)}
      onChange={(event) => {
        const [of, ...id] = event.target.value.split(':')
        if (of !== '') onChoose({ of: of as Subject['of'], id: id.join(':') })
      }}
      onPointerDown={() => setAsked(true)}
      onFocus={() => setAsked(true)}
      style={{ maxWidth: '11rem' }}
    >
      {hint !== undefined && <option value="">{hint}</option>}
      {!isListed && option(subject)}
      {filled &&
        lists.map(([title, list]) => (
          <optgroup key={title} label={title}>
            {list.map(option)}
          </optgroup>
        ))}
    </select>
  )
}

function EffectPicker({
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
