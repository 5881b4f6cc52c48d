import type { LinkedStory } from '../../story/linked'
import { promiseParts } from '../../story/linked-parts'
import type { BeatSummary } from '../summaries/beat-summary'
import { variablesOf, variablesRead } from '../summaries/variables'
import type { FlowGraph } from './flow-graph'
import { givenPlan } from './given-plan'
import { beatsThatRead, namesSome } from './given-reads'
import type { Observed } from './observed'
import type { Slots } from './slots'

/** What is known of every chunk of 32 slots before the roads are looked at; sets of slots are masks by chunk. */
export class ChunkMasks {
  readonly count: number
  /** Slots that are looked at wherever the story rests. */
  readonly everywhere: Int32Array
  /** Slots that the game sets before the story begins. */
  readonly chosen: Int32Array
  /** Slots that are chosen anew after every rest. */
  readonly anew: Int32Array
  /** The slots of quests that can come to an outcome; the slots of quests follow one another from the first on. */
  readonly endingQuests: Int32Array
  readonly firstQuest: number
  /** By scene: its own slots. */
  readonly own: readonly (Int32Array | undefined)[]
  /** By chunk: whether some slot of it is a scene's own. */
  readonly hasOwn: Uint8Array
  /** By chunk: the beats that name one of its slots. */
  readonly namers: readonly Int32Array[]
  /** By beat: whether a rest there can be left as something given changes. */
  readonly movesOn: Uint8Array
  /** Slots that are given while the story rests. */
  private readonly given: ReadonlySet<number>

  constructor(
    story: LinkedStory,
    private readonly slots: Slots,
    roads: FlowGraph,
    observed: Observed,
  ) {
    this.count = Math.max(1, Math.ceil(slots.all.length / 32))
    const given = givenPlan(story, slots, observed)
    const variables = variablesOf(story)
    const promised = observed.promises ? story.promises.flatMap((promise) => [...promiseParts(promise)]) : []
    const promisedSlots = promised.flatMap((expr) =>
      [...variablesRead(story, variables, expr)].map((variable) => slots.ofVariable[variable]!),
    )
    this.everywhere = this.maskOf([...promisedSlots, ...observed.keep, ...given.held])
    this.chosen = this.maskOf([...given.begin, ...given.held])
    this.anew = this.maskOf(given.free)
    const givenAtRests = [...given.free, ...given.held]
    this.given = new Set(givenAtRests)
    this.movesOn = beatsThatRead(roads, slots, givenAtRests)
    const ending = story.quests.filter(({ outcomes }) => outcomes.some((outcome) => outcome !== undefined))
    this.endingQuests = this.maskOf(ending.map(({ index }) => slots.ofQuest[index]!))
    this.firstQuest = slots.ofQuest[0] ?? 0
    const own: number[][] = []
    for (const { scene, index } of story.entries) if (scene !== -1) (own[scene] ??= []).push(slots.ofEntry[index]!)
    this.own = own.map((all) => this.maskOf(all))
    this.hasOwn = new Uint8Array(this.count)
    for (const masks of this.own) masks?.forEach((mask, chunk) => mask !== 0 && (this.hasOwn[chunk] = 1))
    this.namers = this.beatsByChunk(roads)
  }

  /** All slots of a chunk. */
  all(chunk: number): number {
    const count = Math.min(32, this.slots.all.length - chunk * 32)
    return count === 32 ? -1 : (1 << count) - 1
  }

  /** Whether a rest at a beat can be left as something given changes. */
  readsGiven(summary: BeatSummary): boolean {
    return this.given.size > 0 && namesSome(summary, this.slots, this.given)
  }

  private maskOf(slots: Iterable<number>): Int32Array {
    const masks = new Int32Array(this.count)
    for (const slot of slots) masks[slot >>> 5]! |= 1 << (slot & 31)
    return masks
  }

  private beatsByChunk(roads: FlowGraph): Int32Array[] {
    const lists = Array.from({ length: this.count }, (): number[] => [])
    const { ofVariable } = this.slots
    roads.summaries.forEach(({ variables }, beat) => {
      for (const variable of variables) {
        const slot = ofVariable[variable]!
        if (slot === -1) continue
        const list = lists[slot >>> 5]!
        if (list.at(-1) !== beat) list.push(beat)
      }
    })
    return lists.map((list) => Int32Array.from(list))
  }
}
