import { readFileSync, readdirSync } from 'node:fs'
import { join, resolve } from 'node:path'
import { randomStory } from '../../bench/stories/random'
import { linkStory } from '../../src/core/story/link'
import { readStory } from '../../src/core/story/read'
import type { RouteItem, Story } from '../../src/core/story/types'
import { surveyStory } from '../../src/core/survey/survey'
import { COUNTING, COUNTING_LANGUAGES, countingStory } from './counting'
import { traceOf, tracesOf, type Act, type Traces } from './traces'

const GENERATED = 40

/** Every file of the kit by its name: the sample, the stories with known answers, generated ones, and one that counts. */
export function* makeKit(): Generator<readonly [string, Traces]> {
  const sample = read('samples/causeway.story.json')
  yield [
    'causeway',
    tracesOf(sample, 1, { runs: 12, length: 60 }, (linked) =>
      endings(sample).map((route) => traceOf(linked, actsOf(route))),
    ),
  ]
  const folder = 'test/conformance'
  const files = readdirSync(resolve(folder)).filter((name) => name.endsWith('.story.json'))
  for (const [at, file] of files.sort().entries())
    yield [file.replace('.story.json', ''), tracesOf(read(join(folder, file)), 100 + at, { runs: 4, length: 20 })]
  const names = ['one', 'two', 'three', 'four', 'five', 'six', 'seven', 'eight']
  const size = GENERATED / names.length
  for (const [part, name] of names.entries())
    for (let at = 0; at < size; at += 1) {
      const seed = 1 + part * size + at
      yield [`generated_${name}_${at + 1}`, tracesOf(randomStory(seed), seed, { runs: 6, length: 20 })]
    }
  const counting: Act[] = [
    { begin: {} },
    ...COUNTING.map((sacks) => ({ give: { sacks } })),
    { choose: 'scale.pan.light' },
    { choose: 'scale.pan.double' },
    { choose: 'scale.pan.huge' },
  ]
  yield [
    'counting',
    tracesOf(countingStory(), 7, { runs: 6, length: 30 }, (linked) =>
      COUNTING_LANGUAGES.map((language) => traceOf(linked, counting, { language })),
    ),
  ]
}

function read(path: string): Story {
  const story = readStory(readFileSync(resolve(path), 'utf8'))
  if (!story.ok) throw new Error(`${path} is no story`)
  return story.value
}

/** The shortest route of every ending. */
function endings(story: Story): (readonly RouteItem[])[] {
  const { reached } = surveyStory(linkStory(story))
  return Object.values(reached.endings).map(({ route }) => route!)
}

function actsOf(route: readonly RouteItem[]): Act[] {
  const acts = route.map((item): Act =>
    'choice' in item ? { choose: item.choice } : 'word' in item ? { say: item.word } : { give: item.given },
  )
  const [first] = acts
  return first !== undefined && 'give' in first ? [{ begin: first.give }, ...acts.slice(1)] : [{ begin: {} }, ...acts]
}

/** The files as they are written: a line a trace, so that a difference can be seen. */
export function* kitFiles(): Generator<readonly [string, string]> {
  for (const [name, { bundle, traces }] of makeKit()) {
    const lines = traces.map((trace) => JSON.stringify(trace)).join(',\n')
    yield [`${name}.json`, `{"paperCompassTraces":1,\n"bundle":${JSON.stringify(bundle)},\n"traces":[\n${lines}\n]}\n`]
  }
}
