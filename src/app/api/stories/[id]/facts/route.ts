import { NextResponse } from 'next/server'
import * as z from 'zod'
import { factsSchema } from '../../../../../core/contract/answers'
import { keptSurveySchema } from '../../../../../core/survey/kept-survey'
import { handler } from '../../../../server/answers'
import { readBody } from '../../../../server/request'

/** Of the longest stories, in bytes. */
const SURVEY_BYTES = 8 * 1024 * 1024

const body = z.object({ revision: z.int().min(0), facts: factsSchema, survey: keptSurveySchema.optional() })

/** Keeps what the survey of an open story said, for the library and for whoever opens it next. */
export const POST = handler<{ id: string }>('write', async ({ request, store, params }) => {
  const read = await readBody(request, body, SURVEY_BYTES)
  if (!read.ok) return read.error
  const { revision, facts, survey } = read.value
  await store.ask('keepFacts', params.id, revision, facts, survey)
  return NextResponse.json({})
})
