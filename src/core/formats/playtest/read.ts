import * as z from 'zod'
import { isDeeperThan } from '../../base/depth'
import { DOCUMENT_DEPTH } from '../../base/limits'
import { parseJson } from '../../base/parse-json'
import { fail, ok, type Result } from '../../base/result'
import { explain, formatMalformed } from '../../story/read'
import { routeItemSchema } from '../../story/route-schema'

const seconds = z.number().min(0).max(1e7)

/** The most steps of a record; nobody plays more by hand. */
const STEPS_MAX = 20_000

/** How somebody played elsewhere: what they did, and how long the story rested before each. */
export const playRecordSchema = z.looseObject({
  paperCompassPlaytest: z.literal(1, { error: 'expected "paperCompassPlaytest": 1' }),
  story: z.string(),
  version: z.string(),
  title: z.string(),
  language: z.string(),
  steps: z.array(z.looseObject({ item: routeItemSchema, at: z.string(), seconds })).max(STEPS_MAX),
  stopped: z.looseObject({ at: z.string(), status: z.string(), ending: z.string().optional(), seconds }),
})

export type PlayRecord = z.infer<typeof playRecordSchema>

/** Reads the text of a record; a damaged one is refused with the reasons. */
export function readPlayRecord(text: string): Result<PlayRecord> {
  const parsed = parseJson(text)
  if (!parsed.ok) return fail(`this is no record of a playtest: it is not JSON (${parsed.error})`)
  const json = parsed.value
  if (isDeeperThan(json, DOCUMENT_DEPTH)) return fail('this is no record of a playtest: it is nested too deep')
  const checked = playRecordSchema.safeParse(json)
  return checked.success
    ? ok(checked.data)
    : fail(`this is no record of a playtest: ${formatMalformed(explain(checked.error, json))}`)
}
