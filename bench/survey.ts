import { cpus } from 'node:os'
import { linkStory } from '../src/core/story/link'
import type { LinkedStory } from '../src/core/story/linked'
import type { Story } from '../src/core/story/types'
import { Survey } from '../src/core/survey/survey'
import {
  corridor,
  gatesAcross,
  ordinary,
  production,
  questsAroundHub,
  rivals,
  sideQuests,
  unevenBudget,
} from './stories/families'
import { randomStory } from './stories/random'

/** Prints what the survey costs, for each family of stories at growing sizes. Run with `npm run bench`. */

const FAMILIES: readonly (readonly [string, () => Story])[] = [
  ...[5, 6, 7, 8, 9].map((count) => [`quests around a hub, ${count}`, () => questsAroundHub(count)] as const),
  ...[10, 14, 18, 20].map((count) => [`uneven budget, ${count} things`, () => unevenBudget(count, count * 3)] as const),
  ...(
    [
      [500, 40],
      [2000, 160],
      [10000, 800],
    ] as const
  ).map(([beats, flags]) => [`corridor, ${beats} beats, ${flags} flags`, () => corridor(beats, flags)] as const),
  ...[3, 4, 5, 6, 8].map((count) => [`rival quests, ${count} pairs`, () => rivals(count)] as const),
  ...[500, 2000, 10000].map((count) => [`ordinary story, ${count} beats`, () => ordinary(count)] as const),
  ...[20, 200].map((count) => [`side quests, one ending, ${count}`, () => sideQuests(count)] as const),
  ['production, 10000 beats', () => production(10000)],
  ...[1, 2, 3].map((seed) => [`random story ${seed}`, () => randomStory(seed)] as const),
]

/** What only sets decide: by family, sizes and the story of each. */
const IN_SETS: readonly (readonly [string, readonly number[], (size: number) => Story])[] = [
  ['sets: hub, of 4', [12, 24, 48, 96, 192], (count) => questsAroundHub(count)],
  ['sets: hub, of 6', [20, 40, 60], (count) => questsAroundHub(count, 6)],
  ['sets: pairs of rivals', [12, 20, 30, 60], rivals],
  ['sets: gates on the next', [12, 24, 48], (count) => gatesAcross(count, 1)],
  ['sets: gates five further', [12, 24, 48, 64, 128], (count) => gatesAcross(count, 5)],
  ['sets: one budget', [22, 30, 40, 56], (count) => unevenBudget(count, Math.floor(count * 1.5))],
]

const EDITS = 7

/** The story with one gate written in brackets: nothing that it says is changed, and nothing of that is known beforehand. */
function edited(story: Story, round: number): Story {
  const gated = story.scenes.flatMap((scene) =>
    scene.beats.filter((beat) => beat.choices?.some(({ when }) => when !== undefined)),
  )
  const target = gated[(round * 7919) % gated.length]
  return {
    ...story,
    scenes: story.scenes.map((scene) => ({
      ...scene,
      beats: scene.beats.map((beat) =>
        beat === target
          ? {
              ...beat,
              choices: beat.choices!.map((choice) =>
                choice.when === undefined ? choice : { ...choice, when: `(${choice.when})` },
              ),
            }
          : beat,
      ),
    })),
  }
}

interface Took {
  readonly survey: Survey
  readonly linked: LinkedStory
  readonly figures: ReturnType<Survey['brief']>['figures']
  readonly link: number
  readonly prepare: number
  readonly search: number
  readonly answer: number
}

/** As the page's worker does it; times in milliseconds. */
function take(story: Story, before?: Took): Took {
  const start = performance.now()
  const linked = linkStory(story, before?.linked)
  const linkedAt = performance.now()
  const survey = new Survey(linked, { routes: 'none' }, before?.survey)
  const preparedAt = performance.now()
  while (!survey.advance(65536));
  const searchedAt = performance.now()
  const { figures } = survey.brief()
  return {
    survey,
    linked,
    figures,
    link: linkedAt - start,
    prepare: preparedAt - linkedAt,
    search: searchedAt - preparedAt,
    answer: performance.now() - searchedAt,
  }
}

const whole = ({ link, prepare, search, answer }: Took) => link + prepare + search + answer
const only = process.argv[2]

console.log(`${cpus()[0]?.model ?? 'unknown processor'}, ${cpus().length} cores, node ${process.version}`)
console.log(
  'First: the first survey of the story. Again: another, of nothing known. Edit: after an edit, the middle one of several. Times in ms; a transition takes 4 bytes more. In sets: decided over sets of states, the moves being those that were looked at one by one until then.',
)
console.log(
  'family'.padEnd(34) +
    [
      'states',
      'moves',
      'bits',
      'states/s',
      'moves/s',
      'bytes/st',
      'link',
      'prepare',
      'search',
      'answer',
      'first',
      'again',
      'edit',
    ]
      .map((name) => name.padStart(10))
      .join(''),
)
for (const [name, make] of FAMILIES) {
  if (only !== undefined && !name.includes(only)) continue
  const story = make()
  const first = take(story)
  const again = take(structuredClone(story))
  const edits: number[] = []
  for (let round = 0, now = story, last = again; round < EDITS; round += 1) {
    now = edited(now, round)
    last = take(now, last)
    edits.push(whole(last))
  }
  edits.sort((a, b) => a - b)
  const { figures } = again
  const seconds = again.search / 1000
  const row = [
    figures.states,
    figures.transitions,
    figures.bits,
    Math.round(figures.states / seconds),
    Math.round(figures.transitions / seconds),
    ((figures.bytes - 4 * figures.transitions) / figures.states).toFixed(1),
    ...[
      first.link,
      first.prepare,
      first.search,
      first.answer,
      whole(first),
      whole(again),
      edits[Math.floor(EDITS / 2)]!,
    ].map((time) => time.toFixed(0)),
  ]
  console.log(name.padEnd(34) + row.map((value) => String(value).padStart(10)).join(''))
}

console.log('\nIn sets, as the command line does it. Power: how the time has grown with the size since the row before.')
console.log(
  'family'.padEnd(34) + ['size', 'states', 'ms', 'power', 'diagrams', 'MB'].map((name) => name.padStart(12)).join(''),
)
for (const [name, sizes, make] of IN_SETS) {
  if (only !== undefined && !name.includes(only)) continue
  let before: { readonly size: number; readonly ms: number } | undefined
  for (const size of sizes) {
    const story = linkStory(make(size))
    const start = performance.now()
    const survey = new Survey(story, { routes: 'ends' })
    while (!survey.advance(512));
    const { complete, figures } = survey.result()
    const ms = performance.now() - start
    const { inSets } = survey
    const power = before === undefined ? '' : Math.log(ms / before.ms) / Math.log(size / before.size)
    const row = [
      size,
      complete ? figures.states.toExponential(1) : 'undecided',
      ms.toFixed(0),
      power === '' ? '' : power.toFixed(1),
      inSets?.diagrams.nodes ?? 'one by one',
      (figures.bytes / 1e6).toFixed(0),
    ]
    console.log(name.padEnd(34) + row.map((value) => String(value).padStart(12)).join(''))
    before = { size, ms }
  }
}
