import type { SurveyReport } from '../../session/survey-report'
import type { Story } from '../../core/story/types'
import { itemName } from '../../session/names'

type Ends = Pick<SurveyReport, 'reached' | 'unreached'>

/** What an edit did to endings and stages, in a few words; undefined when it did nothing to them. */
export function consequence(story: Story, before: Ends | undefined, after: Ends | undefined): string | undefined {
  if (before === undefined || after === undefined || before === after) return undefined
  const lost: string[] = []
  const won: string[] = []
  for (const what of ['endings', 'stages'] as const) {
    for (const id of after.unreached[what])
      if (before.reached[what][id] !== undefined) lost.push(itemName(story, what, id))
    for (const id of Object.keys(after.reached[what]))
      if (before.unreached[what].includes(id)) won.push(itemName(story, what, id))
  }
  const parts = [
    ...(lost.length > 0 ? [`${few(lost)} no longer reached`] : []),
    ...(won.length > 0 ? [`${few(won)} reached now`] : []),
  ]
  return parts.length === 0 ? undefined : parts.join(', ')
}

function few(names: readonly string[]): string {
  return names.length <= 2 ? names.join(' and ') : `${names[0]} and ${names.length - 1} more`
}
