import * as z from 'zod'

/** Most playthroughs that one job is. */
export const PLAYS_MAX = 20_000_000

const entryValueSchema = z.union([z.boolean(), z.number(), z.string()])
const playerSchema = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('random') }),
  z.strictObject({ kind: z.literal('curious') }),
  z.strictObject({ kind: z.literal('bound'), ending: z.string() }),
])
const drawSchema = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('weighted'), of: z.array(z.tuple([entryValueSchema, z.number().min(0)])) }),
  z.strictObject({ kind: z.literal('between'), from: z.int(), to: z.int() }),
])

/** What can be asked for of one story, as it is saved then. */
export const jobAskSchema = z.discriminatedUnion('kind', [
  /** The survey to its end, for longer and with more memory than a page has. */
  z.strictObject({ kind: z.literal('survey') }),
  /** What becomes of players in the middle of every released version. */
  z.strictObject({ kind: z.literal('carry') }),
  /** Simulated players, in shares. */
  z.strictObject({
    kind: z.literal('simulate'),
    plays: z.int().min(1).max(PLAYS_MAX, `at most ${PLAYS_MAX} playthroughs can be asked for`),
    options: z.strictObject({
      player: playerSchema,
      seed: z.int().min(0).max(0xffffffff),
      given: z.record(z.string(), drawSchema).optional(),
    }),
  }),
])
export type JobAsk = z.infer<typeof jobAskSchema>

export const JOB_STATES = ['waiting', 'running', 'done', 'failed', 'cancelled'] as const

export const jobSchema = z.object({
  id: z.string(),
  ask: jobAskSchema,
  /** The story as it was after this revision. */
  revision: z.int(),
  state: z.enum(JOB_STATES),
  /** How much is done of how much, in playthroughs, states, versions; 0 of 0 where that is not known. */
  done: z.number(),
  total: z.number(),
  by: z.string().nullable(),
  madeAt: z.string(),
  endedAt: z.string().nullable(),
  failure: z.string().nullable(),
})
export type Job = Readonly<z.infer<typeof jobSchema>>

export const jobsSchema = z.object({
  jobs: z.array(jobSchema).readonly(),
  /** How many are there to work, on whichever machine. */
  workers: z.int(),
})
export type Jobs = Readonly<z.infer<typeof jobsSchema>>

const foundSchema = z.object({ level: z.enum(['error', 'warning', 'note']), message: z.string() })

/** What the survey of a night said of a story, beside the one before it. */
export const nightStorySchema = z.object({
  story: z.string(),
  title: z.string(),
  revision: z.int(),
  /** Decided to the end. */
  complete: z.boolean(),
  endings: z.object({ reached: z.int(), of: z.int() }),
  stages: z.object({ reached: z.int(), of: z.int() }),
  errors: z.int(),
  warnings: z.int(),
  /** Players in the middle of released versions who would be stranded, by version. */
  stranded: z.array(z.object({ version: z.string(), findings: z.int() })).readonly(),
  /** The revision of the survey before; null where there was none. */
  before: z.int().nullable(),
  /** Findings that were not there before, and those that are there no more. */
  came: z.array(foundSchema).readonly(),
  went: z.array(foundSchema).readonly(),
  /** Why there is no survey of it. */
  failure: z.string().nullable(),
})
export type NightStory = Readonly<z.infer<typeof nightStorySchema>>

export const nightSchema = z.object({
  id: z.string(),
  state: z.enum(JOB_STATES),
  madeAt: z.string(),
  endedAt: z.string().nullable(),
  done: z.int(),
  total: z.int(),
  stories: z.array(nightStorySchema).readonly(),
})
export type Night = Readonly<z.infer<typeof nightSchema>>

export const nightsSchema = z.object({
  /** The latest; null where there was none. */
  night: nightSchema.nullable(),
  workers: z.int(),
  /** When one is begun by itself, as a cron expression in UTC; null where never. */
  at: z.string().nullable(),
})
export type Nights = Readonly<z.infer<typeof nightsSchema>>
