'use client'

import { focusSoon } from '../../../ui/named-fields'
import { listOrNone, moveTo, removeAt, replaceAt, withKeys } from '../../../core/story/reshape/beat-edits'
import { isInTurn, type Order, type TurnGroup, type Variant } from '../../../core/story/types'
import { newLine } from '../../../session/new-line'
import { Quiet } from '../../../ui/buttons'
import { useSession } from '../../shared/session/use-session'
import { editBeat, fieldOf, turnsName, updateTurns, type BeatRef, type TurnsPath } from './edit-beat'
import { LineView } from './line-view'
import { Margin, type MarginHead } from './margin'
import { EditSelect } from '../../shared/fields/edits'

/** What comes after the last turn, in words. */
export const ORDERS: Readonly<Record<Order, string>> = {
  again: 'after the last, starts over',
  last: 'after the last, stays with the last',
  once: 'after the last, nothing',
  any: 'the game picks any, each time',
}

/** Lines that come in turn: the first turn the first time the story comes here, and so on. */
export function TurnsView({
  beat,
  path,
  group,
  head,
}: {
  beat: BeatRef
  path: TurnsPath
  group: TurnGroup | Variant
  /** Of the variant whose lines come in turn. */
  head?: MarginHead | undefined
}) {
  const session = useSession()
  const turns = group.inTurn ?? []
  const order = group.order ?? 'again'
  const own = fieldOf(beat, `#${turnsName(path)}`)
  const alone = path.variant === undefined
  const update = (make: <T extends TurnGroup | Variant>(group: T) => T) =>
    editBeat(session, beat, (now) => updateTurns(now, path, make))
  const addTurn = () => {
    update((now) => ({ ...now, inTurn: [...(now.inTurn ?? []), { lines: [newLine()] }] }))
    focusSoon(`${own}.turn${turns.length + 1}.line1`)
  }
  const takeAway = (at: number) => {
    if (turns.length > 1) return update((now) => ({ ...now, inTurn: removeAt(now.inTurn, at) }))
    editBeat(session, beat, (now) =>
      alone
        ? withKeys(now, { lines: listOrNone(removeAt(now.lines, path.at)) })
        : updateTurns(
            now,
            path,
            (one) =>
              ({
                ...withKeys(one as Variant, { inTurn: undefined, order: undefined }),
                lines: [newLine()],
              }) as typeof one,
          ),
    )
  }
  const headOf = (at: number): MarginHead => ({
    field: `${own}.turn${at + 1}`,
    words: order === 'any' ? `one of ${turns.length}` : whenShown(at, turns.length, order),
    lead: '',
    isTurn: true,
    items: [
      { id: 'head-add', text: 'another turn', onPick: addTurn },
      ...(at === 0
        ? []
        : [
            {
              id: 'head-earlier',
              text: 'comes earlier',
              hint: 'before the turn above',
              onPick: () => update((now) => ({ ...now, inTurn: moveTo(now.inTurn, at, at - 1) ?? now.inTurn! })),
            },
          ]),
      { id: 'head-remove', text: 'take this turn away', onPick: () => takeAway(at) },
    ],
  })
  return (
    <div className="variants turns" role="group" aria-label="Lines in turn">
      <div className="row">
        <span className="small">
          takes turns;{' '}
          <EditSelect
            className="order"
            aria-label="What comes after the last turn"
            value={order}
            onChange={(event) =>
              update((now) => withKeys<TurnGroup | Variant>(now, { order: orderOf(event.target.value) }) as typeof now)
            }
          >
            {Object.entries(ORDERS).map(([one, words]) => (
              <option key={one} value={one}>
                {words}
              </option>
            ))}
          </EditSelect>
        </span>
        {head !== undefined && <Margin scene={beat.scene} when={undefined} lead="" field={own} head={head} />}
        {alone && isInTurn(group as TurnGroup) && (
          <Margin
            scene={beat.scene}
            when={(group as TurnGroup).when}
            lead="only when"
            field={own}
            onWhen={(when) => update((now) => withKeys<TurnGroup | Variant>(now, { when }) as typeof now)}
            notes={group.notes}
            onNotes={(notes) => update((now) => withKeys<TurnGroup | Variant>(now, { notes }) as typeof now)}
          />
        )}
      </div>
      {turns.map((turn, at) => (
        <div className="variant" key={at}>
          {turn.lines.map((line, number) => (
            <LineView
              key={number}
              beat={beat}
              path={{ ...path, turn: at, line: number }}
              line={line}
              head={number === 0 ? headOf(at) : undefined}
            />
          ))}
          {turn.lines.length === 0 && (
            <div className="row">
              <Quiet
                className="add"
                onClick={() => {
                  update((now) => ({
                    ...now,
                    inTurn: replaceAt(now.inTurn, at, { ...now.inTurn![at]!, lines: [newLine()] }),
                  }))
                  focusSoon(`${own}.turn${at + 1}.line1`)
                }}
              >
                nothing is said this time; + line
              </Quiet>
              <Margin scene={beat.scene} when={undefined} lead="" field={`${own}.turn${at + 1}`} head={headOf(at)} />
            </div>
          )}
        </div>
      ))}
    </div>
  )
}

function whenShown(at: number, turns: number, order: Order): string {
  const time = nth(at + 1)
  return at < turns - 1 || order === 'once'
    ? time
    : order === 'last'
      ? `${time}, and from then on`
      : `${time}, then over`
}

function orderOf(value: string): Order | undefined {
  return value === 'again' ? undefined : (value as Order)
}

const NTH = ['', 'the first time', 'the second time', 'the third time']

function nth(number: number): string {
  return NTH[number] ?? `the ${number}th time`
}
