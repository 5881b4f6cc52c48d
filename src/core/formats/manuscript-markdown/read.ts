import { ok, fail, type Result } from '../../base/result'
import type { ReadManuscript } from '../manuscript'
import { textOf } from '../payload'
import { treeOf } from './parse'
import { manuscriptIn } from './tree'

/** Reads Markdown (CommonMark) as a manuscript. */
export function readMarkdown(bytes: Uint8Array): Result<ReadManuscript> {
  const text = textOf(bytes)
  if (!text.ok) return text
  const read = manuscriptIn(treeOf(text.value))
  return read.parts.length === 0 ? fail('there is no text in this file') : ok(read)
}
