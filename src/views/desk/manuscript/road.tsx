'use client'

import { parseAddress } from '../../../core/base/address'
import { beatAt } from '../../../core/story/beat-at'
import { useState } from 'react'
import type { Story } from '../../../core/story/types'
import { newLine } from '../../../session/new-line'
import { beatName, plainId, sayAddress } from '../../../session/names'
import { Combo, type ComboOption } from '../../../ui/combo'
import { useNaming, useSession } from '../../shared/session/use-session'
import { Bare } from '../../../ui/bare'
import { newBeatFor } from '../../../core/story/reshape/beat-edits'

interface Props {
  readonly scene: string
  readonly to: string
  readonly field: string
  readonly label: string
  readonly onChange: (to: string) => void
}

/** Where a road leads, named in words; edited by naming a beat, or one that does not exist yet. */
export function RoadField({ scene, to, field, label, onChange }: Props) {
  const session = useSession()
  const { story } = useNaming()
  const [text, setText] = useState<string>()
  const known = to === 'return' || exists(story, to)
  if (text === undefined) {
    return (
      <span className="road">
        <span aria-hidden="true">→ </span>
        <Bare
          data-field={field}
          aria-label={`${label}: ${to === '' ? 'not written yet' : to}`}
          className={known ? 'flush wrapped known' : 'flush wrapped broken'}
          onClick={() => setText(to)}
          onFocus={(event) => {
            // an unwritten road is ready to be typed as soon as it is come to
            if (to === '' && event.currentTarget.matches(':focus-visible')) setText('')
          }}
        >
          {to === ''
            ? 'where to?'
            : to === 'return'
              ? 'back to the place'
              : `${shownAs(story, scene, to)}${known ? '' : ' (does not exist)'}`}
        </Bare>{' '}
        {known && to !== 'return' && (
          <Bare className="wrapped" aria-label={`Go to ${to}`} title={`Go to ${to}`} onClick={() => session.goTo(to)}>
            ↗
          </Bare>
        )}
      </span>
    )
  }
  const typed = text.trim()
  // fields are named by the beat that they stand in
  const from = /^[^.]+\.([a-z]\w*)/.exec(field)?.[1]
  const options = roadOptions(story, scene, typed)
  const settle = (value: string) => {
    setText(undefined)
    if (value.startsWith('new:')) {
      const made = newBeatFor(story, scene, value.slice(4), from, newLine())
      if (made === undefined) return
      session.edit(made.change)
      onChange(made.address)
    } else if (value !== to) onChange(value)
  }
  return (
    <span className="road">
      <Combo
        autoFocus
        eager={typed !== ''}
        field={`${field}:edit`}
        label={label}
        placeholder="name a beat, old or new"
        text={text}
        onText={setText}
        options={options}
        onPick={settle}
        onEnter={() => settle(typed)}
        onCancel={() => setText(undefined)}
        onLeave={() => {
          setText(undefined)
          if (typed === 'return' || exists(story, typed)) settle(typed)
        }}
      />
    </span>
  )
}

export function exists(story: Story, address: string): boolean {
  return beatAt(story, address) !== undefined
}

function shownAs(story: Story, scene: string, to: string): string {
  const target = parseAddress(to)
  if (target === undefined) return sayAddress(to)
  const name = beatName(story, to)
  if (target.scene === scene) return name
  return `${story.scenes.find(({ id }) => id === target.scene)?.title ?? plainId(target.scene)} · ${name}`
}

const ENOUGH = 6

function roadOptions(story: Story, scene: string, typed: string): ComboOption[] {
  const wanted = typed.toLowerCase().replaceAll(' ', '_')
  const here = (address: string) => (address.startsWith(`${scene}.`) ? 0 : 1)
  const rank = (address: string) =>
    address === wanted || address === `${scene}.${wanted}` ? 0 : parseAddress(address)!.beat.startsWith(wanted) ? 1 : 2
  const found = story.scenes
    .flatMap(({ id, beats }) => beats.map((beat) => `${id}.${beat.id}`))
    .filter(
      (address) => address.includes(wanted) || beatName(story, address).toLowerCase().includes(typed.toLowerCase()),
    )
    .sort((a, b) => rank(a) - rank(b) || here(a) - here(b))
    .slice(0, ENOUGH)
    .map((address) => ({ value: address, label: shownAs(story, scene, address), hint: address }))
  const back =
    'return'.startsWith(wanted) || 'back to the place'.includes(typed.toLowerCase())
      ? [{ value: 'return', label: 'back to the place', hint: 'return' }]
      : []
  const made =
    typed === '' || found.some(({ value }) => rank(value) === 0) ? undefined : newBeatFor(story, scene, typed)
  return [
    ...found,
    ...back,
    ...(made === undefined
      ? []
      : [{ value: `new:${typed}`, label: `Create ${plainId(parseAddress(made.address)!.beat)}`, hint: 'new beat' }]),
  ]
}
