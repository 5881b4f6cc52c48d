import { strToU8 } from 'fflate'
import type { Written } from '../src/core/formats/form'
import type { Payload } from '../src/core/formats/payload'

/** What was written, which must have been possible. */
export function written(content: Written): Payload {
  if (!content.ok) throw new Error(content.error)
  return content.value
}

/** The bytes of a file. */
export function bytesOf(content: Payload): Uint8Array {
  return typeof content === 'string' ? strToU8(content) : content
}
