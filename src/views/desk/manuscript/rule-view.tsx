'use client'

import { focusSoon } from '../../../ui/named-fields'
import type { Rule } from '../../../core/story/types'
import { Quiet } from '../../../ui/buttons'
import { withKeys } from '../../../core/story/reshape/beat-edits'
import { Margin } from './margin'
import { RoadField } from './road'

interface Props {
  readonly scene: string
  readonly rule: Rule
  readonly field: string
  /** What kind of road it is, as read on the page: "onward", "or", "sent elsewhere". */
  readonly lead: string
  readonly gateLead: string
  readonly onChange: (rule: Rule) => void
  readonly onRemove: () => void
  /** Moves one of the roads that it is tried with to where another stands; indices. */
  readonly onMove: (from: number, to: number) => void
}

/** What a dragged road says it is: it is dropped only among those that it stands with. */
const dragType = (group: string) => `application/x-road-${group.toLowerCase()}`

/** A road by itself: a redirect, an onward road, or one rule of a choice's list. */
export function RuleView({ scene, rule, field, lead, gateLead, onChange, onRemove, onMove }: Props) {
  // roads that stand together have one name but for their number
  const [, group, number] = /^(.*?)(\d+)$/.exec(field)!
  const at = Number(number) - 1
  const move = (from: number, to: number) => {
    if (from === to || to < 0) return
    onMove(from, to)
    focusSoon(`${group}${to + 1}>to`)
  }
  return (
    <div
      className="row"
      onKeyDown={(event) => {
        if (!event.altKey || (event.key !== 'ArrowUp' && event.key !== 'ArrowDown')) return
        event.preventDefault()
        move(at, event.key === 'ArrowUp' ? at - 1 : at + 1)
      }}
      onDragOver={(event) => {
        if (event.dataTransfer.types.includes(dragType(group!))) event.preventDefault()
      }}
      onDrop={(event) => {
        const from = event.dataTransfer.getData(dragType(group!))
        if (from === '') return
        event.preventDefault()
        move(Number(from), at)
      }}
    >
      <div className="road-row">
        <span
          className="small grip"
          draggable
          title="Drag, or Alt+↑ Alt+↓, to change the order"
          onDragStart={(event) => {
            event.dataTransfer.setData(dragType(group!), String(at))
            event.dataTransfer.effectAllowed = 'move'
          }}
        >
          {lead}
        </span>
        <RoadField
          scene={scene}
          to={rule.to}
          field={`${field}>to`}
          label={`${lead}: where to`}
          onChange={(to) => onChange({ ...rule, to })}
        />
        <Quiet className="add" aria-label={`Take this road away (${lead})`} onClick={onRemove}>
          Take away
        </Quiet>
      </div>
      <Margin
        scene={scene}
        when={rule.when}
        effects={rule.do}
        lead={gateLead}
        field={field}
        onWhen={(when) => onChange(withKeys(rule, { when }))}
        onEffects={(effects) => onChange(withKeys(rule, { do: effects }))}
        notes={rule.notes}
        onNotes={(notes) => onChange(withKeys(rule, { notes }))}
      />
    </div>
  )
}
