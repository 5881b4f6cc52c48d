import * as z from 'zod'
import { declareStory } from '../story/declare'
import { routeItemSchema } from '../story/route-schema'
import type { Story } from '../story/types'
import { farBrief, type FarBrief, type FarSurvey } from './far-survey'
import { FINDING_KINDS, type FindingKind } from './findings/finding'
import type { SurveyBrief } from './result'

const count = z.int().min(0)
const names = z.array(z.string())
const reached = z.record(z.string(), z.object({ decisions: count }))
const verdicts = z.array(z.int().min(0).max(2))

/** What a survey said of a story, as it is kept with it: without the routes of findings and ends, and in numbers what there can be much of. */
export const keptSurveySchema: z.ZodType<KeptSurvey> = z.object({
  surveyor: z.string().max(200),
  /** What it took, in milliseconds. */
  took: z.number().min(0),
  brief: z.object({
    complete: z.boolean(),
    /** A VERDICT for each beat and each choice of the linked story. */
    beats: verdicts,
    choices: verdicts,
    ends: z.object({
      reached: z.object({ endings: reached, stages: reached }),
      unreached: z.object({ endings: names, stages: names }),
      undecided: z.object({ endings: names, stages: names, promises: names }),
    }),
    promises: z.record(
      z.string(),
      z.object({ verdict: z.enum(['kept', 'broken', 'undecided']), route: z.array(routeItemSchema).optional() }),
    ),
    findings: z.array(
      z.object({
        kind: z.enum(Object.keys(FINDING_KINDS) as FindingKind[]),
        level: z.enum(['error', 'warning', 'note']),
        key: names,
        message: z.string(),
        decisions: count.optional(),
      }),
    ),
    figures: z.object({ states: count, transitions: count, bits: count, bytes: count }),
  }),
})

export interface KeptSurvey {
  /** Which state of the program made it: what another said may be wrong in this one. */
  readonly surveyor: string
  readonly took: number
  readonly brief: FarBrief
}

/** A survey that came to its end, to be kept; undefined where it did not, or where no surveyor is known. */
export function keptSurvey(brief: SurveyBrief, took: number, surveyor: string): KeptSurvey | undefined {
  if (!brief.complete || surveyor === '') return undefined
  return { surveyor, took, brief: farBrief(brief) }
}

/** What was kept, and what it took, for a page that shows just this story; undefined where it holds nothing for it. */
export function recalledSurvey(
  kept: unknown,
  story: Story,
  surveyor: string,
): { readonly far: FarSurvey; readonly took: number } | undefined {
  const read = keptSurveySchema.safeParse(kept)
  if (!read.success || surveyor === '' || read.data.surveyor !== surveyor) return undefined
  const { beatOf, choiceOf } = declareStory(story)
  const { brief, took } = read.data
  if (brief.beats.length !== beatOf.size || brief.choices.length !== choiceOf.size) return undefined
  const addresses = { beats: [...beatOf.keys()], choices: [...choiceOf.keys()] }
  return { far: { brief, addresses, routes: {} }, took }
}
