import type { PlayState } from '../play/state'
import type { LinkedEntry, LinkedStory } from '../story/linked'
import { usedEntries } from '../survey/summaries/used-entries'
import type { Counted } from './spread'
import type { Tally } from './tally'
import { choicesOf } from '../story/linked-parts'

/** A counter is looked at for so many decisions from the start. */
const STEPS_MAX = 60
/** A counter with a wider range is not looked at. */
const RANGE_MAX = 512

/** In how many playthroughs each of some things was met. */
class Met {
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

/** What is counted while playthrough after playthrough is played, by the indices of the linked story. */
export class Counts {
  readonly beats: Met
  readonly choices: Met
  readonly endings: Met
  readonly stages: readonly Met[]
  readonly times: Uint32Array
  readonly offered: Uint32Array
  readonly taken: Uint32Array
  readonly lengths = new Map<number, number>()
  readonly words = new Map<number, number>()
  private readonly unended = { stuck: 0, endless: 0, 'given-up': 0 }
  private readonly counters: readonly { readonly entry: LinkedEntry; readonly steps: Uint32Array[] }[]

  constructor(private readonly story: LinkedStory) {
    this.beats = new Met(story.beats.length)
    this.choices = new Met(story.choices.length)
    this.endings = new Met(story.endings.length)
    this.stages = story.quests.map(({ stages }) => new Met(stages.length))
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

  /** Counters after so many decisions. */
  measure(state: PlayState, made: number): void {
    if (made > STEPS_MAX) return
    for (const { entry, steps } of this.counters) {
      const counts = (steps[made] ??= new Uint32Array(entry.max - entry.min + 1))
      counts[Number(state.entries[entry.index]) - entry.min]! += 1
    }
  }

  /** How a playthrough came to its end. */
  end(state: PlayState, play: number): void {
    const { status } = state
    if (status === 'ended') this.endings.see(this.story.beats[state.at]!.ending, play)
    else if (status === 'stuck') this.unended.stuck += 1
    else if (status === 'endless') this.unended.endless += 1
    else if (status !== 'nowhere') this.unended['given-up'] += 1
  }

  tally(plays: number): Tally {
    const { story } = this
    const by = <T, V>(items: readonly T[], key: (item: T) => string, value: (at: number) => V) =>
      Object.fromEntries(items.map((item, at) => [key(item), value(at)]))
    const byNumber = <T extends { readonly address: string; readonly index: number }, V>(
      items: readonly T[],
      value: (number: number) => V,
    ) => Object.fromEntries(items.map(({ address, index }) => [address, value(index)]))
    return {
      plays,
      endings: by(
        story.endings,
        ({ id }) => id,
        (at) => this.endings.plays[at]!,
      ),
      stages: Object.fromEntries(
        story.quests.flatMap(({ id, index, stages }) =>
          stages.slice(1).map((stage, at) => [`${id}.${stage}`, this.stages[index]!.plays[at + 1]!]),
        ),
      ),
      unended: { ...this.unended },
      decisions: inOrder(this.lengths),
      words: inOrder(this.words),
      beats: byNumber(story.inOrder, (at) => [this.beats.plays[at]!, this.times[at]!]),
      choices: byNumber(choicesOf(story), (at) => [this.choices.plays[at]!, this.offered[at]!, this.taken[at]!]),
      counters: by(
        this.counters,
        ({ entry }) => entry.id,
        (at) => this.counters[at]!.steps.map((counts) => nonZero(counts, this.counters[at]!.entry.min)),
      ),
    }
  }
}

export function count(counts: Map<number, number>, number: number): void {
  counts.set(number, (counts.get(number) ?? 0) + 1)
}

function inOrder(counts: ReadonlyMap<number, number>): Counted {
  return [...counts].sort(([a], [b]) => a - b)
}

function nonZero(counts: Uint32Array, from: number): Counted {
  return Array.from(counts, (times, at) => [from + at, times] as const).filter(([, times]) => times > 0)
}
