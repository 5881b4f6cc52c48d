'use client'

import { focusSoon } from '../../../ui/named-fields'
import { plainId } from '../../../core/base/ids'
import { memo, useState } from 'react'
import { beatAt } from '../../../core/story/beat-at'
import { titleBeat } from '../../../core/story/reshape/naming'
import {
  isGroup,
  isInTurn,
  type ArriveRule,
  type Beat,
  type Variant,
  type VariantGroup,
} from '../../../core/story/types'
import { Quiet } from '../../../ui/buttons'
import { VerdictMark } from '../../../ui/marks'
import { DraftText } from '../../shared/fields/draft-text'
import { useThings } from '../../shared/naming/things'
import { useSession, useSessionState } from '../../shared/session/use-session'
import { useVerdict } from '../../shared/session/verdicts'
import { AskView } from './ask-view'
import { Bare } from '../../../ui/bare'
import { MoreMenu } from '../../../ui/more-menu'
import { listOrNone, mayChoose, moveTo, removeAt, replaceAt, withKeys } from '../../../core/story/reshape/beat-edits'
import { ChoiceView } from './choice-view'
import { editBeat, fieldOf, type BeatRef } from './edit-beat'
import { EndingField } from './ending-field'
import { newLine } from '../../../session/new-line'
import { LineView } from './line-view'
import { Margin, type MarginHead } from './margin'
import { RuleView } from './rule-view'
import { TurnsView } from './turns-view'
import {
  addArrival,
  addBeatAfter,
  addChoice,
  addLine,
  addOnward,
  addRedirect,
  addTurns,
  addVariant,
  addVariants,
  moveBeatBy,
  takeTurns,
} from '../outline/structure'

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
      <Heading beatRef={ref} beat={beat} />
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
      <Tools beatRef={ref} beat={beat} />
    </section>
  )
})

function Heading({ beatRef, beat }: { beatRef: BeatRef; beat: Beat }) {
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

function GroupView({ beat, at, group }: { beat: BeatRef; at: number; group: VariantGroup }) {
  const session = useSession()
  const update = (make: (group: VariantGroup) => VariantGroup | undefined) =>
    editBeat(session, beat, (now) => {
      const line = now.lines?.[at]
      if (line === undefined || !isGroup(line)) return undefined
      const next = make(line)
      return withKeys(now, {
        lines: listOrNone(next === undefined ? removeAt(now.lines, at) : replaceAt(now.lines, at, next)),
      })
    })
  const headOf = (variant: Variant, index: number): MarginHead => ({
    field: fieldOf(beat, `#line${at + 1}.variant${index + 1}`),
    words: index === 0 ? 'always' : 'otherwise',
    lead: index === 0 ? 'when' : 'or else, when',
    when: variant.when,
    onWhen: (when) =>
      update((now) => ({
        ...now,
        firstOf: replaceAt(now.firstOf, index, withKeys(now.firstOf[index]!, { when })),
      })),
    notes: variant.notes,
    onNotes: (notes) =>
      update((now) => ({
        ...now,
        firstOf: replaceAt(now.firstOf, index, withKeys(now.firstOf[index]!, { notes })),
      })),
    items: [
      {
        id: 'head-add',
        text: 'another variant',
        hint: 'Ctrl+Alt+Enter',
        onPick: () => addVariant(session, beat, at),
      },
      ...(index > 0
        ? [
            {
              id: 'head-earlier',
              text: 'asked earlier',
              hint: 'before the variant above',
              onPick: () =>
                update((now) => {
                  const firstOf = moveTo(now.firstOf, index, index - 1)
                  return firstOf && { ...now, firstOf }
                }),
            },
          ]
        : []),
      ...(variant.inTurn === undefined
        ? [
            {
              id: 'head-turns',
              text: 'lines in turn',
              hint: 'another each time',
              onPick: () => takeTurns(session, beat, { at, variant: index }),
            },
          ]
        : []),
      {
        id: 'head-remove',
        text: 'take this variant away',
        onPick: () =>
          update((now) => (now.firstOf.length === 1 ? undefined : { ...now, firstOf: removeAt(now.firstOf, index) })),
      },
    ],
  })
  return (
    <div className="variants">
      {group.firstOf.map((variant, index) => (
        <div className="variant" key={index}>
          {variant.inTurn !== undefined ? (
            <TurnsView beat={beat} path={{ at, variant: index }} group={variant} head={headOf(variant, index)} />
          ) : variant.lines === undefined || variant.lines.length === 0 ? (
            <div className="row">
              <Quiet
                className="add"
                onClick={() =>
                  update((now) => ({
                    ...now,
                    firstOf: replaceAt(now.firstOf, index, { ...now.firstOf[index]!, lines: [newLine()] }),
                  }))
                }
              >
                nothing is said then; + line
              </Quiet>
              <Margin
                scene={beat.scene}
                when={undefined}
                lead=""
                field={fieldOf(beat, `#line${at + 1}.variant${index + 1}`)}
                head={headOf(variant, index)}
              />
            </div>
          ) : (
            variant.lines.map((line, number) => (
              <LineView
                key={number}
                beat={beat}
                path={{ at, variant: index, line: number }}
                line={line}
                head={number === 0 ? headOf(variant, index) : undefined}
              />
            ))
          )}
        </div>
      ))}
    </div>
  )
}

function Tools({ beatRef, beat }: { beatRef: BeatRef; beat: Beat }) {
  const session = useSession()
  const [naming, setNaming] = useState(false)
  const isStart = useSessionState((state) => state.story.start === `${beatRef.scene}.${beat.id}`)
  const open = beat.ending === undefined
  const mayEnd = beat.choices === undefined && beat.ask === undefined && beat.onward === undefined
  const shown = beat.title ?? plainId(beat.id)
  const things = useThings()
  return (
    <div className="beat-tools" role="group" aria-label={`Add to ${shown}`}>
      <Tool onClick={() => addLine(session, beatRef)} keys="Enter in a line">
        + line
      </Tool>
      {mayChoose(beat) && (
        <Tool onClick={() => addChoice(session, beatRef)} keys="Ctrl+Enter">
          + choice
        </Tool>
      )}
      {open && <Tool onClick={() => addOnward(session, beatRef)}>+ goes on</Tool>}
      {open && mayEnd && !naming && <Tool onClick={() => setNaming(true)}>+ ending</Tool>}
      {naming && <EndingField beat={beatRef} ending={undefined} onDone={() => setNaming(false)} />}
      <Tool onClick={() => addBeatAfter(session, beatRef)} keys="Ctrl+Shift+Enter">
        + beat
      </Tool>
      <MoreMenu
        className="add tool"
        label={`More for ${shown}`}
        text="more …"
        items={() => [
          {
            id: 'variants',
            text: 'variants',
            hint: 'one line or another, the first that holds',
            onPick: () => addVariants(session, beatRef),
          },
          {
            id: 'turns',
            text: 'lines in turn',
            hint: 'another each time',
            onPick: () => addTurns(session, beatRef),
          },
          ...(open && beat.choices === undefined && beat.ask === undefined
            ? [
                {
                  id: 'ask',
                  text: 'ask a word',
                  hint: 'the player types it',
                  onPick: () => editBeat(session, beatRef, (now) => ({ ...now, ask: { into: '', prompt: '' } })),
                },
              ]
            : []),
          {
            id: 'redirect',
            text: 'sent elsewhere',
            hint: 'before anything here plays',
            onPick: () => addRedirect(session, beatRef),
          },
          {
            id: 'arrival',
            text: 'on arrival',
            hint: 'changes whoever comes',
            onPick: () => addArrival(session, beatRef),
          },
          {
            id: 'place',
            text: beat.place ? 'players no longer return here' : 'players return here',
            hint: 'a place: where “return” leads',
            onPick: () => editBeat(session, beatRef, (now) => withKeys(now, { place: now.place ? undefined : true })),
          },
          ...(isStart
            ? []
            : [
                {
                  id: 'start',
                  text: 'begin here',
                  hint: 'the story begins with this beat',
                  onPick: () => session.edit({ op: 'set-story', values: { start: `${beatRef.scene}.${beat.id}` } }),
                },
              ]),
          {
            id: 'delete',
            text: 'delete beat',
            onPick: () => things.remove({ of: 'beat', scene: beatRef.scene, id: beat.id }),
          },
        ]}
      />
    </div>
  )
}

function Tool({ onClick, keys, children }: { onClick: () => void; keys?: string; children: string }) {
  return (
    <Bare className="add tool" title={keys} onClick={onClick}>
      {children}
    </Bare>
  )
}
