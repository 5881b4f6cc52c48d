import * as z from 'zod'

/**
 * The live line: JSON-RPC 2.0 over a WebSocket, between running games, this application and its windows. `docs/live.md`
 * tells a game what to say.
 */

const value = z.union([z.boolean(), z.number(), z.string()])
const text = z.string().max(20_000)
const cue = z.object({ id: z.string(), name: z.string(), with: z.string().optional() })

/** What a game says of itself when it joins. */
export const joinSchema = z.object({
  key: z.string().max(200),
  name: z.string().trim().min(1).max(80),
  /** Whether it wants the story as it is now. */
  wantsBundle: z.boolean().default(true),
})

/** Where a game's story rests, and what led there. */
export const gameStateSchema = z.object({
  status: z.enum(['choice', 'word', 'ended', 'stuck', 'endless', 'nowhere']),
  beat: z.string().nullable(),
  lines: z.array(z.object({ text, name: text.optional(), manner: z.string(), beat: z.string() })).max(500),
  cues: z.array(cue).max(500).default([]),
  choices: z.array(z.object({ id: z.string(), text, open: z.boolean() })).max(500),
  prompt: text.nullable().default(null),
  ending: z.string().nullable().default(null),
  ledger: z.record(z.string(), value),
  stages: z.record(z.string(), z.string()),
  /** What the player, or the game, did to come here; null: it began, was loaded or changed. */
  did: z
    .union([
      z.object({ choice: z.string() }),
      z.object({ at: z.string(), word: text }),
      z.object({ given: z.record(z.string(), value) }),
    ])
    .nullable()
    .default(null),
  language: z.string(),
})

export type GameState = z.infer<typeof gameStateSchema>

/** How a game took up a change or a state. */
export const tookSchema = z.object({
  moved: z.boolean(),
  lost: z.array(z.string()).max(1000).default([]),
  beat: z.string().nullable(),
  status: z.string(),
  /** Whether something that was on the screen is said otherwise now. */
  revised: z.boolean().default(false),
})

export type Took = z.infer<typeof tookSchema>

const gameSchema = z.object({ id: z.string(), name: z.string(), state: gameStateSchema.optional() })
export type Game = z.infer<typeof gameSchema>

/** What windows are told, by method. */
export const told = {
  games: z.object({ games: z.array(gameSchema) }),
  joined: gameSchema,
  left: z.object({ id: z.string(), why: z.string() }),
  state: z.object({ id: z.string(), state: gameStateSchema }),
  took: z.object({
    id: z.string(),
    revision: z.number().optional(),
    took: tookSchema.optional(),
    failed: z.string().optional(),
  }),
  trouble: z.object({ id: z.string(), message: z.string() }),
} as const

/** What a window asks. */
export const watchSchema = z.object({ story: z.uuid() })
export const sendSchema = z.object({ game: z.string(), save: z.record(z.string(), z.unknown()) })

export const watchedSchema = z.object({ key: z.string(), games: z.array(gameSchema) })
