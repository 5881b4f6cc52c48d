import * as z from 'zod'
import { playRecordSchema } from '../formats/playtest/read'
import type { Change } from '../story/changes/types'
import type { Story } from '../story/types'
import { roleSchema } from './access'
import { sinceSchema } from './comments'

/** What the server says and the page reads: each answer's shape stands here once, and is checked where it comes in. */

const revision = z.int().min(0)
/** Checked by who wrote it: the server's own stories and changes are as sound as what it was given. */
const story = z.custom<Story>((value) => typeof value === 'object' && value !== null)
const change = z.custom<Change>((value) => typeof value === 'object' && value !== null && 'op' in value)

/** A saved change, and what can be taken back and brought back after it. */
export const savedSchema = z.object({
  revision,
  change,
  summary: z.string(),
  canUndo: z.boolean(),
  canRedo: z.boolean(),
})
export type Saved = Readonly<z.infer<typeof savedSchema>>

/** A saved change, and the request that made it. */
export const toldSchema = savedSchema.extend({
  request: z.string(),
  /** The member who made it, where there are accounts. */
  by: z.object({ id: z.string(), name: z.string() }).nullable().optional(),
})
export type Told = Readonly<z.infer<typeof toldSchema>>

/** At which revision the server is; and what one is in the story now, where that has changed. */
export const atSchema = z.object({ revision, role: roleSchema.optional() })

/** A point of the history with a name. */
export const versionSchema = z.object({
  id: z.string(),
  revision,
  name: z.string(),
  madeAt: z.string(),
  /** Players have it since; none where they have not. */
  releasedAt: z.string().nullable(),
})
export type Version = Readonly<z.infer<typeof versionSchema>>

export const openedSchema = z.object({
  id: z.string(),
  /** One of the stories that ship with the program. */
  sample: z.boolean(),
  story,
  revision,
  canUndo: z.boolean(),
  canRedo: z.boolean(),
  /** What one is in it; its owner where there are no accounts. */
  role: roleSchema,
  /** What others did since one was last here; nothing the first time, or without accounts. */
  since: sinceSchema.nullable(),
  /** Versions that players have, the latest first. */
  released: z.array(versionSchema).readonly(),
  /** What the last survey of just this story said, as some version of the program kept it; read once the story is drawn. */
  survey: z.unknown(),
})
export type Opened = Readonly<z.infer<typeof openedSchema>>

const count = z.int().min(0)
const reachedOf = z.object({ reached: count, of: count })

/** What one asks first of a story, as its last survey had it. */
export const factsSchema = z.object({
  complete: z.boolean(),
  endings: reachedOf,
  stages: reachedOf,
  errors: count,
  warnings: count,
  words: count,
  todos: count,
  languages: z.array(z.string().max(100)).max(500).readonly(),
})
export type Facts = Readonly<z.infer<typeof factsSchema>>

/** In what order the library shows its stories. */
export const ORDERS = ['changed', 'title', 'errors', 'todos', 'words'] as const
export type Order = (typeof ORDERS)[number]

export const cardSchema = z.object({
  id: z.string(),
  title: z.string(),
  changedAt: z.string(),
  scenes: z.int(),
  beats: z.int(),
  sample: z.boolean(),
  /** What one is in it; its owner where there are no accounts. */
  role: roleSchema,
  /** None where it was never surveyed. */
  facts: factsSchema.nullable(),
  /** The facts are of the story as it is. */
  isSurveyed: z.boolean(),
  /** Open talks that name one or are given to one. */
  forMe: z.int(),
})
export type Card = Readonly<z.infer<typeof cardSchema>>

/** Some cards of the library, and how many there are in all. */
export const cardsSchema = z.object({ cards: z.array(cardSchema).readonly(), total: z.int() })
export type Cards = Readonly<z.infer<typeof cardsSchema>>

export const historyStepSchema = z.object({
  revision,
  madeAt: z.string(),
  kind: z.enum(['edit', 'undo', 'redo']),
  /** The revision that was taken back or brought back. */
  target: z.int().nullable(),
  summary: z.string(),
  /** Who did it, where there are accounts. */
  by: z.string().nullable(),
})
export type HistoryStep = Readonly<z.infer<typeof historyStepSchema>>

export const releasedSchema = z.object({ isReleased: z.boolean() })

export const historySchema = z.object({
  steps: z.array(historyStepSchema).readonly(),
  versions: z.array(versionSchema).readonly(),
  revision,
})
export type History = Readonly<z.infer<typeof historySchema>>

/** Something found by its words. */
export const hitSchema = z.object({
  kind: z.enum(['line', 'choice', 'question', 'beat', 'scene', 'person', 'entry', 'quest', 'stage', 'ending']),
  address: z.string(),
  text: z.string(),
  notes: z.string().nullable(),
  who: z.string().nullable(),
})
export type Hit = Readonly<z.infer<typeof hitSchema>>

/** How many beats of an import are in, of how many; of 0 while the file is being read. */
export const progressSchema = z.object({ done: z.int(), of: z.int() })
/** `anyones`: what was asked of one's own can be asked of whoever did it. */
export const refusalSchema = z.object({ message: z.string(), anyones: z.literal(true).optional() })
export const madeSchema = z.object({ id: z.string() })
export const pointSchema = z.object({ story })

/** A playthrough recorded elsewhere, as it is kept with a story. */
export const keptPlaytestSchema = z.object({
  id: z.string(),
  name: z.string(),
  record: playRecordSchema,
  addedAt: z.string(),
})
export type KeptPlaytest = z.infer<typeof keptPlaytestSchema>
export const playtestsSchema = z.array(keptPlaytestSchema)

const title = { title: z.string() }
const text = { text: z.string() }

/** What is to be recorded. */
export const voicesSchema = z.object({
  /** False where what texts with forms come to could not be worked out in the time. */
  complete: z.boolean(),
  rows: z.array(
    z.object({
      file: z.string(),
      key: z.string(),
      person: z.string(),
      who: z.string(),
      scene: z.string(),
      situation: z.string(),
      before: z.string(),
      ...text,
      manner: z.enum(['speech', 'action', 'thought', 'narration']),
      cue: z.string(),
      words: z.int(),
    }),
  ),
})

/** What of a story a state chart can't express. */
export const leftOfChartSchema = z.object({ left: z.array(z.string()) })

/** What a file would make in a manuscript. */
export const readManuscriptSchema = z.object({
  title: z.string().optional(),
  parts: z.array(
    z.discriminatedUnion('of', [
      z.object({ of: z.literal('line'), speaker: z.string().optional(), isAction: z.boolean(), ...text }),
      z.object({ of: z.literal('choice'), to: z.string().optional(), ...text }),
      z.object({ of: z.literal('beat'), ...title }),
      z.object({ of: z.literal('scene'), ...title }),
      z.object({ of: z.literal('note'), ...text }),
    ]),
  ),
})

/** What stands in a file of texts that somebody worked on. */
export const incomingFileSchema = z.object({
  language: z.string().optional(),
  texts: z.array(
    z.object({
      key: z.string(),
      source: z.string().optional(),
      text: z.string(),
      state: z.enum(['draft', 'checked']).optional(),
      was: z.string().optional(),
    }),
  ),
})
