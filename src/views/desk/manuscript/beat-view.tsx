'use client'

import { plainId } from '../../../core/base/ids'
import { memo } from 'react'
import { isGroup, isInTurn, type ArriveRule, type Beat } from '../../../core/story/types'
import { Quiet } from '../../../ui/buttons'
import { useSession, useSessionState } from '../../shared/session/use-session'
import { AskView } from './ask-view'
import { listOrNone, moveTo, removeAt, replaceAt, withKeys } from '../../../core/story/reshape/beat-edits'
import { ChoiceView } from './choice-view'
import { editBeat, fieldOf, type BeatRef } from './edit-beat'
import { LineView } from './line-view'
import { Margin } from './margin'
import { RuleView } from './rule-view'
import { TurnsView } from './turns-view'
import { BeatHeading } from './beat-heading'
import { BeatTools } from './beat-tools'
import { GroupView } from './group-view'

/** One beat of the manuscript, in the order in which it plays. */
export const BeatView = memo(function BeatView({ scene, beat }: { scene: string; beat: Beat }) {
  const session = useSession()
  const ref: BeatRef = { scene, id: beat.id }
  const current = useSessionState((state) => state.beat === `${scene}.${beat.id}`)
  const update = (make: (beat: Beat) => Beat | undefined) => editBeat(session, ref, make)
  return (
    <section
      className="beat"
      id={`${scene}.${beat.id}`}
      aria-label={`Beat ${beat.title ?? plainId(beat.id)}`}
      data-current={current}
      onFocus={() => session.enter(`${scene}.${beat.id}`)}
      onMouseDown={() => session.enter(`${scene}.${beat.id}`)}
    >
      <BeatHeading beatRef={ref} beat={beat} />
      {beat.redirects?.map((rule, at) => (
        <RuleView
          key={at}
          scene={scene}
          rule={rule}
          field={fieldOf(ref, `#redirect${at + 1}`)}
          lead="sent elsewhere"
          gateLead="if"
          onChange={(next) => update((now) => ({ ...now, redirects: replaceAt(now.redirects, at, next) }))}
          onRemove={() => update((now) => withKeys(now, { redirects: listOrNone(removeAt(now.redirects, at)) }))}
          onMove={(from, to) =>
            update((now) => {
              const redirects = moveTo(now.redirects, from, to)
              return redirects && { ...now, redirects }
            })
          }
        />
      ))}
      {beat.arrive?.map((rule, at) => (
        <ArriveView key={at} beat={ref} at={at} rule={rule} />
      ))}
      {beat.lines?.map((line, at) =>
        isInTurn(line) ? (
          <TurnsView key={at} beat={ref} path={{ at }} group={line} />
        ) : isGroup(line) ? (
          <GroupView key={at} beat={ref} at={at} group={line} />
        ) : (
          <LineView key={at} beat={ref} path={{ at }} line={line} />
        ),
      )}
      {beat.ask !== undefined && <AskView beat={ref} ask={beat.ask} />}
      {beat.choices?.map((choice, at) => (
        <ChoiceView key={at} beat={ref} at={at} choice={choice} />
      ))}
      {beat.onward?.map((rule, at) => (
        <RuleView
          key={at}
          scene={scene}
          rule={rule}
          field={fieldOf(ref, `#onward${at + 1}`)}
          lead={at > 0 ? 'or else goes on' : beat.choices === undefined ? 'goes on' : 'with no choice open, goes on'}
          gateLead="if"
          onChange={(next) => update((now) => ({ ...now, onward: replaceAt(now.onward, at, next) }))}
          onRemove={() => update((now) => withKeys(now, { onward: listOrNone(removeAt(now.onward, at)) }))}
          onMove={(from, to) =>
            update((now) => {
              const onward = moveTo(now.onward, from, to)
              return onward && { ...now, onward }
            })
          }
        />
      ))}
      <BeatTools beatRef={ref} beat={beat} />
    </section>
  )
})

function ArriveView({ beat, at, rule }: { beat: BeatRef; at: number; rule: ArriveRule }) {
  const session = useSession()
  const update = (make: (rule: ArriveRule) => ArriveRule | undefined) =>
    editBeat(session, beat, (now) => {
      const next = make(now.arrive![at]!)
      return withKeys(now, {
        arrive: listOrNone(next === undefined ? removeAt(now.arrive, at) : replaceAt(now.arrive, at, next)),
      })
    })
  return (
    <div className="row">
      <div className="road-row">
        <span className="small">on arrival, whoever comes</span>
        <Quiet className="add" onClick={() => update(() => undefined)}>
          Take away
        </Quiet>
      </div>
      <Margin
        scene={beat.scene}
        when={rule.when}
        effects={rule.do}
        lead="if"
        effectLead="on arrival:"
        field={fieldOf(beat, `#arrive${at + 1}`)}
        onWhen={(when) => update((now) => withKeys(now, { when }))}
        onEffects={(effects) => update((now) => withKeys(now, { do: effects }))}
        notes={rule.notes}
        onNotes={(notes) => update((now) => withKeys(now, { notes }))}
      />
    </div>
  )
}
