'use client'

import { focusSoon } from '../../../ui/named-fields'
import { plainId } from '../../../core/base/ids'
import { parseAddress } from '../../../core/base/address'
import { beatAt } from '../../../core/story/beat-at'
import { useState } from 'react'
import type { Story } from '../../../core/story/types'
import { newLine } from '../../../session/new-line'
import { beatName, sayAddress } from '../../../session/names'
import { Combo, type ComboOption } from '../../../ui/combo'
import { focusRow } from '../../shared/session/focus-row'
import { useNaming, useSession } from '../../shared/session/use-session'
import { Bare } from '../../../ui/bare'
import { keepClick } from '../../../ui/steady-click'
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
  // as long as nothing was typed, all beats are offered
  const [isFresh, setFresh] = useState(true)
  const open = (shown: string) => {
    setText(shown)
    setFresh(true)
  }
  const known = to === 'return' || exists(story, to)
  if (text === undefined) {
    return (
      <span className="road">
        <span aria-hidden="true">→ </span>
        <Bare
          data-field={field}
          aria-label={`${label}: ${to === '' ? 'not written yet' : to}`}
          className={known ? 'flush wrapped known' : 'flush wrapped broken'}
          onClick={() => open(to === '' || to === 'return' ? to : shownAs(story, scene, to))}
          data-unwritten={to === '' ? '' : undefined}
          onFocus={(event) => {
            // an unwritten road is ready to be typed as soon as it is come to
            if (to === '' && event.currentTarget.matches(':focus-visible')) open('')
          }}
        >
          {to === ''
            ? 'where to?'
            : to === 'return'
              ? 'back to the place'
              : `${shownAs(story, scene, to)}${known ? '' : ' (does not exist)'}`}
        </Bare>{' '}
        {known && to !== 'return' && (
          <Bare
            className="wrapped"
            aria-label={`Go to ${to}`}
            title={`Go to ${to}`}
            onClick={() => {
              session.goTo(to)
              focusRow(to)
            }}
          >
            ↗
          </Bare>
        )}
      </span>
    )
  }
  const typed = isFresh ? '' : text.trim()
  // fields are named by the beat that they stand in
  const from = /^[^.]+\.([a-z]\w*)/.exec(field)?.[1]
  const options = roadOptions(story, scene, from, typed)
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
        selectAll
        onText={(next) => {
          setText(next)
          setFresh(false)
        }}
        options={options}
        onPick={settle}
        onEnter={() => (isFresh ? setText(undefined) : settle(typed))}
        onCancel={() => {
          setText(undefined)
          // undoing brings back what was typed
          if (typed !== to && typed !== '') {
            onChange(typed)
            onChange(to)
          }
          focusSoon(field)
        }}
        onLeave={() => {
          keepClick()
          const meant = meantBy(story, scene, typed)
          setText(undefined)
          if (typed !== '') settle(meant ?? typed)
        }}
      />
    </span>
  )
}

/** The one beat that is named so exactly, by address, id or title. */
function meantBy(story: Story, scene: string, typed: string): string | undefined {
  if (typed === 'return' || exists(story, typed)) return typed
  const wanted = typed.toLowerCase()
  const named = story.scenes.flatMap(({ id, beats }) =>
    beats
      .filter((beat) => beat.id === wanted || (beat.title ?? plainId(beat.id)).toLowerCase() === wanted)
      .map((beat) => `${id}.${beat.id}`),
  )
  const here = named.filter((address) => parseAddress(address)!.scene === scene)
  return here.length === 1 ? here[0] : named.length === 1 ? named[0] : undefined
}

export function exists(story: Story, address: string): boolean {
  return beatAt(story, address) !== undefined
}

function shownAs(story: Story, scene: string, to: string): string {
  const target = parseAddress(to)
  if (target === undefined) return sayAddress(to, story)
  const name = beatName(story, to)
  if (target.scene === scene) return name
  return `${story.scenes.find(({ id }) => id === target.scene)?.title ?? plainId(target.scene)} · ${name}`
}

/** Offered at once; the rest is found by typing. */
const ENOUGH = 60

/** Beats by title, those that fit best first, then the nearest; a scene's title finds its beats. */
function roadOptions(story: Story, scene: string, from: string | undefined, typed: string): ComboOption[] {
  const wanted = typed.toLowerCase().replaceAll(' ', '_')
  const words = typed.toLowerCase()
  const sceneAt = story.scenes.findIndex(({ id }) => id === scene)
  const beatAtHere = story.scenes[sceneAt]?.beats.findIndex(({ id }) => id === from) ?? -1
  const found = story.scenes
    .flatMap(({ id, title, beats }, at) =>
      beats.map((beat, index) => {
        const address = `${id}.${beat.id}`
        const name = (beat.title ?? plainId(beat.id)).toLowerCase()
        const isExact = address === wanted || address === `${scene}.${wanted}` || (at === sceneAt && name === words)
        const fit = isExact
          ? 0
          : beat.id.startsWith(wanted) || name.startsWith(words)
            ? 1
            : address.includes(wanted) || name.includes(words)
              ? 2
              : title.toLowerCase().includes(words)
                ? 3
                : undefined
        // a beat of its own scene is nearer than any other
        const distance = at === sceneAt ? Math.abs(index - beatAtHere) : 1e6 * (1 + Math.abs(at - sceneAt)) + index
        return { address, fit, distance }
      }),
    )
    .filter((one): one is typeof one & { fit: number } => one.fit !== undefined)
    .sort((a, b) => a.fit - b.fit || a.distance - b.distance)
    .slice(0, ENOUGH)
  const options = found.map(({ address }) => ({ value: address, label: shownAs(story, scene, address), hint: address }))
  const back =
    'return'.startsWith(wanted) || 'back to the place'.includes(words)
      ? [{ value: 'return', label: 'back to the place', hint: 'return' }]
      : []
  const made = typed === '' || found.some(({ fit }) => fit === 0) ? undefined : newBeatFor(story, scene, typed)
  return [
    ...options,
    ...back,
    ...(made === undefined
      ? []
      : [{ value: `new:${typed}`, label: `Create ${plainId(parseAddress(made.address)!.beat)}`, hint: 'new beat' }]),
  ]
}
