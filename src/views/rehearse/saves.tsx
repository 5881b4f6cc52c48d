'use client'

import { fileName } from '../../core/base/file-name'
import { readSave } from '../../core/play/read-save'
import { saveOf } from '../../core/play/save'
import type { PlayState } from '../../core/play/state'
import type { LinkedStory } from '../../core/story/linked'
import { Plain } from '../../ui/buttons'
import { PickFile } from '../../ui/pick-file'
import { saveFile } from '../../ui/save-file'
import { useSession } from '../shared/session/use-session'

/** Puts the playthrough away as a file, and takes one up again, of this version of the story or another. */
export function Saves({ linked, state }: { linked: LinkedStory; state: PlayState }) {
  const session = useSession()
  const save = saveOf(linked, state)
  const load = async (file: File) => {
    const read = readSave(await file.text())
    if (read.ok) session.rehearse([], read.value)
    else session.tell(`“${file.name}”: ${read.error.message}`)
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
      <PickFile
        label="A save to load"
        accept=".json,application/json"
        title="A save of this story, also of an earlier version"
        onPick={([file]) => void load(file!)}
      >
        Load
      </PickFile>
    </>
  )
}
