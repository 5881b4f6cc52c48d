import type { Player } from '../../core/simulate/player'
import type { Story } from '../../core/story/types'
import { itemName } from '../../session/names'

/** Begins the name of a player who goes for an ending. */
export const BOUND = 'ending:'

/** What a playthrough without an ending is called. */
export const UNENDED = { stuck: 'stuck', endless: 'goes round for ever', 'given-up': 'given up: too long' } as const

export function playerOf(name: string): Player {
  if (name.startsWith(BOUND)) return { kind: 'bound', ending: name.slice(BOUND.length) }
  return { kind: name === 'curious' ? 'curious' : 'random' }
}

/** A player in the middle of a sentence. */
export function sayPlayer(story: Story, player: Player): string {
  if (player.kind === 'bound') return `going for “${itemName(story, 'endings', player.ending)}”`
  return player.kind === 'curious' ? 'looking for new text' : 'at random'
}
