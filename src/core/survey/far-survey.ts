import type { RouteItem } from '../story/types'
import { nameOfFinding } from './findings/finding'
import type { SurveyBrief } from './result'
import type { Survey } from './survey'
import { choicesOf } from '../story/linked-parts'

/** A brief that JSON can hold. */
export interface FarBrief extends Omit<SurveyBrief, 'beats' | 'choices'> {
  readonly beats: readonly number[]
  readonly choices: readonly number[]
}

/** A survey as whoever did not do it can show it: every verdict, and the route that shows each finding and end. JSON can hold it. */
export interface FarSurvey {
  readonly brief: FarBrief
  readonly addresses: { readonly beats: readonly string[]; readonly choices: readonly string[] }
  /** By the name of a finding, and of an ending or stage (`endOf`). */
  readonly routes: Readonly<Record<string, readonly RouteItem[]>>
}

export function endOf(what: 'endings' | 'stages', id: string): string {
  return `${what}:${id}`
}

export function farBrief({ beats, choices, ...brief }: SurveyBrief): FarBrief {
  return { ...brief, beats: [...beats], choices: [...choices] }
}

/** What a survey says, to be sent elsewhere. */
export function farSurvey(survey: Survey): FarSurvey {
  const brief = survey.brief()
  const routes: Record<string, readonly RouteItem[]> = {}
  const note = (name: string, route: readonly RouteItem[] | undefined) => {
    if (route !== undefined) routes[name] = route
  }
  for (const finding of brief.findings) note(nameOfFinding(finding), survey.routeOf(finding.kind, finding.key))
  for (const what of ['endings', 'stages'] as const)
    for (const id of Object.keys(brief.ends.reached[what])) note(endOf(what, id), survey.routeTo(what, id))
  const { story } = survey
  return {
    brief: farBrief(brief),
    addresses: {
      beats: story.inOrder.map(({ address }) => address),
      choices: choicesOf(story).map(({ address }) => address),
    },
    routes,
  }
}
