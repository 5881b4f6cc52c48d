import * as z from 'zod'
import { fail, ok, type Result } from '../../base/result'
import { explain, formatMalformed } from '../read'
import { PAGE_KEYS, itemSchemas, languageSchema, sceneEntrySchema, storySchema, translationSchema } from '../schema'
import { SCENE_LISTS, STORY_LISTS } from './lists'
import type { Change, Item, ListPath } from './types'

const listPath = z.union([
  z.strictObject({ list: z.enum(STORY_LISTS) }),
  z.strictObject({ list: z.enum(SCENE_LISTS), scene: z.string() }),
])
const at = z.int().min(0)

const storyValues = z.strictObject({
  title: storySchema.shape.title.optional(),
  language: storySchema.shape.language.optional(),
  start: z.string().optional(),
  notes: z.string().nullable().optional(),
  textLimit: storySchema.shape.textLimit.unwrap().nullable().optional(),
})
const sceneValues = z.strictObject({
  id: itemSchemas.scenes.shape.id.optional(),
  title: z.string().optional(),
  notes: z.string().nullable().optional(),
})

const pageValues = z.strictObject(Object.fromEntries(PAGE_KEYS.map((key) => [key, z.string().nullable().optional()])))

const texts = z.record(z.string(), translationSchema.nullable())

const single = z.discriminatedUnion('op', [
  z.strictObject({ op: z.literal('insert'), in: listPath, at, item: z.unknown() }),
  z.strictObject({ op: z.literal('remove'), in: listPath, id: z.string(), at, drops: z.literal(true).optional() }),
  z.strictObject({
    op: z.literal('replace'),
    in: listPath,
    id: z.string(),
    at,
    item: z.unknown(),
    was: z.unknown().optional(),
  }),
  z.strictObject({ op: z.literal('move'), in: listPath, id: z.string(), at, to: at }),
  z.strictObject({ op: z.literal('set-story'), values: storyValues, was: storyValues.optional() }),
  z.strictObject({ op: z.literal('set-page'), values: pageValues, was: pageValues.optional() }),
  z.strictObject({ op: z.literal('set-texts'), language: languageSchema, values: texts, was: texts.optional() }),
  z.strictObject({ op: z.literal('set-scene'), scene: z.string(), values: sceneValues, was: sceneValues.optional() }),
])

/** Checks a change that comes from outside: its own shape, and the shape of the item it brings. */
export function readChange(json: unknown): Result<Change> {
  const batch = z.strictObject({ op: z.literal('batch'), changes: z.array(z.unknown()) }).safeParse(json)
  if (batch.success) {
    const changes: Change[] = []
    for (const inner of batch.data.changes) {
      const change = readChange(inner)
      if (!change.ok) return change
      changes.push(change.value)
    }
    return ok({ op: 'batch', changes })
  }
  const change = single.safeParse(json)
  if (!change.success) return fail(formatMalformed(explain(change.error, json)))
  if (change.data.op !== 'insert' && change.data.op !== 'replace') return ok(change.data as Change)
  const checked = schemaOf(change.data.in).safeParse(change.data.item)
  if (!checked.success) return fail(formatMalformed(explain(checked.error, change.data.item)))
  // as it was sent: the order of its keys is the writer's
  const sent = { ...change.data, item: change.data.item as Item }
  if (sent.op === 'insert') return ok(sent)
  const { was, ...rest } = sent
  if (was === undefined) return ok(rest)
  const before = schemaOf(change.data.in).safeParse(was)
  if (!before.success) return fail(formatMalformed(explain(before.error, was)))
  return ok({ ...rest, was: was as Item })
}

function schemaOf(path: ListPath) {
  return path.list === 'sceneLedger' ? sceneEntrySchema : itemSchemas[path.list]
}
