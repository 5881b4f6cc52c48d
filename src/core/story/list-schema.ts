import * as z from 'zod'
import type * as core from 'zod/v4/core'

/** Complaints that are collected of one list; whoever reads them mends those first. */
export const COMPLAINTS_MAX = 10

/**
 * A list of items of one shape, as `z.array` says it, that stops looking when it has enough complaints: a large file of
 * another kind has millions.
 */
export function listOf<Item extends z.ZodType>(item: Item): z.ZodArray<Item> {
  const schema = z.array(item)
  const check = (payload: core.ParsePayload, context: core.ParseContextInternal) => {
    const input = payload.value
    if (!Array.isArray(input)) {
      payload.issues.push({ code: 'invalid_type', expected: 'array', input, inst: schema })
      return payload
    }
    for (const [at, value] of (input as unknown[]).entries()) {
      const result = item._zod.run({ value, issues: [] }, context)
      if (result instanceof Promise) throw new Error('shapes of a document are checked at once')
      for (const issue of result.issues) payload.issues.push({ ...issue, path: [at, ...(issue.path ?? [])] })
      if (payload.issues.length >= COMPLAINTS_MAX) break
    }
    return payload
  }
  schema._zod.parse = check
  schema._zod.run = check
  return schema
}
