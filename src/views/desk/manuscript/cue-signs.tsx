'use client'

import { useState, type KeyboardEvent } from 'react'
import { freshId } from '../../../core/base/ids'
import { idFrom } from '../../../core/base/id-from'
import { removeAt, replaceAt } from '../../../core/story/reshape/beat-edits'
import type { CueUse } from '../../../core/story/types'
import { Bare } from '../../../ui/bare'
import { Combo } from '../../../ui/combo'
import { useSession, useSessionState } from '../../shared/session/use-session'

/** Alt+C, in a line or a choice. */
export function isCueKey(event: KeyboardEvent): boolean {
  return event.altKey && !event.ctrlKey && !event.metaKey && event.code === 'KeyC'
}

interface Props {
  readonly cues: readonly CueUse[] | undefined
  readonly field: string
  readonly isAdding: boolean
  readonly onAdding: (adding: boolean) => void
  readonly onChange: (cues: CueUse[]) => void
}

/** The cues that a line or choice issues, as small signs; "bell: twice" is the cue with what is passed on. */
export function CueSigns({ cues, field, isAdding, onAdding, onChange }: Props) {
  const session = useSession()
  const declared = useSessionState((state) => state.story.cues)
  const [changing, setChanging] = useState<number>()
  const [text, setText] = useState('')
  const offersFor = (typed: string) => {
    const words = typed.trim().toLowerCase()
    return (declared ?? [])
      .filter(({ id, name }) => words === '' || id.startsWith(words) || name.toLowerCase().includes(words))
      .map(({ id, name }) => ({ value: id, label: name }))
  }
  const list = cues ?? []
  const nameOf = (id: string) => declared?.find((cue) => cue.id === id)?.name
  const said = ({ cue, with: passed }: CueUse) => `${nameOf(cue) ?? cue}${passed === undefined ? '' : `: ${passed}`}`
  /** What was typed as a cue; one that is not declared yet is. */
  const read = (typed: string): CueUse | undefined => {
    const [first = '', ...rest] = typed.split(':')
    const name = first.trim()
    const passed = rest.join(':').trim()
    if (name === '') return undefined
    const known = (session.getState().story.cues ?? []).find(
      (cue) => cue.id === name || cue.name.toLowerCase() === name.toLowerCase(),
    )
    let id = known?.id
    if (id === undefined) {
      const all = session.getState().story.cues ?? []
      id = freshId(idFrom(name, 'cue'), (taken) => all.some((cue) => cue.id === taken))
      session.edit({ op: 'insert', in: { list: 'cues' }, at: all.length, item: { id, name } })
    }
    return passed === '' ? { cue: id } : { cue: id, with: passed }
  }
  const settle = (at: number | undefined, typed: string | undefined) => {
    setChanging(undefined)
    setText('')
    onAdding(false)
    if (typed === undefined) return
    const use = read(typed)
    if (at !== undefined)
      onChange(
        use === undefined
          ? removeAt(list, at)
          : replaceAt(list, at, { cue: use.cue, ...(use.with === undefined ? {} : { with: use.with }) }),
      )
    else if (use !== undefined) onChange([...list, use])
  }
  const editor = (at: number | undefined) => (
    <Combo
      autoFocus
      field={`${field}?cue`}
      label="Cue; after a colon what is passed on"
      placeholder="tide bell: twice"
      text={text}
      onText={setText}
      options={offersFor(text)}
      onPick={(value) => settle(at, value)}
      onEnter={() => settle(at, text)}
      onLeave={() => settle(at, at === undefined && text.trim() === '' ? undefined : text)}
      onCancel={() => settle(at, undefined)}
    />
  )
  return (
    <>
      {list.map((use, at) =>
        changing === at ? (
          <span key={at}>{editor(at)}</span>
        ) : (
          <Bare
            key={at}
            className={nameOf(use.cue) === undefined ? 'flush cue broken' : 'flush cue'}
            aria-label={`Cue ${said(use)}; change it`}
            title={nameOf(use.cue) === undefined ? 'There is no such cue' : 'A cue for the game'}
            onClick={() => {
              setChanging(at)
              setText(said(use))
            }}
          >
            ◇ {said(use)}
          </Bare>
        ),
      )}
      {isAdding && editor(undefined)}
    </>
  )
}
