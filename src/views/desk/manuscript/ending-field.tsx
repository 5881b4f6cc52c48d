'use client'

import { useState } from 'react'
import { freshId } from '../../../core/base/ids'
import { idFrom } from '../../../core/base/id-from'
import { Quiet } from '../../../ui/buttons'
import { Combo } from '../../../ui/combo'
import { keepClick } from '../../../ui/steady-click'
import { useSession, useSessionState } from '../../shared/session/use-session'
import type { BeatRef } from './edit-beat'
import { setEnding } from '../outline/structure'

/** Which ending a beat is; a name that is new makes a new one. */
export function EndingField({
  beat,
  ending,
  onDone,
}: {
  beat: BeatRef
  ending: string | undefined
  onDone?: () => void
}) {
  const session = useSession()
  const endings = useSessionState((state) => state.story.endings) ?? []
  const [text, setText] = useState<string | undefined>(ending === undefined ? '' : undefined)
  const known = endings.find(({ id }) => id === ending)
  if (text === undefined) {
    return (
      <span>
        <Quiet
          px="0"
          color="inherit"
          className={known === undefined ? 'broken' : undefined}
          onClick={() => setText('')}
        >
          {known?.name ?? ending}
        </Quiet>{' '}
        <Quiet className="add" onClick={() => setEnding(session, beat, undefined)}>
          Not an ending
        </Quiet>
      </span>
    )
  }
  const typed = text.trim()
  const found = endings
    .filter(({ name, id }) => `${name} ${id}`.toLowerCase().includes(typed.toLowerCase()))
    .map(({ id, name }) => ({ value: id, label: name }))
  const made =
    typed === '' || endings.some(({ name }) => name.toLowerCase() === typed.toLowerCase())
      ? []
      : [{ value: 'new:', label: `New ending “${typed}”` }]
  const leave = () => {
    setText(undefined)
    onDone?.()
  }
  const pick = (value: string) => {
    const id =
      value === 'new:' ? freshId(idFrom(typed, 'ending'), (taken) => endings.some((one) => one.id === taken)) : value
    setEnding(session, beat, id, value === 'new:' ? typed : undefined)
    leave()
  }
  return (
    <Combo
      autoFocus
      eager={typed !== ''}
      label="Which ending this is"
      placeholder="name of the ending, old or new"
      field={`${beat.scene}.${beat.id}:ending`}
      text={text}
      onText={setText}
      options={[...found, ...made]}
      onPick={pick}
      onEnter={leave}
      onLeave={() => {
        keepClick()
        // what was typed is kept, as Enter would keep it
        const [first] = [...found, ...made]
        if (typed !== '' && first !== undefined) pick(first.value)
        else leave()
      }}
      onCancel={leave}
    />
  )
}
