'use client'

import { storyNames } from '../../session/names'
import { plainId } from '../../core/base/ids'
import { useState } from 'react'
import { type Subject } from '../../core/expression/pick'
import type { Entry, Story } from '../../core/story/types'
import { Combo, type ComboOption } from '../../ui/combo'

export interface Surroundings {
  readonly story: Story
  readonly scene: string
  readonly entries: readonly Entry[]
  /** What is picked is part of a promise: it may ask where the story rests and how it has ended. */
  readonly promise?: boolean | undefined
}

export type Kind = 'yes-no' | 'number' | 'one-of' | 'word'

export function kindOf({ entries }: Surroundings, { of, id }: Subject): Kind {
  if (of === 'taken' || of === 'at' || of === 'ended') return 'yes-no'
  if (of === 'visits') return 'number'
  if (of === 'quest') return 'one-of'
  const kind = entries.find((entry) => entry.id === id)?.kind
  return kind === 'flag' ? 'yes-no' : kind === 'switch' ? 'one-of' : kind === 'text' ? 'word' : 'number'
}

/** The positions of a switch or the stages of a quest, as they are called. */
export function valuesOf(
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
  if (entry?.kind !== 'switch') return []
  return entry.positions.map((value) => {
    const meaning = entry.meanings?.[value]
    return { value, name: meaning === undefined ? plainId(value) : `${plainId(value)}: ${meaning}` }
  })
}

interface ValueProps {
  readonly things: Surroundings
  readonly subject: Subject
  readonly value: boolean | number | string
  readonly onChange: (value: boolean | number | string) => void
}

export function ValueField({ things, subject, value, onChange }: ValueProps) {
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
        <>
          <input
            className="field number"
            type="number"
            step={1}
            aria-label="Value"
            value={Number(value)}
            onChange={(event) =>
              Number.isSafeInteger(event.target.valueAsNumber) && onChange(event.target.valueAsNumber)
            }
          />
          <OutOfRange things={things} subject={subject} value={Number(value)} />
        </>
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

/** Stands for what is not in the list: it is searched for. */
const ELSEWHERE = '…'

/** Beats, choices and, in promises, endings of the whole story whose words hold what was typed. */
function everywhere({ story, promise }: Surroundings, typed: string): ComboOption[] {
  const wanted = typed.trim().toLowerCase()
  const found: ComboOption[] = []
  for (const { id, name } of promise ? (story.endings ?? []) : [])
    if (name.toLowerCase().includes(wanted))
      found.push({ value: `ended:${id}`, label: `ended with “${name}”`, hint: 'ending' })
  for (const scene of story.scenes)
    for (const beat of scene.beats) {
      const title = beat.title ?? plainId(beat.id)
      const hint = scene.title
      if (title.toLowerCase().includes(wanted) || scene.title.toLowerCase().includes(wanted)) {
        if (promise) found.push({ value: `at:${scene.id}.${beat.id}`, label: `rests at ${title}`, hint })
        found.push({ value: `visits:${scene.id}.${beat.id}`, label: `visits to ${title}`, hint })
      }
      for (const { id, text } of beat.choices ?? [])
        if (text.toLowerCase().includes(wanted))
          found.push({ value: `taken:${scene.id}.${beat.id}.${id}`, label: `took “${text}”`, hint: title })
    }
  return found
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

export function SubjectSelect({ things, label, subject, hint, changes, onChoose }: SubjectProps) {
  const { story, scene, entries, promise } = things
  const [asked, setAsked] = useState(false)
  const [elsewhere, setElsewhere] = useState<string>()
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
  const endings = (story.endings ?? []).map(({ id }) => ({ of: 'ended' as const, id }))
  const names = storyNames(story)
  const wordsOf = ({ of, id }: Subject): string => {
    if (of === 'visits') return `visits to ${names.beat(id)}`
    if (of === 'at') return `rests at ${names.beat(id)}`
    if (of === 'ended') return `ended with ${names.ending(id)}`
    return of === 'taken' ? `took ${names.choice(id)}` : names[of](id)
  }
  // thousands of options in every list are made when one turns to it, not before
  const filled = asked || entries.length + quests.length + visited.length + taken.length <= FILLED_MAX
  const lists: readonly (readonly [string, readonly Subject[]])[] = [
    ['the ledger', entries.map(({ id }) => ({ of: 'entry', id }))],
    ['quests', quests.map(({ id }) => ({ of: 'quest', id }))],
    ...(promise ? ([['how it has ended', endings]] as const) : []),
    ...(changes === true
      ? []
      : ([
          ['visits to a beat of this scene', visited],
          ['choices taken in this scene', taken],
        ] as const)),
  ]
  const isListed =
    subject === undefined || (filled && lists.some(([, list]) => list.some((one) => name(one) === name(subject))))
  if (elsewhere !== undefined) {
    const found = everywhere(things, elsewhere)
    return (
      <div style={{ minWidth: '11rem' }} data-own-escape="">
        <Combo
          label={`${label}: a beat or choice of the story`}
          text={elsewhere}
          onText={setElsewhere}
          options={found}
          autoFocus
          eager
          placeholder="title of a beat, words of a choice"
          onPick={(value) => {
            setElsewhere(undefined)
            const [of, ...id] = value.split(':')
            onChoose({ of: of as Subject['of'], id: id.join(':') })
          }}
          onEnter={() => setElsewhere(undefined)}
          onLeave={() => setElsewhere(undefined)}
          onCancel={() => setElsewhere(undefined)}
        />
      </div>
    )
  }
  return (
    <select
      aria-label={label}
      value={subject === undefined ? '' : name(subject)}
      onChange={(event) => {
        if (event.target.value === ELSEWHERE) return setElsewhere('')
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
      {changes !== true && <option value={ELSEWHERE}>any beat or choice …</option>}
    </select>
  )
}

/** Said beside a number that the entry never is. */
function OutOfRange({
  things: { entries },
  subject,
  value,
}: {
  things: Surroundings
  subject: Subject
  value: number
}) {
  const entry = subject.of === 'entry' ? entries.find(({ id }) => id === subject.id) : undefined
  if (entry?.kind !== 'counter' && entry?.kind !== 'item') return null
  const min = entry.kind === 'counter' ? (entry.min ?? 0) : 0
  const { max } = entry
  if (value >= min && (max === undefined || value <= max)) return null
  return (
    <span role="alert" style={{ color: 'var(--chakra-colors-needle)' }}>
      {entry.name ?? plainId(entry.id)} is {min} to {max}
    </span>
  )
}
