'use client'

import { isGroup, type Variant, type VariantGroup } from '../../../core/story/types'
import { Quiet } from '../../../ui/buttons'
import { useSession } from '../../shared/session/use-session'
import { listOrNone, moveTo, removeAt, replaceAt, withKeys } from '../../../core/story/reshape/beat-edits'
import { editBeat, fieldOf, type BeatRef } from './edit-beat'
import { newLine } from '../../../session/new-line'
import { LineView } from './line-view'
import { Margin, type MarginHead } from './margin'
import { TurnsView } from './turns-view'
import { addVariant, takeTurns } from '../outline/structure'

/** Lines of which the first variant that holds is shown. */
export function GroupView({ beat, at, group }: { beat: BeatRef; at: number; group: VariantGroup }) {
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
