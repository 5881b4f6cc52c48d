import { seededRandom } from '../base/random'
import { fail, ok, type Result } from '../base/result'
import { openness } from '../play/choices'
import { begin, decide, type Listener } from '../play/step'
import type { PlayState, Status } from '../play/state'
import type { LinkedEntry, LinkedStory } from '../story/linked'
import type { Survey } from '../survey/survey'
import { usedEntries } from '../survey/summaries/used-entries'
import { drawTrouble, GivenSource, type GivenDraws } from './given-draws'
import { Decider, type Player } from './player'
import { barsOf, spreadOf, spreadOfCounts, type Bar, type Spread } from './spread'
import { Towards } from './towards'
import { WordsRead } from './words-read'

/** A playthrough that has not ended after so many decisions is given up, unless another number is asked for. */
const DECISIONS_MAX = 1_000
/** So often the game gives something else to a player who is stuck, before that is how it ends. */
const WAITS_MAX = 64
/** The spread of a counter is told for so many decisions from the start. */
const STEPS_MAX = 60
/** The spread of a counter with a wider range is not told. */
const RANGE_MAX = 512

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

/** Counts for a set of things, each once a playthrough. */
class Seen {
  readonly plays: Uint32Array
  private readonly last: Int32Array

  constructor(size: number) {
    this.plays = new Uint32Array(size)
    this.last = new Int32Array(size).fill(-1)
  }

  see(index: number, play: number): void {
    if (this.last[index] === play) return
    this.last[index] = play
    this.plays[index]! += 1
  }
}

/**
 * Plays a story through again and again (a Monte Carlo simulation) by the same rules as the
 * rehearsal. The same story, player and seed give the same figures.
 */
export class Simulation {
  plays = 0
  private readonly decider: Decider
  private readonly given: GivenSource
  private readonly words: WordsRead
  private readonly beats: Seen
  private readonly choices: Seen
  private readonly endings: Seen
  private readonly stages: readonly Seen[]
  private readonly times: Uint32Array
  private readonly offered: Uint32Array
  private readonly taken: Uint32Array
  private readonly unended = { stuck: 0, endless: 0, 'given-up': 0 }
  private readonly lengths: number[] = []
  private readonly read: number[] = []
  private readonly counters: readonly { readonly entry: LinkedEntry; readonly steps: Uint32Array[] }[]

  private constructor(
    private readonly story: LinkedStory,
    private readonly options: SimulationOptions,
    towards: Towards | undefined,
  ) {
    this.decider = new Decider(story, options.player, seededRandom(options.seed), towards)
    // a source of its own: what players decide stays the same when something given is added
    this.given = new GivenSource(story, options.given ?? {}, seededRandom(~options.seed))
    this.words = new WordsRead(story)
    this.beats = new Seen(story.beats.length)
    this.choices = new Seen(story.choices.length)
    this.endings = new Seen(story.endings.length)
    this.stages = story.quests.map(({ stages }) => new Seen(stages.length))
    this.times = new Uint32Array(story.beats.length)
    this.offered = new Uint32Array(story.choices.length)
    this.taken = new Uint32Array(story.choices.length)
    const { written } = usedEntries(story)
    const counted = story.entries.filter(
      ({ kind, index, min, max }) =>
        (kind === 'counter' || kind === 'item') && written[index] === 1 && max - min < RANGE_MAX,
    )
    this.counters = counted.map((entry) => ({ entry, steps: [] }))
  }

  /** A player bound for an ending needs the finished survey of the story; fails when no route comes there. */
  static of(story: LinkedStory, options: SimulationOptions, survey: () => Survey): Result<Simulation> {
    const { player, given = {} } = options
    const trouble = drawTrouble(story, given)
    if (trouble !== undefined) return fail(trouble)
    if (player.kind !== 'bound') return ok(new Simulation(story, options, undefined))
    if (!story.endingOf.has(player.ending)) return fail(`the story has no ending "${player.ending}"`)
    const towards = Towards.ending(survey(), player.ending)
    return towards === undefined
      ? fail(`no route is known that comes to the ending "${player.ending}"`)
      : ok(new Simulation(story, options, towards))
  }

  /** Plays so many times more. */
  advance(plays: number): void {
    for (let play = 0; play < plays; play += 1) this.playOnce()
  }

  result(): SimulationResult {
    const { story, plays } = this
    const share = (count: number): Share => ({ plays: count, share: plays === 0 ? 0 : count / plays })
    const by = <T, V>(items: readonly T[], key: (item: T) => string, value: (item: T, at: number) => V) =>
      Object.fromEntries(items.map((item, at) => [key(item), value(item, at)]))
    const told = (numbers: readonly number[]) => {
      const sorted = Float64Array.from(numbers).sort()
      return { spread: spreadOf(sorted), bars: barsOf(sorted) }
    }
    return {
      ...this.options,
      plays,
      endings: by(
        story.endings,
        ({ id }) => id,
        (_, at) => share(this.endings.plays[at]!),
      ),
      stages: Object.fromEntries(
        story.quests.flatMap((quest) =>
          quest.stages
            .slice(1)
            .map((stage, at) => [`${quest.id}.${stage}`, share(this.stages[quest.index]!.plays[at + 1]!)]),
        ),
      ),
      unended: {
        stuck: share(this.unended.stuck),
        endless: share(this.unended.endless),
        'given-up': share(this.unended['given-up']),
      },
      decisions: told(this.lengths),
      words: told(this.read),
      beats: by(
        story.beats,
        ({ address }) => address,
        (_, at) => ({ ...share(this.beats.plays[at]!), times: this.times[at]! }),
      ),
      choices: by(
        story.choices,
        ({ address }) => address,
        (_, at) => ({ ...share(this.choices.plays[at]!), offered: this.offered[at]!, taken: this.taken[at]! }),
      ),
      counters: by(
        this.counters,
        ({ entry }) => entry.id,
        ({ entry, steps }) =>
          steps.flatMap((counts, decisions) => {
            const spread = spreadOfCounts(counts, entry.min)
            return spread === undefined ? [] : [{ decisions, ...spread }]
          }),
      ),
    }
  }

  private playOnce(): void {
    const { story, decider, plays: play } = this
    let words = 0
    const listener: Listener = {
      beat: ({ index }) => {
        this.beats.see(index, play)
        this.times[index]! += 1
      },
      line: (line, state) => {
        words += this.words.in(line.text, state)
      },
      change: (_, __, change) => {
        if (change.of === 'quest')
          this.stages[change.index]!.see(story.quests[change.index]!.stages.indexOf(String(change.to)), play)
      },
    }
    let state = begin(story, listener, this.given.begins ? this.given.beginning() : {})
    decider.begin(state)
    this.measure(state, 0)
    const longest = this.options.longest ?? DECISIONS_MAX
    let made = 0
    for (;;) {
      if (this.given.changes) state = this.giveAnew(state, listener)
      if (made === longest || (state.status !== 'choice' && state.status !== 'word')) break
      words += this.wordsOffered(state)
      const decision = decider.next(state)
      if ('choice' in decision) {
        const index = story.choiceOf.get(decision.choice)!
        this.choices.see(index, play)
        this.taken[index]! += 1
      }
      const next = decide(story, state, decision, listener)
      if (!next.ok) throw new Error(`a simulated player can't do what is open: ${next.error}`)
      state = next.value
      made += 1
      this.measure(state, made)
    }
    this.note(state.status, state, play)
    this.lengths.push(made)
    this.read.push(words)
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
        const next = decide(story, state, { given }, listener)
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
      this.offered[choice.index]! += 1
      words += this.words.in(choice.text, state)
    }
    return words
  }

  private measure(state: PlayState, made: number): void {
    if (made > STEPS_MAX) return
    for (const { entry, steps } of this.counters) {
      const counts = (steps[made] ??= new Uint32Array(entry.max - entry.min + 1))
      counts[Number(state.entries[entry.index]) - entry.min]! += 1
    }
  }

  private note(status: Status, state: PlayState, play: number): void {
    if (status === 'ended') this.endings.see(this.story.beats[state.at]!.ending, play)
    else if (status === 'stuck') this.unended.stuck += 1
    else if (status === 'endless') this.unended.endless += 1
    else if (status !== 'nowhere') this.unended['given-up'] += 1
  }
}
