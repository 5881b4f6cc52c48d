import * as z from 'zod'
import { BUNDLE_VERSION } from '../../base/limits'
import type { Bundle, BundleExpr, BundleText } from './format'

const index = z.int().min(0)
const text = index.describe('the place of a text in the lists of "texts"')
const expr: z.ZodType<BundleExpr> = z
  .lazy(() =>
    z.union([
      z.boolean(),
      z.int(),
      z.string(),
      z.tuple([z.enum(['entry', 'quest', 'visits', 'taken']), index]),
      z.tuple([z.enum(['not', 'negate']), expr]),
      z.tuple([z.enum(['and', 'or']), expr, expr]).rest(expr),
      z.tuple([z.enum(['==', '!=', '<', '<=', '>', '>=', '+', '-', '*']), expr, expr]),
      z.tuple([z.literal('in'), expr, z.array(expr)]),
      z.tuple([z.enum(['atLeast', 'before']), z.tuple([z.enum(['entry', 'quest']), index]), index]),
    ]),
  )
  .meta({ id: 'expression' })
const effect = z
  .union([z.tuple([z.enum(['=', '+=', '-=']), index, expr]), z.tuple([z.literal('stage'), index, index])])
  .meta({ id: 'effect' })
const owner = { when: expr.optional(), do: z.array(effect).optional() }
const road = z.union([index, z.literal('return'), z.null()]).meta({ id: 'road' })
const rule = z.strictObject({ ...owner, to: road }).meta({ id: 'rule' })
const cues = z.array(z.union([z.tuple([index]), z.tuple([index, z.string()])])).optional()
const plainLine = z
  .strictObject({
    text,
    id: z.string().optional(),
    speaker: z.string().optional(),
    manner: z.enum(['speech', 'action', 'thought', 'narration']),
    ...owner,
    cues,
  })
  .meta({ id: 'line' })
const turns = {
  group: z.string(),
  order: z.enum(['again', 'last', 'once', 'any']),
  inTurn: z.array(z.array(plainLine)).min(1),
}
const variant = z.strictObject({
  when: expr.optional(),
  lines: z.array(plainLine).optional(),
  turns: z.strictObject(turns).optional(),
})
const line = z.union([
  plainLine,
  z.strictObject({ firstOf: z.array(variant) }),
  z.strictObject({ ...turns, when: expr.optional() }),
])
const choice = z.strictObject({
  id: z.string(),
  text,
  who: z.string().optional(),
  ...owner,
  once: z.literal(true).optional(),
  shown: z.literal(true).optional(),
  cues,
  to: z.union([road, z.array(rule)]),
})
const beat = z.strictObject({
  id: z.string(),
  scene: index,
  place: z.literal(true).optional(),
  redirects: z.array(rule).optional(),
  arrive: z.array(z.strictObject(owner)).optional(),
  lines: z.array(line).optional(),
  choices: z.array(choice).optional(),
  ask: z
    .strictObject({
      into: z.int().min(-1),
      prompt: text,
      suggest: z.array(text).optional(),
      default: z.string().optional(),
    })
    .optional(),
  ending: index.optional(),
  onward: z.array(rule).optional(),
})
const argument = z.tuple([z.enum(['entry', 'quest', 'person']), index])
const shownText: z.ZodType<BundleText> = z
  .lazy(() =>
    z.union([
      z.string(),
      z.array(
        z.union([
          z.string(),
          z.strictObject({ show: argument }),
          z.strictObject({ number: argument, style: z.record(z.string(), z.unknown()).optional() }),
          z.strictObject({ count: z.literal(true) }),
          z.strictObject({ select: argument, forms: z.record(z.string(), shownText) }),
          z.strictObject({
            plural: argument,
            ordinal: z.literal(true).optional(),
            offset: z.int().optional(),
            forms: z.record(z.string(), shownText),
          }),
        ]),
      ),
    ]),
  )
  .meta({ id: 'text' })
const plurals = z.array(z.tuple([z.string(), z.array(z.array(z.array(z.int())))]))
const named = { id: z.string(), name: text }

/** The shape of a bundle. What reads bundles checks more: that numbers stand for something, and that expressions are well typed. */
export const bundleSchema: z.ZodType<Bundle> = z.strictObject({
  paperCompassBundle: z.literal(BUNDLE_VERSION),
  title: z.string(),
  language: z.string(),
  start: z.int().min(-1),
  scenes: z.array(z.string()),
  entries: z.array(
    z.strictObject({
      id: z.string(),
      name: z.string().optional(),
      kind: z.enum(['flag', 'switch', 'counter', 'item', 'text']),
      initial: z.union([z.boolean(), z.int(), z.string()]),
      scene: index.optional(),
      given: z.enum(['begin', 'rest']).optional(),
      positions: z.array(z.string()).optional(),
      min: z.int().optional(),
      max: z.int().optional(),
    }),
  ),
  quests: z.array(
    z.strictObject({
      ...named,
      stages: z.array(
        z.strictObject({
          id: z.string(),
          name: text.optional(),
          outcome: z.enum(['success', 'failure']).optional(),
          journal: text.optional(),
        }),
      ),
    }),
  ),
  endings: z.array(z.strictObject(named)),
  cues: z.array(z.strictObject({ id: z.string(), name: z.string() })),
  people: z.array(z.strictObject({ ...named, called: z.array(z.strictObject({ when: expr, name: text })).optional() })),
  beats: z.array(beat),
  texts: z.record(z.string(), z.array(z.union([shownText, z.null()]))),
  locales: z.record(
    z.string(),
    z.strictObject({
      cardinal: plurals,
      ordinal: plurals,
      digits: z.array(z.string()).length(10),
      group: z.string(),
      groups: z.tuple([z.int(), z.int(), z.int()]),
      negative: z.tuple([z.string(), z.string()]),
    }),
  ),
})

/** The JSON Schema (draft 2020-12) of bundles. */
export function bundleJsonSchema(): object {
  return { title: 'Paper Compass bundle', ...z.toJSONSchema(bundleSchema, { target: 'draft-2020-12', io: 'input' }) }
}
