'use client'

import { Box, Flex } from '@chakra-ui/react'
import { parseEffect, parseExpression } from '../../core/expression/parse'
import {
  effectOf,
  effectPickOf,
  exprOf,
  pickOf,
  type Comparison,
  type Pick,
  type Subject,
} from '../../core/expression/pick'
import { printEffect, printExpression } from '../../core/expression/print'
import { sayCondition } from '../../core/expression/words'
import { storyNames } from '../../session/names'
import { Quiet } from '../../ui/buttons'
import { useNaming } from '../shared/session/use-session'
import { entriesIn } from './completions'
import { type Surroundings, type Kind, kindOf, valuesOf, ValueField, SubjectSelect } from './pick-fields'
import { EffectPicker } from './effect-picker'

interface Props {
  readonly form: 'gate' | 'effect'
  readonly scene: string
  readonly promise?: boolean | undefined
  readonly text: string
  readonly onText: (text: string) => void
}

/** A gate or effect put together by choosing; it writes the same expression that can be typed. */
export function PickPanel({ form, scene, promise, text, onText }: Props) {
  const { story } = useNaming()
  const things: Surroundings = { story, scene, entries: entriesIn(story, scene), promise }
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
