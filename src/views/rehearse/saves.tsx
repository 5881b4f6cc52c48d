'use client'

import { useRef } from 'react'
import { fileName } from '../../core/base/file-name'
import { readSave } from '../../core/play/read-save'
import { saveOf } from '../../core/play/save'
import type { PlayState } from '../../core/play/state'
import type { LinkedStory } from '../../core/story/linked'
import { Plain } from '../../ui/buttons'
import { saveFile } from '../../ui/save-file'
import { useSession } from '../shared/session/use-session'

/** Puts the playthrough away as a file, and takes one up again, of this version of the story or another. */
export function Saves({ linked, state }: { linked: LinkedStory; state: PlayState }) {
  const session = useSession()
  const input = useRef<HTMLInputElement>(null)
  const save = saveOf(linked, state)
  const load = async (file: File | undefined) => {
    if (file === undefined) return
    const read = readSave(await file.text())
    if (read.ok) session.rehearse([], read.value)
    else session.tell(`“${file.name}”: ${read.error}`)
  }
  return (
    <>
      <Plain
        disabled={save === undefined}
        title="As a file that this version of the story, or a later one, takes up again"
        onClick={() =>
          save &&
          saveFile(
            fileName(linked.doc.title, 'story', '.save.json').full,
            JSON.stringify(save, null, 2),
            'application/json',
          )
        }
      >
        Save
      </Plain>
      <Plain title="A save of this story, also of an earlier version" onClick={() => input.current?.click()}>
        Load
      </Plain>
      <input
        ref={input}
        type="file"
        hidden
        accept=".json,application/json"
        aria-label="A save to load"
        onChange={(event) => {
          void load(event.target.files?.[0])
          event.target.value = ''
        }}
      />
    </>
  )
}
