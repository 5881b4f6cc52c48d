import { each, reversed, type Adjacency } from './adjacency'
import type { LinkedBeat, LinkedStory } from '../../story/linked'
import { BitRows, include } from './bits'
import { TO_RETURN, type BeatSummary } from '../summaries/beat-summary'
import { summaryOf } from '../summaries/summarise'
import { layersOf } from './beat-layers'
import { variablesOf } from '../summaries/variables'
import type { Slots } from './slots'
import { roadOrder, Worklist } from './worklist'

/**
 * The roads of a story, all gates taken as open: where each beat leads, and which places can be
 * the current one there, so that a road back leads only to places that can have been come to.
 */
export interface FlowGraph {
  readonly summaries: readonly BeatSummary[]
  readonly written: Written
  /** Beats in an order in which nearly each comes after those that lead to it. */
  readonly order: Int32Array
  /** Possible values of the place slot when a beat's choices, its word or its roads on come: 0 for none, else 1 + an index into the places. */
  readonly places: BitRows
  /** Possible values of the place slot on coming into a beat; none where no road comes. */
  readonly placesBefore: BitRows
  /** Beats that a beat leads to before, at and after its decision. */
  readonly redirects: Adjacency
  readonly choices: Adjacency
  readonly onward: Adjacency
  /** The places that a beat's roads back lead to. */
  readonly returns: Adjacency
  /** All of them, but for roads that play can't come to as the story ends or rests before them; each once. */
  readonly ahead: Adjacency
  /** By beat, those that lead there. */
  readonly sources: Adjacency
  /** By beat the rank of its strongly connected component, and by rank its beats: no road leads to a lower rank. */
  readonly layerOf: Int32Array
  readonly membersOf: Adjacency
}

/** Roads of beats as they are written, in their order, TO_RETURN for those that lead back: before, at and after a decision. */
interface Written {
  readonly redirects: Adjacency
  readonly choices: Adjacency
  readonly onward: Adjacency
}

/** `anywhere`: a playthrough may begin at any beat, with any place. `before`: those before an edit, of which what beats say is taken. */
export function flowGraphOf(story: LinkedStory, slots: Slots, anywhere = false, before?: FlowGraph): FlowGraph {
  const variables = variablesOf(story)
  const summaries = Array.from(story.beats, (beat) => summaryOf(story, variables, beat))
  const written: Written = {
    redirects: writtenRoads('redirects', summaries, before),
    choices: writtenRoads('choices', summaries, before),
    onward: writtenRoads('onward', summaries, before),
  }
  const order = roadOrder([written.redirects, written.choices, written.onward], summaries.length, story.start)
  const { places, placesBefore } = currentPlaces(story, slots, written, order, anywhere)
  const returns = listed(summaries.length, (beat, add) => {
    const { redirects, choices, onward } = written
    if (!leadsBack(redirects, beat) && !leadsBack(choices, beat) && !leadsBack(onward, beat)) return
    for (const rows of isEmptyRow(redirects, beat) ? [places] : [places, placesBefore]) {
      for (let word = 0; word < rows.words; word += 1) {
        for (let rest = rows.bits[beat * rows.words + word]!; rest !== 0; rest &= rest - 1) {
          const value = word * 32 + 31 - Math.clz32(rest & -rest)
          if (value !== 0) add(slots.places[value - 1]!)
        }
      }
    }
  })
  const follow = ({ first, beats }: Adjacency) =>
    listed(summaries.length, (beat, add) => {
      for (let at = first[beat]!; at < first[beat + 1]!; at += 1) {
        const to = beats[at]!
        if (to !== TO_RETURN) add(to)
        else each(returns, beat, add)
      }
    })
  const redirects = follow(written.redirects)
  const choices = follow(written.choices)
  const onward = follow(written.onward)
  const ahead = together(story, redirects, choices, onward)
  const layerOf = layersOf(ahead)
  return {
    summaries,
    written,
    order,
    places,
    placesBefore,
    redirects,
    choices,
    onward,
    returns,
    ahead,
    sources: reversed(story.beats.length, ahead),
    layerOf,
    membersOf: members(layerOf),
  }
}

/** The same roads after an edit that led none elsewhere. */
export function withSummaries(story: LinkedStory, roads: FlowGraph, changed: readonly LinkedBeat[]): FlowGraph {
  const variables = variablesOf(story)
  const summaries = [...roads.summaries]
  for (const beat of changed) summaries[beat.index] = summaryOf(story, variables, beat)
  return { ...roads, summaries }
}

function writtenRoads(
  kind: keyof Written,
  summaries: readonly BeatSummary[],
  before: FlowGraph | undefined,
): Adjacency {
  const { length } = summaries
  const first = new Int32Array(length + 1)
  const beats: number[] = []
  for (let beat = 0; beat < length; beat += 1) {
    const summary = summaries[beat]!
    if (summary === before?.summaries[beat]) each(before.written[kind], beat, (to) => beats.push(to))
    else for (const { to } of summary.edges[kind]) beats.push(to)
    first[beat + 1] = beats.length
  }
  return { first, beats: Int32Array.from(beats) }
}

function isEmptyRow({ first }: Adjacency, row: number): boolean {
  return first[row] === first[row + 1]
}

function leadsBack({ first, beats }: Adjacency, beat: number): boolean {
  for (let at = first[beat]!; at < first[beat + 1]!; at += 1) if (beats[at] === TO_RETURN) return true
  return false
}

function members(layerOf: Int32Array): Adjacency {
  const first = Int32Array.from({ length: layerOf.length + 1 }, (_, beat) => beat)
  return reversed(layerOf.length, { first, beats: layerOf })
}

/** Adjacency beat by beat, each of a beat's once. */
function listed(length: number, list: (beat: number, add: (target: number) => void) => void): Adjacency {
  const first = new Int32Array(length + 1)
  const beats: number[] = []
  let start = 0
  const add = (target: number) => {
    for (let at = start; at < beats.length; at += 1) if (beats[at] === target) return
    beats.push(target)
  }
  for (let beat = 0; beat < length; beat += 1) {
    start = beats.length
    list(beat, add)
    first[beat + 1] = beats.length
  }
  return { first, beats: Int32Array.from(beats) }
}

function together(story: LinkedStory, redirects: Adjacency, choices: Adjacency, onward: Adjacency): Adjacency {
  const { length } = story.beats
  return listed(length, (beat, add) => {
    const { ending, ask, choices: own } = story.beats[beat]!
    each(redirects, beat, add)
    if (ending === -1 && ask === undefined) each(choices, beat, add)
    if (ending === -1 || own.length > 0) each(onward, beat, add)
  })
}

/** Which places can be the current one: forward over the roads, 32 places at a time. */
function currentPlaces(
  story: LinkedStory,
  slots: Slots,
  { redirects, choices, onward }: Written,
  order: Int32Array,
  anywhere: boolean,
): Pick<FlowGraph, 'places' | 'placesBefore'> {
  const { length } = story.beats
  const places = new BitRows(length, slots.places.length + 1)
  const placesBefore = new BitRows(length, slots.places.length + 1)
  if (anywhere) {
    for (let beat = 0; beat < length; beat += 1)
      for (let value = 0; value <= slots.places.length; value += 1) {
        include(placesBefore.row(beat), value)
        include(places.row(beat), value)
      }
    return { places, placesBefore }
  }
  if (story.start === -1) return { places, placesBefore }
  include(placesBefore.row(story.start), 0)
  const work = new Worklist(order)
  // a beat is looked at again whenever more places can be current there; each time in all words that grew
  const grown = Array.from({ length: places.words }, () => new Uint8Array(length))
  work.add(story.start)
  grown[0]![story.start] = 1
  const { words } = places
  const before = placesBefore.bits
  const after = places.bits
  const enter = (target: number, word: number, bits: number) => {
    const at = target * words + word
    if ((bits & ~before[at]!) === 0) return
    before[at]! |= bits
    grown[word]![target] = 1
    work.add(target)
  }
  const go = ({ first, beats }: Adjacency, beat: number, word: number, bits: number) => {
    for (let way = first[beat]!; way < first[beat + 1]!; way += 1) {
      const to = beats[way]!
      if (to !== TO_RETURN) {
        enter(to, word, bits)
        continue
      }
      for (let rest = word === 0 ? bits & ~1 : bits; rest !== 0; rest &= rest - 1) {
        const value = word * 32 + 31 - Math.clz32(rest & -rest)
        enter(slots.places[value - 1]!, word, rest & -rest)
      }
    }
  }
  for (let beat = work.take(); beat !== -1; beat = work.take()) {
    const own = slots.placeOf[beat]!
    for (let word = 0; word < words; word += 1) {
      if (grown[word]![beat] === 0) continue
      grown[word]![beat] = 0
      const at = beat * words + word
      go(redirects, beat, word, before[at]!)
      if (own !== 0) continue
      after[at]! |= before[at]!
      go(choices, beat, word, after[at]!)
      go(onward, beat, word, after[at]!)
    }
    if (own === 0) continue
    const word = own >>> 5
    const at = beat * words + word
    const bit = 1 << (own & 31)
    if ((after[at]! & bit) !== 0) continue
    after[at]! |= bit
    go(choices, beat, word, bit)
    go(onward, beat, word, bit)
  }
  return { places, placesBefore }
}
