import { cpus } from 'node:os'
import { linkStory } from '../src/core/story/link'
import type { Story } from '../src/core/story/types'
import { Survey } from '../src/core/survey/survey'
import { corridor, ordinary, questsAroundHub, rivals, unevenBudget } from './stories/families'
import { randomStory } from './stories/random'

/** Prints what the survey costs, for each family of stories at growing sizes. Run with `npm run bench`. */

const FAMILIES: readonly (readonly [string, () => Story])[] = [
  ...[5, 6, 7, 8].map((count) => [`quests around a hub, ${count}`, () => questsAroundHub(count)] as const),
  ...[10, 14, 18].map((count) => [`uneven budget, ${count} things`, () => unevenBudget(count, count * 3)] as const),
  ...([[500, 40], [2000, 160], [10000, 800]] as const).map(([beats, flags]) => [`corridor, ${beats} beats, ${flags} flags`, () => corridor(beats, flags)] as const),
  ...[3, 4, 5].map((count) => [`rival quests, ${count} pairs`, () => rivals(count)] as const),
  ...[500, 2000, 10000].map((count) => [`ordinary story, ${count} beats`, () => ordinary(count)] as const),
  ...[1, 2, 3].map((seed) => [`random story ${seed}`, () => randomStory(seed)] as const),
]

const only = process.argv[2]

console.log(`${cpus()[0]?.model ?? 'unknown processor'}, ${cpus().length} cores, node ${process.version}`)
console.log('family'.padEnd(36) + ['states', 'moves', 'bits', 'states/s', 'bytes/st', 'link ms', 'search ms', 'answer ms', 'again ms'].map((name) => name.padStart(11)).join(''))
for (const [name, make] of FAMILIES) {
  if (only !== undefined && !name.includes(only)) continue
  const story = make()
  const start = performance.now()
  const linked = linkStory(story)
  const linkedAt = performance.now()
  const survey = new Survey(linked)
  while (!survey.advance(65536));
  const searchedAt = performance.now()
  const { figures } = survey.result()
  const end = performance.now()
  // the same once more, warm: what an edit costs at most
  const again = new Survey(linkStory({ ...story }))
  while (!again.advance(65536));
  again.result()
  const repeated = performance.now()
  const seconds = (searchedAt - linkedAt) / 1000
  const row = [
    figures.states, figures.transitions, figures.bits, Math.round(figures.states / seconds), (figures.bytes / figures.states).toFixed(1),
    (linkedAt - start).toFixed(0), (searchedAt - linkedAt).toFixed(0), (end - searchedAt).toFixed(0), (repeated - end).toFixed(0),
  ]
  console.log(name.padEnd(36) + row.map((value) => String(value).padStart(11)).join(''))
}
