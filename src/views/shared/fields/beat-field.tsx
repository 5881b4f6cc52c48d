'use client'

import { plainId } from '../../../core/base/ids'
import { useState } from 'react'
import type { Story } from '../../../core/story/types'
import { sayAddress } from '../../../session/names'
import { Quiet } from '../../../ui/buttons'
import { Combo, type ComboOption } from '../../../ui/combo'
import { useSessionState } from '../session/use-session'

const OFFERED = 8

/** Beats of which the name has what was typed. */
export function beatOptions(story: Story, typed: string): ComboOption[] {
  const wanted = typed.toLowerCase().replaceAll(' ', '_')
  const found: ComboOption[] = []
  for (const scene of story.scenes) {
    for (const { id, title } of scene.beats) {
      if (!`${scene.id}.${id}`.includes(wanted) && title?.toLowerCase().includes(typed.toLowerCase()) !== true) continue
      found.push({ value: `${scene.id}.${id}`, label: title ?? plainId(id), hint: scene.title })
      if (found.length === OFFERED) return found
    }
  }
  return found
}

/** A beat, changed by a few letters of its name. */
export function BeatField({
  label,
  value,
  onChange,
}: {
  label: string
  value: string
  onChange: (address: string) => void
}) {
  const story = useSessionState((state) => state.story)
  const [text, setText] = useState<string>()
  const isKnown = (address: string) =>
    story.scenes.some((scene) => scene.beats.some(({ id }) => `${scene.id}.${id}` === address))
  const settle = (address: string) => {
    setText(undefined)
    if (address !== value && isKnown(address)) onChange(address)
  }
  if (text === undefined) {
    return (
      <Quiet
        border="1px solid"
        borderColor="edge"
        px="2"
        color={isKnown(value) ? 'ink' : 'needle'}
        aria-label={`${label}: ${value === '' ? 'nothing yet' : sayAddress(value, story)}`}
        onClick={() => setText('')}
      >
        {value === '' ? 'nothing yet' : `${sayAddress(value, story)}${isKnown(value) ? '' : ' (does not exist)'}`}
      </Quiet>
    )
  }
  return (
    <Combo
      autoFocus
      label={label}
      eager
      text={text}
      onText={setText}
      options={beatOptions(story, text)}
      onPick={settle}
      onEnter={() => settle(text)}
      onLeave={() => settle(text)}
      onCancel={() => setText(undefined)}
    />
  )
}
