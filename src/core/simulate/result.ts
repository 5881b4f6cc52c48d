import type { GivenDraws } from './given-draws'
import type { Player } from './player'
import type { Bar, Spread } from './spread'

/** How many of all playthroughs came to something. */
export interface Share {
  readonly plays: number
  /** 0 to 1 */
  readonly share: number
}

/** A counter or item after a number of decisions, over the playthroughs that got so far. */
export interface CounterStep extends Spread {
  readonly decisions: number
  readonly plays: number
}

/** What many playthroughs of one player came to. */
export interface SimulationResult {
  readonly player: Player
  readonly seed: number
  readonly plays: number
  readonly endings: Readonly<Record<string, Share>>
  readonly stages: Readonly<Record<string, Share>>
  /** Playthroughs that came to no ending: stuck, gone round for ever, or given up after too many decisions. */
  readonly unended: Readonly<Record<'stuck' | 'endless' | 'given-up', Share>>
  /** Decisions of a whole playthrough. */
  readonly decisions: { readonly spread: Spread | undefined; readonly bars: readonly Bar[] }
  /** Words read in a whole playthrough: lines, prompts, and the choices that were offered. */
  readonly words: { readonly spread: Spread | undefined; readonly bars: readonly Bar[] }
  /** By address: the playthroughs that came by it, and how often in all. */
  readonly beats: Readonly<Record<string, Share & { readonly times: number }>>
  /** By address: playthroughs in which it was taken; how often it was offered and taken in all. */
  readonly choices: Readonly<Record<string, Share & { readonly offered: number; readonly taken: number }>>
  /** Counters and items that something changes, by id. */
  readonly counters: Readonly<Record<string, readonly CounterStep[]>>
}

export interface SimulationOptions {
  readonly player: Player
  readonly seed: number
  /** A playthrough is given up after so many decisions. */
  readonly longest?: number
  /** How the values come about that the game gives; uniform where nothing is said. */
  readonly given?: GivenDraws
}
