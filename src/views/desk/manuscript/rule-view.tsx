'use client'

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
}

/** A road by itself: a redirect, an onward road, or one rule of a choice's list. */
export function RuleView({ scene, rule, field, lead, gateLead, onChange, onRemove }: Props) {
  return (
    <div className="row">
      <div className="road-row">
        <span className="small">{lead}</span>
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
