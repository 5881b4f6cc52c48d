import { fail, ok, type Result } from '../../base/result'
import { readScript } from '../../story/reshape/script-paste'
import type { ReadManuscript } from '../manuscript'
import { textOf } from '../payload'

/** Reads a plain text as a script. */
export function readPlainScript(bytes: Uint8Array): Result<ReadManuscript> {
  const text = textOf(bytes)
  if (!text.ok) return text
  const parts = readScript(text.value.replace(/^\uFEFF/, ''))
  return parts.length === 0 ? fail('there is no text in this file') : ok({ parts })
}
