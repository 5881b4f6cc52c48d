import { readFileSync } from 'node:fs'
import { ordinary } from '../bench/stories/families'
import { randomStory } from '../bench/stories/random'
import { chartOf, type Chart } from '../src/core/atlas/chart'
import { seededRandom } from '../src/core/base/random'
import { applyChange } from '../src/core/story/changes/apply'
import { linkStory } from '../src/core/story/link'
import type { LinkedStory } from '../src/core/story/linked'
import { NO_BEAT, ROAD_KINDS, TAKEN } from '../src/core/story/roads'
import type { Story } from '../src/core/story/types'
import { inOneGo } from '../src/core/base/slices'
import { Bearings } from '../src/core/survey/questions/bearing'
import { outlook, SHARES } from '../src/core/survey/questions/outlook'
import { roadFacts } from '../src/core/survey/questions/road-facts'
import { Survey, surveyStory } from '../src/core/survey/survey'
import { randomChange } from './random-change'

const sample = (name: string) => JSON.parse(readFileSync(`samples/${name}.story.json`, 'utf8')) as Story

function surveyed(story: Story): { readonly linked: LinkedStory; readonly chart: Chart } {
  const linked = linkStory(story)
  const result = surveyStory(linked, { routes: 'none' })
  return { linked, chart: chartOf(linked, (roads) => roadFacts(linked, result, roads)) }
}

const stories = () => [
  sample('causeway'),
  sample('first-draft'),
  ...Array.from({ length: 45 }, (_, seed) => randomStory(seed + 1)),
]

test('every beat has a place of its own, across by its shortest distance, in the band of its scene', () => {
  let margin = 0
  for (const story of stories()) {
    const linked = linkStory(story)
    const result = surveyStory(linked, { routes: 'none' })
    const chart = chartOf(linked, (roads) => roadFacts(linked, result, roads))
    const places = new Set<string>()
    for (const beat of linked.inOrder) {
      const { index, scene, address } = beat
      const [isMargin, column, row] = [chart.inMargin[index] === 1, chart.column[index]!, chart.row[index]!]
      places.add(`${scene} ${isMargin} ${column} ${row}`)
      const decisions = result.reached.beats[address]?.decisions
      if (result.complete) expect({ address, isMargin }).toEqual({ address, isMargin: decisions === undefined })
      if (decisions !== undefined) expect({ address, column }).toEqual({ address, column: decisions })
      expect(row).toBeLessThan(chart.rows[scene]!)
      expect(column).toBeLessThan(isMargin ? chart.marginColumns[scene]! : chart.columns)
      if (isMargin) margin += 1
    }
    expect(places.size).toBe(linked.inOrder.length)
    // told again it is the same
    expect(chartOf(linked, (roads) => roadFacts(linked, result, roads))).toEqual(chart)
  }
  expect(margin).toBeGreaterThan(20)
})

test('without a survey beats stand by their roads alone, which is never further than the survey says', () => {
  for (const story of stories()) {
    const { linked, chart } = surveyed(story)
    const early = chartOf(linked)
    for (const { index } of linked.inOrder) {
      if (chart.inMargin[index] === 1) continue
      expect(early.inMargin[index]).toBe(0)
      expect(early.byRoads[index]).toBe(1)
      expect(early.column[index]).toBeLessThanOrEqual(chart.column[index]!)
    }
  }
})

/** Pairs of roads between two columns of one band that cross. */
function crossings({ roads, column, row, inMargin }: Chart, linked: LinkedStory, rowOf = row): number {
  const byCell = new Map<string, [number, number][]>()
  for (let road = 0; road < roads.count; road += 1) {
    const [from, to] = [roads.from[road]!, roads.to[road]!]
    if (to === NO_BEAT || inMargin[from] === 1 || inMargin[to] === 1) continue
    const [scene, there] = [linked.beats[from]!.scene, linked.beats[to]!.scene]
    if (scene !== there || column[to]! <= column[from]!) continue
    const name = `${scene} ${column[from]} ${column[to]}`
    byCell.set(name, [...(byCell.get(name) ?? []), [rowOf[from]!, rowOf[to]!]])
  }
  let count = 0
  for (const list of byCell.values())
    for (const [at, one] of list.entries())
      for (const other of list.slice(at + 1)) if ((one[0] - other[0]) * (one[1] - other[1]) < 0) count += 1
  return count
}

/** Layers of beats whose roads lead to beats next to them, written in any order. */
function woven(seed: number): Story {
  const random = seededRandom(seed)
  const [layers, high] = [8, 7]
  const name = (layer: number, at: number) => `b${layer}_${at}`
  const beats = Array.from({ length: layers * high }, (_, index) => {
    const [layer, at] = [Math.floor(index / high), index % high]
    const next = [at, Math.min(high - 1, at + random.below(2)), Math.max(0, at - random.below(2))]
    const choices = layer === layers - 1 ? [] : [...new Set(next)]
    return {
      id: name(layer, at),
      choices: choices.map((to) => ({ id: `c${to}`, text: 'On', to: `s.${name(layer + 1, to)}` })),
    }
  })
  const shuffled = beats
    .map((beat) => ({ beat, key: random.below(1e6) }))
    .sort((a, b) => a.key - b.key)
    .map(({ beat }) => beat)
  const first = {
    id: 'first',
    choices: Array.from({ length: high }, (_, at) => ({ id: `c${at}`, text: 'On', to: `s.${name(0, at)}` })),
  }
  return {
    paperCompass: 1,
    title: 'Woven',
    language: 'en',
    start: 's.first',
    endings: [],
    scenes: [{ id: 's', title: 'S', beats: [first, ...shuffled] }],
  }
}

test('the order within a column lets roads cross less than the order of the document does', () => {
  let [ordered, written] = [0, 0]
  for (const story of [...stories(), ordinary(400), ...[1, 2, 3, 4].map(woven)]) {
    const linked = linkStory(story)
    const chart = chartOf(linked)
    ordered += crossings(chart, linked)
    const seen = new Map<string, number>()
    const document = Int32Array.from(linked.beats, ({ index, scene }) => {
      const cell = `${scene} ${chart.column[index]}`
      seen.set(cell, (seen.get(cell) ?? -1) + 1)
      return seen.get(cell)!
    })
    written += crossings(chart, linked, document)
  }
  expect(written).toBeGreaterThan(100)
  console.info(`${written} crossings as written, ${ordered} as ordered`)
  expect(ordered).toBeLessThan(written * 0.5)
})

test('an edit moves few of the beats that it does not touch', () => {
  const random = seededRandom(4)
  let [stayed, moved, edits] = [0, 0, 0]
  for (const first of [sample('causeway'), ordinary(300), ordinary(800), ...stories().slice(2, 30)]) {
    let story = first
    for (let step = 0; step < 12; step += 1) {
      const applied = applyChange(story, randomChange(story, random))
      if (!applied.ok || applied.value.story === story) continue
      const [before, after] = [linkStory(story), linkStory(applied.value.story)]
      const [old, next] = [chartOf(before), chartOf(after)]
      edits += 1
      for (const { address, index, scene } of before.inOrder) {
        const now = after.beatOf.get(address)
        if (now === undefined || before.doc.scenes[scene]!.id !== after.doc.scenes[after.beats[now]!.scene]!.id)
          continue
        // what is at another distance now is no longer where it was
        if (old.column[index] !== next.column[now] || old.inMargin[index] !== next.inMargin[now]) continue
        if (Math.abs(old.row[index]! - next.row[now]!) <= 1) stayed += 1
        else moved += 1
      }
      story = applied.value.story
    }
  }
  expect(edits).toBeGreaterThan(100)
  console.info(`${edits} edits: ${moved} of ${stayed + moved} beats moved by more than a row`)
  expect(moved / (stayed + moved)).toBeLessThan(0.02)
})

test('unreached beats stand together by what keeps the player out', () => {
  let barred = 0
  for (const story of stories()) {
    const { linked, chart } = surveyed(story)
    const grouped = chart.groups.flatMap(({ beats }) => beats)
    expect(grouped.toSorted((a, b) => a - b)).toEqual(
      linked.inOrder.map(({ index }) => index).filter((index) => chart.inMargin[index] === 1),
    )
    for (const { band, road, beats } of chart.groups) {
      for (const beat of beats) expect(linked.beats[beat]!.scene).toBe(band)
      if (road === -1) continue
      barred += 1
      expect(chart.inMargin[chart.roads.from[road]!]).toBe(0)
      expect(chart.inMargin[chart.roads.to[road]!]).toBe(1)
      expect(chart.taken[road]).not.toBe(TAKEN.taken)
    }
  }
  expect(barred).toBeGreaterThan(10)
})

test('roads are of every kind; one that returns is drawn home where that is one place', () => {
  const to = (...choices: string[]) => choices.map((target, at) => ({ id: `c${at}`, text: 'On', to: target }))
  const story = (second: boolean): Story => ({
    paperCompass: 1,
    title: 'Kinds',
    language: 'en',
    start: 's.hub',
    cast: [{ id: 'ann', name: 'Ann' }],
    endings: [],
    scenes: [
      {
        id: 's',
        title: 'S',
        beats: [
          {
            id: 'hub',
            place: true,
            choices: [...to('s.aside', 's.other'), { id: 'meet', text: 'Ann', who: 'ann', to: 's.pass' }],
          },
          { id: 'other', ...(second ? { place: true } : {}), choices: to('s.aside') },
          { id: 'aside', choices: to('return') },
          { id: 'pass', redirects: [{ when: 'false', to: 's.other' }], onward: [{ to: 's.aside' }] },
        ],
      },
    ],
  })
  const homeOf = (second: boolean) => {
    const linked = linkStory(story(second))
    const { roads } = chartOf(linked)
    const kinds = [...roads.kind].map((kind) => ROAD_KINDS[kind]!)
    expect([...new Set(kinds)].sort()).toEqual([...ROAD_KINDS].sort())
    return roads.to[kinds.indexOf('return')]
  }
  expect(homeOf(false)).toBe(0)
  expect(homeOf(true)).toBe(NO_BEAT)
})

test('how the endings stand at each beat is what the bearing of the beat says', () => {
  let [passed, split] = [0, 0]
  for (const story of stories()) {
    const linked = linkStory(story)
    const survey = new Survey(linked, { routes: 'none' })
    while (!survey.advance());
    const { endings, shares } = inOneGo(outlook(survey, () => false))
    const bearings = new Bearings(survey)
    for (const { index, address, onward } of linked.inOrder) {
      // all of a story of many beats would take long
      if (linked.inOrder.length > 30 && index % 3 !== 0) continue
      const told = Object.fromEntries(endings.map((id, at) => [id, SHARES[shares[index * endings.length + at]!]]))
      expect({ address, told }).toEqual({ address, told: bearings.of(address)!.endings })
      if (onward.length > 0) passed += 1
      if (Object.values(told).includes('some')) split += 1
    }
  }
  expect(passed).toBeGreaterThan(30)
  expect(split).toBeGreaterThan(10)
})
