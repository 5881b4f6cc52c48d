/** What games on the line can take of the server. */
export const LIVE_LIMITS = {
  /** Of one message, in bytes. */
  messageBytes: 1024 * 1024,
  /** Messages of a game in a second; more are not read, and whoever goes on like that is cut off. */
  perSecond: 60,
  /** Seconds of too much, or messages that can't be understood, after which a game is cut off. */
  strikes: 5,
  games: 32,
  windows: 200,
  /** Until somebody who said nothing of themselves is cut off, in milliseconds. */
  silentMs: 5_000,
  /** How long an answer is waited for, in milliseconds. */
  answerMs: 5_000,
  /** Between two questions whether the other end is still there, in milliseconds. */
  pingMs: 10_000,
  /** After an edit, until games are told: several within it are told as one, in milliseconds. */
  quietMs: 80,
  /** What may wait for somebody who does not read, in bytes. */
  backlogBytes: 8 * 1024 * 1024,
} as const
export type LiveLimits = { readonly [Key in keyof typeof LIVE_LIMITS]: number }
