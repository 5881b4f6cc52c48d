import type { LinkedBeat, LinkedStory, Road } from './linked'
import { positionsInDocument } from './linked-parts'

/** How one gets from beat to beat. */
export const ROAD_KINDS = ['choice', 'encounter', 'redirect', 'onward', 'return'] as const
export type RoadKind = (typeof ROAD_KINDS)[number]

/** Leads nowhere yet, or back to a place that is not one and the same. */
export const NO_BEAT = -1

/** Whether a road is taken on some route. */
export const TAKEN = { undecided: 0, taken: 1, never: 2 } as const

/** In the place of a distance. */
export const UNREACHED = -1
export const UNDECIDED = -2

/** What a survey knows of beats, by their position in the document, and of roads, by their index. */
export interface RoadFacts {
  /** Decisions to each beat, UNREACHED or UNDECIDED. */
  readonly distances: Int32Array
  /** A TAKEN for each road. */
  readonly taken: Uint8Array
}

/** Every road of a story in document order, in columns; beats are told by their position in the document. */
export interface Roads {
  readonly count: number
  readonly from: Int32Array
  /** NO_BEAT: nowhere, or to the place that the player came from where that can be one of several. */
  readonly to: Int32Array
  /** Index in ROAD_KINDS. */
  readonly kind: Uint8Array
  /** Index of the choice among those of its beat; of a redirect or an onward road its number, from 1. */
  readonly owner: Int32Array
  /** Number of the rule of a choice, from 1; 0 where it leads one way. */
  readonly rule: Int32Array
  /** 1 where it takes a decision. */
  readonly decides: Uint8Array
}

const CODE: Readonly<Record<RoadKind, number>> = { choice: 0, encounter: 1, redirect: 2, onward: 3, return: 4 }

/** All roads of a story. */
export function allRoads(story: LinkedStory): Roads {
  const columns: number[][] = [[], [], [], [], [], []]
  const positions = positionsInDocument(story)
  const put = (from: number, road: Road, kind: RoadKind, owner: number, rule: number, decides: boolean) => {
    const isReturn = road.kind === 'return'
    const row = [
      from,
      road.kind === 'beat' ? positions[road.beat]! : NO_BEAT,
      CODE[isReturn ? 'return' : kind],
      owner,
      rule,
    ]
    row.push(decides ? 1 : 0)
    row.forEach((value, column) => columns[column]!.push(value))
  }
  story.inOrder.forEach((beat, position) => {
    beat.redirects.forEach(({ to }, at) => put(position, to, 'redirect', at + 1, 0, false))
    beat.choices.forEach(({ to, who }, at) => {
      const kind = who === undefined ? 'choice' : 'encounter'
      if (to.kind === 'road') put(position, to.road, kind, at, 0, true)
      else to.rules.forEach((rule, index) => put(position, rule.to, kind, at, index + 1, true))
    })
    beat.onward.forEach(({ to }, at) => put(position, to, 'onward', at + 1, 0, beat.ask !== undefined))
  })
  const [from, to, kind, owner, rule, decides] = columns
  const roads = {
    count: from!.length,
    from: Int32Array.from(from!),
    to: Int32Array.from(to!),
    kind: Uint8Array.from(kind!),
    owner: Int32Array.from(owner!),
    rule: Int32Array.from(rule!),
    decides: Uint8Array.from(decides!),
  }
  homeward(story, roads, story.start === -1 ? NO_BEAT : positions[story.start]!)
  return roads
}

/** The roads of a beat: those from it, and those to it from others. */
export function roadsAt({ count, from, to }: Roads, beat: number): { readonly out: number[]; readonly into: number[] } {
  const [out, into]: [number[], number[]] = [[], []]
  for (let road = 0; road < count; road += 1) {
    if (from[road] === beat) out.push(road)
    else if (to[road] === beat) into.push(road)
  }
  return { out, into }
}

/** The address of a road, as findings name it. */
export function roadAddress(story: LinkedStory, roads: Roads, road: number): string {
  const beat = story.inOrder[roads.from[road]!]!
  const owner = roads.owner[road]!
  if (isOfChoice(story, roads, road)) {
    const rule = roads.rule[road]!
    return `${beat.choices[owner]!.address}${rule === 0 ? '' : `#${rule}`}`
  }
  return `${beat.address}#${isRedirect(beat, roads, road) ? 'redirect' : 'onward'}${owner}`
}

/** The redirects of a beat are the first of its roads; one that returns is told by that alone. */
function isRedirect({ redirects }: LinkedBeat, { from }: Roads, road: number): boolean {
  let before = 0
  while (road > before && from[road - before - 1] === from[road]) before += 1
  return before < redirects.length
}

/** A return can be one of a choice, of a redirect or of an onward road. */
export function isOfChoice(story: LinkedStory, roads: Roads, road: number): boolean {
  const kind = ROAD_KINDS[roads.kind[road]!]!
  if (kind !== 'return') return kind === 'choice' || kind === 'encounter'
  return roads.decides[road] === 1 && story.inOrder[roads.from[road]!]!.ask === undefined
}

const UNSEEN = -2

/**
 * Where a return leads, where that is one place on all roads: the last place passed is carried along the roads until
 * nothing changes, as constants are propagated (Kildall 1973: none, one, several).
 */
function homeward(
  { inOrder: beats }: LinkedStory,
  roads: { count: number; from: Int32Array; to: Int32Array; kind: Uint8Array },
  start: number,
): void {
  if (!roads.kind.includes(CODE.return)) return
  const last = new Int32Array(beats.length).fill(UNSEEN)
  const out = beats.map((): number[] => [])
  for (let road = 0; road < roads.count; road += 1) out[roads.from[road]!]!.push(road)
  const work: number[] = []
  const come = (beat: number, place: number) => {
    const held = beats[beat]!.place ? beat : place
    const next = last[beat] === UNSEEN || last[beat] === held ? held : NO_BEAT
    if (next === last[beat]) return
    last[beat] = next
    work.push(beat)
  }
  if (start !== NO_BEAT) come(start, NO_BEAT)
  while (work.length > 0) {
    const beat = work.pop()!
    for (const road of out[beat]!) {
      const to = roads.kind[road] === CODE.return ? last[beat]! : roads.to[road]!
      if (to >= 0) come(to, last[beat]!)
    }
  }
  for (let road = 0; road < roads.count; road += 1)
    if (roads.kind[road] === CODE.return) roads.to[road] = Math.max(NO_BEAT, last[roads.from[road]!]!)
}
