import { readFileSync } from 'node:fs'
import type { Result } from '../core/base/result'
import type { Change } from '../core/story/changes/types'
import type { Story } from '../core/story/types'
import type { FromSurvey } from './protocol'
import type { Ask, QuestionName } from './questions'
import { SurveyHost } from './survey-host'
import { ANSWERS, type Asked } from './survey-answers'

const sample = readFileSync('samples/causeway.story.json', 'utf8')

/** Takes the first choice of the story away. */
function edit(story: Story): Change {
  const scene = story.scenes[0]!
  const at = scene.beats.findIndex(({ choices }) => choices !== undefined)
  const item = scene.beats[at]!
  return {
    op: 'replace',
    in: { list: 'beats', scene: scene.id },
    id: item.id,
    at,
    item: { ...item, choices: item.choices!.slice(1) },
  }
}

function smallStory(): Story {
  return {
    paperCompass: 1,
    title: 'Small',
    language: 'en',
    start: 'quay.here',
    endings: [{ id: 'across', name: 'Across' }],
    scenes: [
      {
        id: 'quay',
        title: 'Quay',
        beats: [
          {
            id: 'here',
            choices: [
              { id: 'stay', text: 'Stay', to: 'quay.here' },
              { id: 'go', text: 'Go', to: 'quay.end' },
            ],
          },
          { id: 'end', ending: 'across' },
        ],
      },
    ],
  }
}

function firstChoice(story: Story): string {
  const scene = story.scenes[0]!
  const beat = scene.beats.find(({ choices }) => choices !== undefined)!
  return `${scene.id}.${beat.id}.${beat.choices![0]!.id}`
}

/** A host with a clock that stands still unless it is moved, and all that it says. */
function hosted(answers?: Partial<typeof ANSWERS>) {
  const said: FromSurvey[] = []
  let time = 0
  const host = new SurveyHost({
    post: (message) => void said.push(message),
    now: () => time,
    ...(answers === undefined ? {} : { answers }),
  })
  let requests = 0
  return {
    host,
    said,
    pass: (ms: number) => (time += ms),
    work: () => {
      for (let slices = 0; host.slice(); slices += 1) if (slices > 100_000) throw new Error('it never ends')
    },
    ask: <N extends QuestionName>(name: N, ask: Ask<N>) => {
      requests += 1
      host.hear({ type: 'ask', request: requests, name, ask } as never)
      return requests
    },
    answer: (request: number): Result<unknown> | undefined => {
      const found = said.filter((one) => one.type === 'answered' && one.request === request)
      expect(found.length).toBeLessThan(2)
      return (found[0] as { readonly answer: Result<unknown> } | undefined)?.answer
    },
  }
}

const QUESTIONS: { readonly [N in QuestionName]: Ask<N> } = {
  why: { address: 'across' },
  'what-if': { change: edit(JSON.parse(sample) as Story) },
  compare: { before: JSON.parse(sample) as Story, after: JSON.parse(sample) as Story },
  carry: { before: JSON.parse(sample) as Story, after: JSON.parse(sample) as Story },
  find: { condition: 'tide <= 2' },
  'route-to': { what: 'endings', address: 'across' },
  'route-of': { kind: 'left-open', key: ['sluice', 'asked'] },
  'no-return': {},
  'quest-facts': {},
  'call-sheet': { axis: { quest: 'sluice' } },
  'entry-values': {},
  mend: { finding: { kind: 'unreached', level: 'warning', key: ['quay.morning'], message: '' } },
  'reading-list': {},
  'chart-by-roads': {},
  chart: {},
  outlook: {},
  path: { to: 'quay.morning' },
  uses: { of: 'entry', id: 'tide' },
}
const NAMES = Object.keys(QUESTIONS) as QuestionName[]

test('every question is answered once, whether it is asked while the survey goes on or after it', () => {
  const { host, said, work, ask, answer } = hosted()
  host.hear({ type: 'open', story: sample, version: 1 })
  const early = NAMES.map((name) => ask(name, QUESTIONS[name]))
  expect(said).toEqual([])
  work()
  NAMES.forEach((name, at) => expect({ name, ok: answer(early[at]!)?.ok }).toEqual({ name, ok: true }))
  const quick = ['why', 'route-to', 'route-of', 'no-return', 'find'] as const
  const late = quick.map((name) => ask(name, QUESTIONS[name]))
  work()
  quick.forEach((name, at) => expect(answer(late[at]!)).toEqual(answer(early[NAMES.indexOf(name)]!)))
})

test('a question that fails says why, and the survey goes on', () => {
  const small = JSON.stringify(smallStory())
  const sound = 'find' as const
  for (const name of NAMES) {
    const other = name === sound ? 'route-to' : sound
    const refuse = () => {
      throw new Error(`no ${name} today`)
    }
    const broken = { about: 'story', work: refuse } as never
    const { host, said, work, ask, answer } = hosted({ [name]: broken })
    host.hear({ type: 'open', story: small, version: 1 })
    const failing = ask(name, QUESTIONS[name])
    const asked = ask(other, other === 'find' ? { condition: 'true' } : QUESTIONS[other])
    work()
    expect(answer(failing)).toEqual({ ok: false, error: `no ${name} today` })
    expect(answer(asked)?.ok).toBe(true)
    host.hear({ type: 'change', change: edit(smallStory()), version: 2 })
    work()
    expect(said.filter(({ type }) => type === 'report')).toHaveLength(2)
    expect(said.some(({ type }) => type === 'failed')).toBe(false)
  }
})

test('an edit is heard between two slices of a question, which is then answered about the story as it is now', () => {
  const { host, said, work, ask, answer, pass } = hosted({
    find: {
      ...ANSWERS.find,
      *work(asked: Ask<'find'>, of: Asked) {
        for (let step = 0; step < 40; step += 1) {
          pass(10)
          yield
        }
        return yield* ANSWERS.find.work(asked, of)
      },
    },
  })
  host.hear({ type: 'open', story: sample, version: 1 })
  while (!said.some(({ type }) => type === 'report')) host.slice()
  const story = JSON.parse(sample) as Story
  const request = ask('find', { condition: `taken('${firstChoice(story)}')` })
  expect(host.slice()).toBe(true)
  expect(answer(request)).toBeUndefined()
  // the choice that was asked for is taken away while the answer is being worked out
  host.hear({ type: 'change', change: edit(story), version: 2 })
  work()
  expect(said.findLastIndex(({ type }) => type === 'report')).toBeLessThan(
    said.findIndex(({ type }) => type === 'answered'),
  )
  expect(answer(request)).toMatchObject({ ok: true, value: { kind: 'unreadable' } })
})

test('a question that takes long is told of from time to time, ends when it is withdrawn, and the next one is answered', () => {
  const { host, said, work, ask, answer, pass } = hosted({
    'reading-list': {
      about: 'story',
      *work() {
        for (;;) {
          pass(10)
          yield
        }
      },
    },
  })
  host.hear({ type: 'open', story: sample, version: 1 })
  while (!said.some(({ type }) => type === 'report')) host.slice()
  const endless = ask('reading-list', {})
  const next = ask('route-to', QUESTIONS['route-to'])
  const told = () => said.flatMap((one) => (one.type === 'answering' ? [one] : []))
  for (let slices = 0; slices < 60; slices += 1) expect(host.slice()).toBe(true)
  expect(told()).toEqual([])
  for (let slices = 0; slices < 60; slices += 1) expect(host.slice()).toBe(true)
  expect(told().length).toBeGreaterThan(1)
  expect(told().length).toBeLessThan(6)
  expect(told()[0]).toMatchObject({ request: endless, name: 'reading-list' })
  expect(told()[0]!.took).toBeGreaterThanOrEqual(2000)
  // an edit has it begun anew
  host.hear({ type: 'change', change: edit(JSON.parse(sample) as Story), version: 2 })
  while (said.at(-1)!.type !== 'report') host.slice()
  const before = told().length
  for (let slices = 0; slices < 60; slices += 1) expect(host.slice()).toBe(true)
  expect(told()).toHaveLength(before)
  host.hear({ type: 'withdraw', request: endless })
  work()
  expect(answer(endless)).toEqual({ ok: false, error: 'it was stopped' })
  expect(answer(next)?.ok).toBe(true)
})

test('what can take seconds is begun after all else, and is not left for what comes later', () => {
  const begun: string[] = []
  const slow = (name: QuestionName) => ({
    ...ANSWERS[name],
    *work() {
      begun.push(name)
      pass(30)
      yield
      return []
    },
  })
  const names = ['call-sheet', 'quest-facts', 'no-return', 'reading-list'] as const
  const { host, said, work, ask, answer, pass } = hosted(Object.fromEntries(names.map((name) => [name, slow(name)])))
  host.hear({ type: 'open', story: sample, version: 1 })
  while (!said.some(({ type }) => type === 'report')) host.slice()
  const requests = (['call-sheet', 'quest-facts', 'reading-list'] as const).map((name) =>
    ask(name, QUESTIONS[name] as never),
  )
  while (!begun.includes('call-sheet')) host.slice()
  expect(answer(requests[1]!)?.ok).toBe(true)
  requests.push(ask('no-return', {}))
  host.hear({ type: 'withdraw', request: requests[0]! })
  work()
  expect(begun).toEqual(['quest-facts', 'call-sheet', 'no-return', 'reading-list'])
  expect(requests.map((request) => answer(request)?.ok)).toEqual([false, true, true, true])
})

test('stop while the survey goes on answers with what is decided', () => {
  const { host, said } = hosted()
  host.hear({ type: 'open', story: sample, version: 1 })
  host.hear({ type: 'stop' })
  expect(said).toMatchObject([{ type: 'report', version: 1, report: { complete: false } }])
})

test('an edit that can not be made is a failure of the survey, its questions are answered, and the next story is surveyed', () => {
  const { host, said, work, ask, answer } = hosted()
  host.hear({ type: 'open', story: sample, version: 1 })
  const request = ask('no-return', {})
  host.hear({ type: 'change', change: { op: 'remove', in: { list: 'cast' }, id: 'nobody', at: 0 }, version: 2 })
  expect(said).toMatchObject([{ type: 'failed' }])
  work()
  expect(answer(request)?.ok).toBe(false)
  host.hear({ type: 'open', story: sample, version: 3 })
  work()
  expect(said.at(-1)).toMatchObject({ type: 'report', version: 3, report: { complete: true } })
})

test('closing the story answers whoever still waits', () => {
  const { host, ask, answer, said } = hosted()
  host.hear({ type: 'open', story: sample, version: 1 })
  const request = ask('no-return', {})
  host.hear({ type: 'close' })
  expect(answer(request)).toEqual({ ok: false, error: 'the story was closed' })
  expect(said.at(-1)).toMatchObject({ type: 'closed' })
  expect(host.slice()).toBe(false)
})

test('the bearing of the watched beat follows every survey', () => {
  const { host, said, work } = hosted()
  host.hear({ type: 'open', story: sample, version: 1 })
  host.hear({ type: 'watch', beat: 'quay.morning' })
  work()
  const story = JSON.parse(sample) as Story
  host.hear({ type: 'change', change: edit(story), version: 2 })
  work()
  const bearings = said.filter(({ type }) => type === 'bearing')
  expect(bearings).toMatchObject([
    { version: 1, bearing: { ok: true } },
    { version: 2, bearing: { ok: true } },
  ])
})
