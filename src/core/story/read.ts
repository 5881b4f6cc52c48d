import type * as z from 'zod'
import { isDeeperThan } from '../base/depth'
import { DOCUMENT_DEPTH } from '../base/limits'
import { parseJson } from '../base/parse-json'
import { fail, ok, type Result } from '../base/result'
import { storySchema } from './schema'
import type { Story } from './types'

/** Why something is no story document: where, and what was expected there. */
export interface Malformed {
  /** `scenes[0].beats[2].to`, followed by the address where ids are known: "(quay.morning)". */
  readonly where: string
  readonly message: string
}

/** Reads the text of a story file. What is malformed is refused whole, with the first ten reasons. */
export function readStory(text: string): Result<Story, Malformed[]> {
  const parsed = parseJson(text)
  if (!parsed.ok) return fail([{ where: 'the file', message: `this is not JSON: ${parsed.error}` }])
  if (isDeeperThan(parsed.value, DOCUMENT_DEPTH))
    return fail([{ where: 'the file', message: `it is nested more than ${DOCUMENT_DEPTH} deep; no story is` }])
  return checkStory(parsed.value)
}

/** Checks the shape of a story document that has already been parsed as JSON. */
export function checkStory(json: unknown): Result<Story, Malformed[]> {
  const checked = storySchema.safeParse(json)
  // as it was written: unknown keys and the order of keys are the writer's
  if (checked.success) return ok(json as Story)
  return fail(explain(checked.error, json))
}

/** The issues of a failed check as places and plain sentences. */
export function explain(error: z.ZodError, json: unknown): Malformed[] {
  return error.issues.slice(0, 10).map((issue) => {
    const { path, message } = innermost(issue)
    return { where: describe(path, json), message }
  })
}

export function formatMalformed(errors: readonly Malformed[]): string {
  return errors.map((error) => `${error.where}: ${error.message}`).join('\n')
}

interface Place {
  readonly path: PropertyKey[]
  readonly message: string
}

/** Of a union's branches the one that came furthest is the one that was meant. */
function innermost(issue: z.core.$ZodIssue): Place {
  if (issue.code !== 'invalid_union' || issue.errors.length === 0) return { path: issue.path, message: plain(issue) }
  const branches = issue.errors.filter((branch) => branch.length > 0)
  const depth = (branch: z.core.$ZodIssue[]) => Math.min(...branch.map((inner) => inner.path.length))
  const best = branches.sort((a, b) => depth(b) - depth(a) || a.length - b.length)[0]
  if (best === undefined) return { path: issue.path, message: plain(issue) }
  const inner = innermost(best[0]!)
  return { path: [...issue.path, ...inner.path], message: inner.message }
}

function plain(issue: z.core.$ZodIssue): string {
  if (issue.code === 'invalid_type' && /received undefined/.test(issue.message))
    return `this key is missing (expected ${issue.expected})`
  if (issue.code === 'invalid_union' && 'discriminator' in issue) return `unknown ${String(issue.discriminator)}`
  return issue.message.replace(/^Invalid input: /, '').replace(/^Invalid option: /, '')
}

function describe(path: readonly PropertyKey[], json: unknown): string {
  let shown = ''
  const ids: string[] = []
  let at: unknown = json
  for (const key of path) {
    shown += typeof key === 'number' ? `[${key}]` : shown === '' ? String(key) : `.${String(key)}`
    at = at !== null && typeof at === 'object' ? (at as Record<PropertyKey, unknown>)[key] : undefined
    const id = at !== null && typeof at === 'object' ? (at as { id?: unknown }).id : undefined
    if (typeof id === 'string' && id !== '') ids.push(id)
  }
  if (shown === '') return 'the file'
  return ids.length === 0 ? shown : `${shown} (${ids.join('.')})`
}
