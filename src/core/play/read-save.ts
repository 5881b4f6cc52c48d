import * as z from 'zod'
import { SAVE_VERSION } from '../base/limits'
import { fail, ok, type Result } from '../base/result'
import { explain, formatMalformed } from '../story/read'

const count = z.int().min(0)

/** A playthrough where it rests, by names alone, so that another version of the story can take it up. */
export const saveSchema = z.looseObject({
  paperCompassSave: z.literal(SAVE_VERSION, { error: `expected "paperCompassSave": ${SAVE_VERSION}` }),
  at: z.string(),
  status: z.enum(['choice', 'word', 'ended', 'stuck']),
  ending: z.string().nullable(),
  place: z.string().nullable(),
  ledger: z.record(z.string(), z.union([z.boolean(), z.number(), z.string()])),
  stages: z.record(z.string(), z.string()),
  visits: z.record(z.string(), count),
  taken: z.array(z.string()),
  turns: z.record(z.string(), count),
})

export type Save = z.infer<typeof saveSchema>

/** Reads the text of a save; a damaged one is refused with the reasons. */
export function readSave(text: string): Result<Save> {
  let json: unknown
  try {
    json = JSON.parse(text.replace(/^\uFEFF/, ''))
  } catch (error) {
    return fail(`this save can not be read: it is not JSON (${(error as Error).message})`)
  }
  const checked = saveSchema.safeParse(json)
  return checked.success
    ? ok(checked.data)
    : fail(`this save can not be read: ${formatMalformed(explain(checked.error, json))}`)
}
