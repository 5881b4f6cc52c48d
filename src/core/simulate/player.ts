import type { Random } from '../base/random'
import { openness } from '../play/choices'
import type { PlayState } from '../play/state'
import type { LinkedStory } from '../story/linked'
import type { RouteItem } from '../story/types'
import type { Guide } from './guide'

/** How a simulated player decides. */
export type Player =
  /** Any open choice, each as likely as another. */
  | { readonly kind: 'random' }
  /** Looks for text not read yet: of the open choices one of those taken least often in this playthrough. */
  | { readonly kind: 'curious' }
  /** Goes for an ending: mostly a way that comes nearer to it, never one after which it is lost. */
  | { readonly kind: 'bound'; readonly ending: string }

/** How surely a player who is bound for an ending takes a decision that comes nearer to it. */
const SURENESS = 0.75
/** Typed where the story suggests nothing. */
const A_WORD = 'Someone'

/** Decides, playthrough after playthrough. */
export class Decider {
  private readonly taken: Uint16Array

  constructor(
    private readonly story: LinkedStory,
    private readonly player: Player,
    private readonly random: Random,
    /** For a player who is bound for an ending. */
    private readonly guide: Guide | undefined,
  ) {
    this.taken = new Uint16Array(story.choices.length)
  }

  /** A new playthrough, where it first rests. */
  begin(state: PlayState): void {
    this.taken.fill(0)
    this.guide?.begin(state)
  }

  /** The game has given something else. */
  given(state: PlayState): void {
    this.guide?.given(state)
  }

  /** The next decision in a state that asks for one. */
  next(state: PlayState): RouteItem {
    const decision = this.nearer(state)
    if (decision !== undefined) return decision
    const beat = this.story.beats[state.at]!
    if (state.status === 'word') {
      const words = beat.ask!.suggest.filter((word) => word.trim() !== '')
      return { at: beat.address, word: words.length === 0 ? A_WORD : this.random.pick(words) }
    }
    let open = beat.choices.filter((choice) => openness(this.story, state, choice).open)
    if (this.player.kind === 'curious') {
      const least = Math.min(...open.map(({ index }) => this.taken[index]!))
      open = open.filter(({ index }) => this.taken[index] === least)
    }
    const choice = this.random.pick(open)
    if (this.taken[choice.index]! < 0xffff) this.taken[choice.index]! += 1
    return { choice: choice.address }
  }

  /** Undefined for other players, and where the survey did not go. */
  private nearer(state: PlayState): RouteItem | undefined {
    const { guide, random } = this
    const ways = guide?.ways(state) ?? []
    if (guide === undefined || ways.length === 0) return undefined
    const spared = ways.filter(({ distance }) => distance !== Infinity)
    const nearer = spared.filter(({ distance }) => distance < guide.distance)
    const way = random.pick(nearer.length > 0 && random.chance(SURENESS) ? nearer : spared.length > 0 ? spared : ways)
    guide.take(way)
    return way.decision
  }
}
