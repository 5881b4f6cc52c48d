import type { Differs } from './type-agreement'
import * as z from 'zod'
import { idTrouble, RESERVED_IDS, RESERVED_ID_PATTERN } from '../base/ids'
import { listOf } from './list-schema'
import type {
  ArriveRule,
  Ask,
  Beat,
  Choice,
  Cue,
  Ending,
  Entry,
  EntryKind,
  Person,
  PlainLine,
  Quest,
  Recording,
  Route,
  Rule,
  Scene,
  SetAside,
  Stage,
  Story,
  Term,
  Turn,
  TurnGroup,
  Variant,
  VariantGroup,
} from './types'

/**
 * The shape of a story document: what one object alone can show. What needs a second object
 * (missing targets, double ids, types in expressions) is found when the story is linked.
 * Loose objects keep the keys that this version does not know.
 */

const id = z
  .string()
  .regex(/^[a-z][a-z0-9_]{0,63}$/, {
    abort: true,
    error: 'an id starts with a small letter and has only small letters, digits and _ (64 at most)',
  })
  .refine((text) => idTrouble(text) === undefined, {
    error: (issue) => idTrouble(String(issue.input)) ?? 'a reserved word',
  })
  .meta({ not: { anyOf: [{ enum: [...RESERVED_IDS] }, { pattern: RESERVED_ID_PATTERN.source }] } })

const notes = z.string().optional()
const integer = z.int('expected a whole number within ±(2^53 − 1)')
const condition = z.string().optional()
const effects = listOf(z.string()).optional()

function forbidden(message: string) {
  return z.never({ error: message }).optional()
}

const called = z.looseObject({ when: z.string(), name: z.string(), notes })
const person = z.looseObject({
  id,
  name: z.string(),
  colour: z.string().optional(),
  called: listOf(called).optional(),
  notes,
})

const cue = z.looseObject({ id, name: z.string(), notes })
const term = z.looseObject({ id, name: z.string(), notes })
const recording = z.looseObject({ id: z.string(), text: z.string(), notes })
const cueUses = listOf(z.looseObject({ cue: z.string(), with: z.string().optional(), notes })).optional()

const entryBase = {
  id,
  name: z.string().optional(),
  group: z.string().optional(),
  given: z.enum(['begin', 'rest']).optional(),
  notes,
}
export const entrySchema = z.discriminatedUnion('kind', [
  z.looseObject({ ...entryBase, kind: z.literal('flag'), initial: z.boolean().optional() }),
  z.looseObject({
    ...entryBase,
    kind: z.literal('switch'),
    positions: listOf(z.string()),
    initial: z.string().optional(),
    meanings: z.record(z.string(), z.string()).optional(),
  }),
  z.looseObject({ ...entryBase, kind: z.literal('counter'), min: integer, max: integer, initial: integer.optional() }),
  z.looseObject({ ...entryBase, kind: z.literal('item'), max: integer, initial: integer.optional() }),
  z.looseObject({ ...entryBase, kind: z.literal('text'), initial: z.string().optional() }),
])

const stage = z.looseObject({
  id,
  name: z.string(),
  outcome: z.enum(['success', 'failure']).optional(),
  journal: z.string().optional(),
  notes,
})
const quest = z.looseObject({
  id,
  name: z.string(),
  stages: listOf(stage),
  moves: listOf(z.tuple([z.string(), z.string()])).optional(),
  notes,
})

const ending = z.looseObject({ id, name: z.string(), notes })

const rule = z.looseObject({
  when: condition,
  do: effects,
  to: z.string('a rule leads to one beat: expected a string'),
  notes,
})
const arriveRule = z.looseObject({ when: condition, do: effects, notes })

const plainLine = z.looseObject({
  id: id.optional(),
  speaker: z.string().optional(),
  manner: z.enum(['speech', 'action', 'thought', 'narration']).optional(),
  text: z.string(),
  when: condition,
  do: effects,
  cues: cueUses,
  firstOf: forbidden('a line has either text or firstOf; the lines of a variant are plain lines'),
  inTurn: forbidden('a line has either text or inTurn; the lines of a turn are plain lines'),
  notes,
})
const order = z.enum(['again', 'last', 'once', 'any']).optional()
const turn = z.looseObject({ lines: listOf(plainLine), notes })
const turns = listOf(turn).refine((list) => list.length > 0, 'a group in turn needs at least one turn')
const variant = z
  .looseObject({
    when: condition,
    lines: listOf(plainLine).optional(),
    order,
    inTurn: turns.optional(),
    do: forbidden('a variant has no effects of its own; put them on its lines'),
    notes,
  })
  .superRefine((one, context) => {
    if ((one.lines === undefined) !== (one.inTurn === undefined)) return
    const message =
      one.lines === undefined
        ? 'a variant needs lines, or inTurn'
        : 'a variant has either lines or inTurn; keep one of them'
    context.addIssue({ code: 'custom', path: ['lines'], message })
  })
const variantGroup = z.looseObject({
  firstOf: listOf(variant),
  text: forbidden('a line has either text or firstOf'),
  when: forbidden('a firstOf group has no condition; put it on its variants'),
  inTurn: forbidden('a group has either firstOf or inTurn'),
  notes,
})
const turnGroup = z.looseObject({
  when: condition,
  order,
  inTurn: turns,
  text: forbidden('a line has either text or inTurn'),
  firstOf: forbidden('a group has either firstOf or inTurn'),
  notes,
})

const choice = z.looseObject({
  id,
  text: z.string(),
  who: z.string().optional(),
  when: condition,
  closed: z.enum(['hide', 'show']).optional(),
  once: z.boolean().optional(),
  do: effects,
  cues: cueUses,
  to: z.union([z.string(), listOf(rule)]),
  notes,
})

const ask = z.looseObject({
  into: z.string(),
  prompt: z.string(),
  suggest: listOf(z.string()).optional(),
  default: z.string().optional(),
  notes,
})

export const beatSchema = z
  .looseObject({
    id,
    title: z.string().optional(),
    place: z.boolean().optional(),
    redirects: listOf(rule).optional(),
    arrive: listOf(arriveRule).optional(),
    lines: listOf(z.union([plainLine, variantGroup, turnGroup])).optional(),
    choices: listOf(choice).optional(),
    ask: ask.optional(),
    ending: z.string().optional(),
    onward: listOf(rule).optional(),
    notes,
  })
  .superRefine((beat, context) => {
    const refuse = (key: string, message: string) => context.addIssue({ code: 'custom', path: [key], message })
    const choices = beat.choices !== undefined && beat.choices.length > 0
    if (beat.ending !== undefined && choices)
      refuse('choices', 'a beat that is an ending has no choices; keep one of them')
    if (beat.ending !== undefined && beat.ask !== undefined)
      refuse('ask', 'a beat that is an ending asks for no word; keep one of them')
    if (beat.ask !== undefined && choices) refuse('choices', 'a beat asks for a word or offers choices, not both')
    if (beat.ending !== undefined && (beat.onward?.length ?? 0) > 0)
      refuse('onward', 'a beat that is an ending does not go on; keep one of them')
  })

/** An entry that lives only inside a scene. */
export const sceneEntrySchema = entrySchema.superRefine((entry, context) => {
  if (entry.given !== undefined)
    context.addIssue({
      code: 'custom',
      path: ['given'],
      message: 'an entry of a scene is the scene’s own, so the game can not set it; make it an entry of the story',
    })
})

const scene = z.looseObject({
  id,
  title: z.string(),
  ledger: listOf(sceneEntrySchema).optional(),
  beats: listOf(beatSchema),
  notes,
})

export const promiseSchema = z.discriminatedUnion('kind', [
  z.looseObject({ id, kind: z.enum(['never', 'always', 'possible']), holds: z.string(), notes }),
  z.looseObject({ id, kind: z.literal('stillPossible'), holds: z.string(), while: condition, notes }),
  z.looseObject({ id, kind: z.literal('inOrder'), first: z.string(), then: z.string(), notes }),
])

const oneThing = 'an item of a route is a choice, a word or what is given, and only one of them'
const value = z.union([z.boolean(), integer, z.string()])
const decision = z.union([
  z.looseObject({ choice: z.string(), at: forbidden(oneThing), given: forbidden(oneThing) }),
  z.looseObject({ at: z.string(), word: z.string(), choice: forbidden(oneThing), given: forbidden(oneThing) }),
  z.looseObject({ given: z.record(z.string(), value), choice: forbidden(oneThing), at: forbidden(oneThing) }),
])
const route = z.looseObject({
  id,
  name: z.string(),
  decisions: listOf(decision),
  expect: z
    .looseObject({
      ending: z.string().optional(),
      stages: z.record(z.string(), z.string()).optional(),
      ledger: z.record(z.string(), value).optional(),
    })
    .optional(),
  notes,
})

const setAside = z.looseObject({ id, kind: z.string(), about: listOf(z.string()), reason: z.string(), notes })

function isLanguageTag(tag: string): boolean {
  try {
    return Intl.getCanonicalLocales(tag).length === 1
  } catch {
    return false
  }
}

export const languageSchema = z.string().refine(isLanguageTag, 'expected a language tag such as "en" or "pt-BR"')

export const translationSchema = z.looseObject({
  text: z.string(),
  of: z.string().optional(),
  state: z.enum(['draft', 'checked']).optional(),
  notes,
})
const language = z.looseObject({ texts: z.record(z.string(), translationSchema), notes })

export const pageSchema = z.looseObject({
  author: z.string().optional(),
  blurb: z.string().optional(),
  credits: z.string().optional(),
  accent: z.string().optional(),
  ground: z.string().optional(),
  hides: z.string().optional(),
  playtests: z.string().optional(),
})

/** What can be chosen for the page, each a text that is changed by itself. */
export const PAGE_KEYS = Object.keys(pageSchema.shape) as readonly (keyof typeof pageSchema.shape)[]

export const storySchema = z.looseObject({
  paperCompass: z.literal(1, { error: 'this program reads format version 1: expected "paperCompass": 1' }),
  title: z.string(),
  language: languageSchema,
  start: z.string(),
  notes,
  cast: listOf(person).optional(),
  cues: listOf(cue).optional(),
  ledger: listOf(entrySchema).optional(),
  quests: listOf(quest).optional(),
  endings: listOf(ending).optional(),
  scenes: listOf(scene),
  promises: listOf(promiseSchema).optional(),
  routes: listOf(route).optional(),
  setAside: listOf(setAside).optional(),
  languages: z.record(languageSchema, language).optional(),
  terms: listOf(term).optional(),
  recordings: listOf(recording).optional(),
  textLimit: z.int().min(1).optional(),
  page: pageSchema.optional(),
})

/** One schema for each list whose items are changed one by one. */
export const itemSchemas = {
  cast: person,
  cues: cue,
  ledger: entrySchema,
  quests: quest,
  endings: ending,
  promises: promiseSchema,
  routes: route,
  setAside,
  terms: term,
  recordings: recording,
  scenes: scene,
  beats: beatSchema,
} as const

// The interfaces of types.ts and these schemas say the same, both ways and key by key: a key on one side alone, or one
// that is optional on one side, is an error here that names it.
type Agreement = {
  story: Differs<z.infer<typeof storySchema>, Story>
  scene: Differs<z.infer<typeof scene>, Scene>
  beat: Differs<z.infer<typeof beatSchema>, Beat>
  choice: Differs<z.infer<typeof choice>, Choice>
  rule: Differs<z.infer<typeof rule>, Rule>
  arriveRule: Differs<z.infer<typeof arriveRule>, ArriveRule>
  ask: Differs<z.infer<typeof ask>, Ask>
  plainLine: Differs<z.infer<typeof plainLine>, PlainLine>
  variantGroup: Differs<z.infer<typeof variantGroup>, VariantGroup>
  variant: Differs<z.infer<typeof variant>, Variant>
  turn: Differs<z.infer<typeof turn>, Turn>
  turnGroup: Differs<z.infer<typeof turnGroup>, TurnGroup>
  person: Differs<z.infer<typeof person>, Person>
  cue: Differs<z.infer<typeof cue>, Cue>
  quest: Differs<z.infer<typeof quest>, Quest>
  stage: Differs<z.infer<typeof stage>, Stage>
  ending: Differs<z.infer<typeof ending>, Ending>
  route: Differs<z.infer<typeof route>, Route>
  setAside: Differs<z.infer<typeof setAside>, SetAside>
  term: Differs<z.infer<typeof term>, Term>
  recording: Differs<z.infer<typeof recording>, Recording>
  entries: {
    [Kind in EntryKind]: Differs<Extract<z.infer<typeof entrySchema>, { kind: Kind }>, Extract<Entry, { kind: Kind }>>
  }[EntryKind]
}
const differing: { [Key in keyof Agreement]: Agreement[Key] extends never ? [] : Agreement[Key] } = {
  story: [],
  scene: [],
  beat: [],
  choice: [],
  rule: [],
  arriveRule: [],
  ask: [],
  plainLine: [],
  variantGroup: [],
  variant: [],
  turn: [],
  turnGroup: [],
  person: [],
  cue: [],
  quest: [],
  stage: [],
  ending: [],
  route: [],
  setAside: [],
  term: [],
  recording: [],
  entries: [],
}
void differing
