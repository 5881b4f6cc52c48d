import { partRandom } from '../base/random'
import { fail, ok, type Result } from '../base/result'
import { openness } from '../play/choices'
import { begin, decideInPlace, type Listener } from '../play/step'
import type { PlayState } from '../play/state'
import type { LinkedStory } from '../story/linked'
import type { Survey } from '../survey/survey'
import { count, Counts } from './counts'
import { drawTrouble, GivenSource } from './given-draws'
import { guideTo } from './find-guide'
import type { Guide } from './guide'
import { Decider } from './player'
import type { SimulationOptions, SimulationResult } from './result'
import { resultOf, type Tally } from './tally'
import { WordsRead } from './words-read'

/** A playthrough that has not ended after so many decisions is given up, unless another number is asked for. */
const DECISIONS_MAX = 1_000
/** So often the game gives something else to a player who is stuck, before that is how it ends. */
const WAITS_MAX = 64
/** Playthroughs that one seed is used for; the next have one made of it. */
export const SHARE_PLAYS = 10_000

/**
 * Plays a story through again and again (a Monte Carlo simulation) by the same rules as the
 * rehearsal. The same story, player and seed give the same figures.
 */
export class Simulation {
  plays = 0
  private decider!: Decider
  private given!: GivenSource
  private readonly words: WordsRead
  private readonly counts: Counts

  private constructor(
    private readonly story: LinkedStory,
    private readonly options: SimulationOptions,
    private readonly guide: Guide | undefined,
    private readonly from: number,
  ) {
    this.words = new WordsRead(story)
    this.counts = new Counts(story)
    this.beginShare()
  }

  /**
   * A player bound for an ending needs the finished survey of the story; fails when no route comes there. It begins with
   * the playthrough `from`, the first of a share: so many can play, each some shares, what one would play.
   */
  static of(story: LinkedStory, options: SimulationOptions, survey: () => Survey, from = 0): Result<Simulation> {
    if (from % SHARE_PLAYS !== 0) throw new Error(`${from} is in the middle of a share of ${SHARE_PLAYS} playthroughs`)
    const { player, given = {} } = options
    const trouble = drawTrouble(story, given)
    if (trouble !== undefined) return fail(trouble)
    if (player.kind !== 'bound') return ok(new Simulation(story, options, undefined, from))
    if (!story.endingOf.has(player.ending)) return fail(`the story has no ending "${player.ending}"`)
    const guide = guideTo(survey(), player.ending)
    return guide.ok ? ok(new Simulation(story, options, guide.value, from)) : guide
  }

  /** Plays so many times more. */
  advance(plays: number): void {
    for (let play = 0; play < plays; play += 1) this.playOnce()
  }

  result(): SimulationResult {
    return resultOf(this.tally(), this.options)
  }

  /** What was counted so far, to be added to what others counted. */
  tally(): Tally {
    return this.counts.tally(this.plays)
  }

  /** Each share of playthroughs has a seed of its own, so that none needs what came before it. */
  private beginShare(): void {
    const { story, options, from, plays } = this
    const share = (from + plays) / SHARE_PLAYS
    this.decider = new Decider(story, options.player, partRandom(options.seed, share), this.guide)
    // a source of its own: what players decide stays the same when something given is added
    this.given = new GivenSource(story, options.given ?? {}, partRandom(~options.seed, share))
  }

  private playOnce(): void {
    if (this.plays > 0 && this.plays % SHARE_PLAYS === 0) this.beginShare()
    const { story, decider, counts, plays: play } = this
    let words = 0
    const listener: Listener = {
      beat: ({ index }) => {
        counts.beats.see(index, play)
        counts.times[index]! += 1
      },
      line: (line, state) => {
        words += this.words.in(line.text, state)
      },
      change: (_, __, change) => {
        if (change.of === 'quest')
          counts.stages[change.index]!.see(story.quests[change.index]!.stages.indexOf(String(change.to)), play)
      },
    }
    let state = begin(story, listener, this.given.begins ? this.given.beginning() : {})
    decider.begin(state)
    counts.measure(state, 0)
    const longest = this.options.longest ?? DECISIONS_MAX
    let made = 0
    for (;;) {
      if (this.given.changes) state = this.giveAnew(state, listener)
      if (made === longest || (state.status !== 'choice' && state.status !== 'word')) break
      words += this.wordsOffered(state)
      const decision = decider.next(state)
      if ('choice' in decision) {
        const index = story.choiceOf.get(decision.choice)!
        counts.choices.see(index, play)
        counts.taken[index]! += 1
      }
      const next = decideInPlace(story, state, decision, listener)
      if (!next.ok) throw new Error(`a simulated player can't do what is open: ${next.error}`)
      state = next.value
      made += 1
      counts.measure(state, made)
    }
    counts.end(state, play)
    count(counts.lengths, made)
    count(counts.words, words)
    this.plays += 1
  }

  /** The game sets what it may while the story rests; where that leaves the player stuck, once more. */
  private giveAnew(from: PlayState, listener: Listener): PlayState {
    const { story, decider } = this
    let state = from
    for (let waits = 0; waits < WAITS_MAX; waits += 1) {
      if (state.status !== 'choice' && state.status !== 'word' && state.status !== 'stuck') return state
      const given = this.given.change(state.entries)
      if (given !== undefined) {
        const next = decideInPlace(story, state, { given }, listener)
        if (!next.ok) throw new Error(`the game can't give what it may: ${next.error}`)
        state = next.value
        decider.given(state)
      }
      if (state.status !== 'stuck') return state
    }
    return state
  }

  private wordsOffered(state: PlayState): number {
    const beat = this.story.beats[state.at]!
    if (state.status === 'word') return this.words.in(beat.ask!.prompt, state)
    let words = 0
    for (const choice of beat.choices) {
      if (!openness(this.story, state, choice).open) continue
      this.counts.offered[choice.index]! += 1
      words += this.words.in(choice.text, state)
    }
    return words
  }
}
