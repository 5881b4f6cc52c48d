import * as z from 'zod'
import { parseTopic } from '../story/topic'

/** Signs that a comment has at most. */
const TEXT_MAX = 5_000

const when = z.string()

export const commentSchema = z.object({
  id: z.string(),
  by: z.object({ id: z.string(), name: z.string() }),
  at: when,
  text: z.string(),
  /** Members who are meant. */
  mentions: z.array(z.string()).readonly(),
})
export type Comment = Readonly<z.infer<typeof commentSchema>>

/** What is said about something in a story. */
export const threadSchema = z.object({
  id: z.string(),
  /** What it is about (`core/story/topic.ts`). */
  topic: z.string(),
  /** What that read when it was begun. */
  quote: z.string(),
  /** The row that it was about is gone. */
  isLost: z.boolean(),
  givenTo: z.object({ id: z.string(), name: z.string() }).nullable(),
  done: z.object({ by: z.string(), at: when }).nullable(),
  comments: z.array(commentSchema).readonly(),
})
export type Thread = Readonly<z.infer<typeof threadSchema>>
export const threadsSchema = z.array(threadSchema)

const text = z
  .string()
  .trim()
  .min(1, 'a comment says something')
  .max(TEXT_MAX, `a comment has at most ${TEXT_MAX} signs`)

export const newThreadSchema = z.object({
  topic: z.string().refine((topic) => parseTopic(topic) !== undefined, 'nothing in a story is called so'),
  quote: z.string().max(500).default(''),
  text,
  givenTo: z.string().nullable().default(null),
})
export type NewThread = z.infer<typeof newThreadSchema>

/** What is done with a thread: answered, given to somebody, done or not done any more. */
export const threadChangeSchema = z.object({
  text: text.optional(),
  givenTo: z.string().nullable().optional(),
  isDone: z.boolean().optional(),
})
export type ThreadChange = z.infer<typeof threadChangeSchema>

/** Somebody who has the story open in a window. */
export const presenceSchema = z.object({
  window: z.uuid(),
  member: z.string(),
  name: z.string(),
  /** The beat they are in; none where they have left. */
  beat: z.string().nullable(),
  isHere: z.boolean(),
})
export type Presence = Readonly<z.infer<typeof presenceSchema>>

/** What happened to a story since one was last here. */
export const sinceSchema = z.object({
  revision: z.int().min(0),
  at: when,
  /** Changes of others, and whose they are. */
  steps: z.int(),
  by: z.array(z.string()).readonly(),
  /** Comments of others, and how many of them are for oneself. */
  comments: z.int(),
  forMe: z.int(),
})
export type Since = Readonly<z.infer<typeof sinceSchema>>

export const hereSchema = z.object({ window: z.uuid(), beat: z.string().max(200).nullable(), isHere: z.boolean() })
export const visitedSchema = z.object({ revision: z.int().min(0) })
