'use client'

import { focusSoon } from '../../../ui/named-fields'
import { plainId } from '../../../core/base/ids'
import { beatAt } from '../../../core/story/beat-at'
import { titleBeat } from '../../../core/story/reshape/naming'
import type { Beat } from '../../../core/story/types'
import { Quiet } from '../../../ui/buttons'
import { VerdictMark } from '../../../ui/marks'
import { DraftText } from '../../shared/fields/draft-text'
import { useThings } from '../../shared/naming/things'
import { useSession, useSessionState } from '../../shared/session/use-session'
import { useVerdict } from '../../shared/session/verdicts'
import { withKeys } from '../../../core/story/reshape/beat-edits'
import { editBeat, fieldOf, type BeatRef } from './edit-beat'
import { EndingField } from './ending-field'
import { Margin } from './margin'
import { addBeatAfter, moveBeatBy } from '../outline/structure'

/** A beat’s title and name, its verdict, and what leads on from there. */
export function BeatHeading({ beatRef, beat }: { beatRef: BeatRef; beat: Beat }) {
  const session = useSession()
  const verdict = useVerdict(`${beatRef.scene}.${beat.id}`)
  const isStart = useSessionState((state) => state.story.start === `${beatRef.scene}.${beat.id}`)
  const things = useThings()
  const shown = beat.title ?? plainId(beat.id)
  const rename = (text: string) => {
    if (text.trim() === '' || text.trim() === shown) return
    const { story } = session.getState()
    const now = beatAt(story, `${beatRef.scene}.${beat.id}`)
    if (now === undefined) return
    const { change, id } = titleBeat(story, beatRef.scene, now, text)
    session.edit(change)
    if (id === beat.id) return
    session.enter(`${beatRef.scene}.${id}`)
    if (document.activeElement === document.body) focusSoon(`${beatRef.scene}.${id}:name`)
  }
  return (
    <div className="row heading">
      <div className="heading-main">
        <VerdictMark verdict={verdict} />
        <h3 className="beat-name">
          <DraftText
            label="Name of the beat"
            field={fieldOf(beatRef, ':name')}
            value={shown}
            single
            onCommit={rename}
            onKeyDown={(event) => {
              if (event.altKey && (event.key === 'ArrowUp' || event.key === 'ArrowDown')) {
                event.preventDefault()
                const by = event.key === 'ArrowUp' ? -1 : 1
                queueMicrotask(() => moveBeatBy(session, beatRef, by))
              }
              if (event.key !== 'Enter') return
              event.preventDefault()
              if (event.shiftKey && (event.ctrlKey || event.metaKey)) addBeatAfter(session, beatRef)
              else event.currentTarget.closest('section')?.querySelector<HTMLElement>('.line .draft')?.focus()
            }}
          />
        </h3>
        {beat.title !== undefined && (
          <Quiet
            className="add"
            fontSize="xs"
            tabIndex={-1}
            title="Change the id everywhere"
            aria-label={`Rename ${beat.id}`}
            onClick={() => things.rename({ of: 'beat', scene: beatRef.scene, id: beat.id })}
          >
            {beat.id}
          </Quiet>
        )}
        {isStart && <span className="tag">the story begins here</span>}
        {beat.place && <span className="tag">players return here</span>}
        {beat.ending !== undefined && (
          <span className="tag">
            ending: <EndingField beat={beatRef} ending={beat.ending} />
          </span>
        )}
      </div>
      <Margin
        scene={beatRef.scene}
        when={undefined}
        lead=""
        field={fieldOf(beatRef, '')}
        notes={beat.notes}
        onNotes={(notes) => editBeat(session, beatRef, (now) => withKeys(now, { notes }))}
      />
    </div>
  )
}
