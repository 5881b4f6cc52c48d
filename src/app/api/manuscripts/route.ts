import { NextResponse } from 'next/server'
import { formCalled, formsFor } from '../../../core/formats/forms'
import { portOf } from '../../../core/formats/ports'
import { INCOMING_BYTES } from '../../../core/formats/payload'
import { handler, refuse } from '../../server/answers'
import { readBytes } from '../../server/request'

const FORMATS = formsFor('manuscript')
  .map(({ id }) => id)
  .join(', ')

/** Reads a file as a manuscript; nothing goes in: what it would make is answered. */
export const POST = handler('here', async ({ request }) => {
  const form = formCalled('manuscript', new URL(request.url).searchParams.get('format') ?? '')
  if (form === undefined) return refuse(400, `format: one of ${FORMATS} is expected`)
  const bytes = await readBytes(request, INCOMING_BYTES)
  if (!bytes.ok) return bytes.error
  const read = await (await portOf('manuscript', form))(bytes.value)
  return read.ok ? NextResponse.json(read.value) : refuse(422, read.error)
})
