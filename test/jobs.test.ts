import { spawn, type ChildProcess } from 'node:child_process'
import { mkdir, mkdtemp, rm } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join, resolve } from 'node:path'
import { randomUUID } from 'node:crypto'
import { questsAroundHub } from '../bench/stories/families'
import { ensureServer } from '../scripts/build-server.mjs'
import { inOneGo } from '../src/core/base/slices'
import { seededRandom } from '../src/core/base/random'
import type { JobAsk } from '../src/core/contract/jobs'
import type { SimulationResult } from '../src/core/simulate/result'
import { Simulation } from '../src/core/simulate/simulation'
import { linkStory } from '../src/core/story/link'
import type { Story } from '../src/core/story/types'
import type { FarCarried } from '../src/core/survey/carry/carried'
import type { FarSurvey } from '../src/core/survey/far-survey'
import { carryOver } from '../src/core/survey/carry/carry'
import { Survey } from '../src/core/survey/survey'
import type { Claim } from '../src/store/jobs/claim'
import { Runner } from '../src/store/jobs/runner'
import { jobSettings } from '../src/store/jobs/settings'
import { doWork } from '../src/store/jobs/work'
import { openStore, type Store } from '../src/store/open'
import { PLACES, type Place } from './databases'
import { PostgresServer } from './postgres'
import { shortStory } from './short-story'

let server: PostgresServer
let folder: string
let heavy: string
const opened: { close(): Promise<void> }[] = []

beforeAll(async () => {
  server = await PostgresServer.start()
  folder = await mkdtemp(join(tmpdir(), 'paper-compass-jobs-'))
  await mkdir(join(folder, 'none'))
  heavy = join(await ensureServer(), 'heavy.mjs')
}, 60_000)
afterEach(async () => {
  for (const one of opened.splice(0).reverse()) await one.close()
})
afterAll(async () => {
  await server.remove()
  await rm(folder, { recursive: true, force: true })
})

let made = 0
const placeFor = async (place: Place) =>
  place === 'of a server'
    ? { data: '', server: await server.database(`jobs${(made += 1)}`) }
    : { data: await mkdtemp(join(folder, 'data-')) }

async function storeAt(at: { data: string; server?: string }): Promise<Store> {
  const places = { ...at, migrations: resolve('src/store/migrations'), samples: join(folder, 'none'), works: true }
  const store = await openStore(places, new Date())
  opened.push(store)
  return store
}

const troubles: string[] = []
async function runnerOf(store: Store): Promise<Runner> {
  const runner = await Runner.start(store, {
    bounds: { seconds: 60, megabytes: 8_192 },
    lostS: 5,
    night: undefined,
    heavy,
    trouble: (what) => troubles.push(what),
  })
  opened.push({ close: () => runner.stop() })
  return runner
}

async function ended(store: Store, story: string, job: string): Promise<string> {
  for (;;) {
    const { jobs } = await store.jobs.list(story)
    const one = jobs.find(({ id }) => id === job)!
    if (one.endedAt !== null) return one.state
    if (troubles.length > 0) throw new Error(troubles.join())
    await new Promise((resume) => setTimeout(resume, 30))
  }
}

async function came<T>(store: Store, story: string, job: string): Promise<T> {
  expect(await ended(store, story, job)).toBe('done')
  return JSON.parse((await store.jobs.result(story, job))!) as T
}

function played(story: Story, plays: number, seed: number): SimulationResult {
  const simulation = Simulation.of(linkStory(story), { player: { kind: 'random' }, seed }, () => {
    throw new Error('no survey is needed')
  })
  if (!simulation.ok) throw new Error(simulation.error)
  simulation.value.advance(plays)
  return simulation.value.result()
}

async function begun(jobs: Store['jobs'], story: string, ask: JobAsk): Promise<string> {
  const answer = await jobs.begin(story, ask)
  if (!answer.ok) throw new Error(answer.error)
  return answer.value
}

/** So many times left or right, then an ending by the last. */
function crossroads(many: number): Story {
  const beat = (at: number) => ({
    id: `at${at}`,
    lines: [{ text: `Crossroads ${at}.` }],
    choices: ['left', 'right'].map((id) => ({
      id,
      text: `Go ${id}`,
      do: [`steps += ${id === 'left' ? 1 : 2}`],
      to: at + 1 < many ? `road.at${at + 1}` : `road.${id}`,
    })),
  })
  const ending = (id: string) => ({ id, ending: id })
  return {
    paperCompass: 1,
    title: 'Crossroads',
    language: 'en',
    start: 'road.at0',
    ledger: [{ id: 'steps', kind: 'counter', min: 0, max: 99 }],
    endings: ['left', 'right'].map((id) => ({ id, name: id })),
    scenes: [
      {
        id: 'road',
        title: 'Road',
        beats: [...Array.from({ length: many }, (_, at) => beat(at)), ending('left'), ending('right')],
      },
    ],
  }
}

const simulate = (plays: number, seed: number): JobAsk => ({
  kind: 'simulate',
  plays,
  options: { player: { kind: 'random' }, seed },
})
const told = <T>(value: T) => JSON.parse(JSON.stringify(value)) as unknown

describe.each(PLACES)('in a database %s', (place) => {
  test('what is asked for is answered as in the page', async () => {
    const store = await storeAt(await placeFor(place))
    await runnerOf(store)
    const story = crossroads(6)
    const id = await store.stories.create(story)
    const { jobs } = store

    const survey = new Survey(linkStory(story))
    while (!survey.advance());
    const { beats, choices, ...brief } = survey.brief()
    const far = await came<FarSurvey>(store, id, await begun(jobs, id, { kind: 'survey' }))
    expect(far.brief).toEqual(told({ ...brief, beats: [...beats], choices: [...choices] }))
    for (const [end, route] of Object.entries(far.routes))
      if (end.startsWith('endings:')) expect(route).toEqual(told(survey.routeTo('endings', end.slice(8))))
    expect(Object.keys(far.routes).filter((name) => name.startsWith('endings:'))).not.toEqual([])

    const plays = 25_000
    const figures = await came<SimulationResult>(store, id, await begun(jobs, id, simulate(plays, 9)))
    expect(figures).toEqual(told(played(story, plays, 9)))

    // nothing is released yet
    expect(await jobs.begin(id, { kind: 'carry' })).toEqual({ ok: false, error: 'not released' })
    await store.stories.nameVersion(id, 'First')
    const later = { ...story, scenes: story.scenes.map((scene) => ({ ...scene, beats: scene.beats.slice(0, -3) })) }
    const { versions } = (await store.stories.history(id))!
    await store.stories.releaseVersion(id, versions[0]!.id, true)
    const change = {
      op: 'batch',
      changes: later.scenes.map((item, at) => ({ op: 'replace', in: { list: 'scenes' }, id: item.id, at, item })),
    }
    expect((await store.stories.change(id, change as never, randomUUID())).ok).toBe(true)
    const [carried, ...none] = await came<FarCarried[]>(store, id, await begun(jobs, id, { kind: 'carry' }))
    expect(none).toEqual([])
    expect(carried).toMatchObject({ version: 'First', revision: 0 })
    expect(carried!.carried).toEqual(told(inOneGo(carryOver(linkStory(story), linkStory(later)))))
    expect(await jobs.load()).toEqual({ waiting: 0, running: 0, workers: 1 })
    expect(troubles).toEqual([])
  })

  test('what is not wanted any more ends at once, and the next is done; what fails says why', async () => {
    const store = await storeAt(await placeFor(place))
    const id = await store.stories.create(crossroads(40))
    const { jobs } = store
    expect(await jobs.begin(randomUUID(), simulate(1, 1))).toEqual({ ok: false, error: 'unknown' })
    const waits = await begun(jobs, id, simulate(1_000, 1))
    expect(await jobs.cancel(id, waits)).toBe(true)
    // so much can be under way for one story, and no more
    const many = await Promise.all(Array.from({ length: 7 }, (_, seed) => jobs.begin(id, simulate(10, seed))))
    expect(many.filter((one) => !one.ok)).toEqual(Array(2).fill({ ok: false, error: 'too much' }))
    for (const one of many) if (one.ok) await jobs.cancel(id, one.value)
    // somebody who took a message ended before they claimed what it is about
    const taken = await begun(jobs, id, simulate(20, 2))
    await (await store.queue.start()).fetch('shares', { batchSize: 50 })
    await jobs.sweep(60)
    // what is released when it is asked for counts, whatever is when it is done
    const release = async (name: string, isReleased: boolean) => {
      const { versions } = (await store.stories.history(id))!
      await store.stories.releaseVersion(id, versions.find((version) => version.name === name)!.id, isReleased)
    }
    for (const name of ['First', 'Second']) await store.stories.nameVersion(id, name)
    await release('First', true)
    const carries = await begun(jobs, id, { kind: 'carry' })
    await release('Second', true)
    await release('First', false)
    const long = await begun(jobs, id, simulate(20_000_000, 1))
    await runnerOf(store)
    const state = async () => (await jobs.list(id)).jobs.find((job) => job.id === long)!
    while ((await state()).done === 0) await new Promise((resume) => setTimeout(resume, 50))
    expect(await state()).toMatchObject({ state: 'running', total: 20_000_000 })
    expect(await jobs.cancel(randomUUID(), long)).toBe(false)
    expect(await jobs.cancel(id, long)).toBe(true)
    expect(await jobs.cancel(id, long)).toBe(false)
    const next = await begun(jobs, id, simulate(500, 1))
    expect((await came<SimulationResult>(store, id, next)).plays).toBe(500)
    expect((await state()).state).toBe('cancelled')
    expect((await came<SimulationResult>(store, id, taken)).plays).toBe(20)
    expect((await came<FarCarried[]>(store, id, carries)).map(({ version }) => version)).toEqual(['First'])
    expect(await jobs.result(id, waits)).toBeUndefined()

    const bound: JobAsk = {
      kind: 'simulate',
      plays: 5,
      options: { player: { kind: 'bound', ending: 'nowhere' }, seed: 1 },
    }
    const fails = await begun(jobs, id, bound)
    expect(await ended(store, id, fails)).toBe('failed')
    expect((await jobs.list(id)).jobs.find((job) => job.id === fails)!.failure).toBe(
      'the story has no ending "nowhere"',
    )
  })

  test('whoever is slow, gone or back, each share counts once', async () => {
    const store = await storeAt(await placeFor(place))
    const story: Story = shortStory('Jobs')
    const id = await store.stories.create(story)
    const { jobs } = store
    const plays = 3 * 50_000 + 40
    const text = JSON.stringify(story)
    const random = seededRandom(4)
    for (let round = 0; round < 6; round += 1) {
      const ask = { ...simulate(plays, round), kind: 'simulate' } as Extract<JobAsk, { kind: 'simulate' }>
      const job = await begun(jobs, id, ask)
      const claims: Claim[] = []
      let entered = 0
      for (let step = 0; entered < 4; step += 1) {
        expect(step).toBeLessThan(400)
        const some = claims.length === 0 ? undefined : random.pick(claims)
        const what = random.below(4)
        if (what === 0) {
          const claim = await jobs.claim(job, random.below(4))
          if (claim !== undefined) claims.push(claim)
        } else if (what === 1 && some !== undefined && some.attempt < 3) await jobs.giveBack(some)
        else if (what === 2 && random.chance(0.2) && claims.every(({ attempt }) => attempt < 2)) await jobs.sweep(0)
        else if (some !== undefined) {
          // a stand-in for playing: as many playthroughs as the share has
          const { done } = await isLatest(jobs, some)
          const isIn = await jobs.finish(some, tallyOf(text, some.total))
          expect(isIn).toBe(done)
          if (isIn) entered += 1
        }
      }
      const result = await came<SimulationResult>(store, id, job)
      expect(result.plays).toBe(plays)
    }
  })
})

/** Whether a claim still stands, as its own sign tells. */
async function isLatest(jobs: Store['jobs'], claim: Claim): Promise<{ readonly done: boolean }> {
  return { done: await jobs.beat(claim, 0) }
}

const tallies = new Map<number, string>()
/** What is counted in a few playthroughs, told as so many. */
function tallyOf(story: string, plays: number): string {
  const known = tallies.get(plays)
  if (known !== undefined) return known
  const few = inOneGo(
    doWork(
      { kind: 'simulate', story, options: { player: { kind: 'random' }, seed: 1 }, from: 0, plays: 10 },
      () => false,
      { done: 0 },
    ),
  )
  const tally = JSON.stringify({ ...(JSON.parse(few) as object), plays })
  tallies.set(plays, tally)
  return tally
}

test('workers that are killed in the middle lose nothing and repeat nothing', async () => {
  const at = await placeFor('of a server')
  const store = await storeAt(at)
  const story = crossroads(2)
  const id = await store.stories.create(story)
  const plays = 310_000
  const job = await begun(store.jobs, id, simulate(plays, 5))
  const workers = new Set<ChildProcess>()
  const hire = async () => {
    const child = spawn(process.execPath, [resolve('scripts/worker.mjs')], {
      env: {
        ...process.env,
        PAPER_COMPASS_DATABASE_URL: at.server!,
        PAPER_COMPASS_WORK_LOST_SECONDS: '2',
        PAPER_COMPASS_NIGHT: 'off',
      },
      stdio: ['ignore', 'pipe', 'inherit'],
    })
    workers.add(child)
    await new Promise((ready) => child.stdout.once('data', ready))
    return child
  }
  try {
    const first = await hire()
    const progress = async () => (await store.jobs.list(id)).jobs[0]!.done
    while ((await progress()) === 0) await new Promise((resume) => setTimeout(resume, 50))
    first.kill('SIGKILL')
    await hire()
    const third = await hire()
    while ((await store.jobs.load()).running < 2 && (await progress()) < plays)
      await new Promise((resume) => setTimeout(resume, 50))
    third.kill('SIGKILL')
    expect(await came<SimulationResult>(store, id, job)).toEqual(told(played(story, plays, 5)))
  } finally {
    for (const worker of workers) worker.kill('SIGKILL')
  }
}, 120_000)

test('a night tells what has come and gone since the one before, of what a member may read', async () => {
  const store = await storeAt(await placeFor('of a server'))
  await runnerOf(store)
  const { jobs, stories } = store
  const id = await stories.create(shortStory('Night', 'The tide turns.'))
  const hidden = await stories.create(questsAroundHub(2))
  const night = async () => {
    expect(await jobs.beginNight()).toBeDefined()
    // one at a time
    expect(await jobs.beginNight()).toBeUndefined()
    for (;;) {
      const latest = (await jobs.night())!
      if (latest.endedAt !== null) return latest
      await new Promise((resume) => setTimeout(resume, 30))
    }
  }
  const first = await night()
  expect(first).toMatchObject({ state: 'done', done: 2, total: 2 })
  expect(first.stories.map(({ story, came, before }) => ({ story, came, before }))).toEqual(
    expect.arrayContaining([id, hidden].map((story) => ({ story, came: [], before: null }))),
  )
  // the start leads nowhere any more
  const cut = { op: 'set-story', values: { start: 'nowhere.at-all' } }
  expect((await stories.change(id, cut as never, randomUUID())).ok).toBe(true)
  const second = await night()
  expect(second.stories[0]).toMatchObject({ story: id, before: 0, revision: 1 })
  expect(second.stories[0]!.came.length).toBeGreaterThan(0)
  expect(second.stories[0]!.endings.reached).toBe(0)
  expect(second.stories[1]).toMatchObject({ story: hidden, came: [], went: [], before: 0 })
  // the library knows as well
  const { cards } = await stories.list({})
  expect(cards.find((card) => card.id === id)).toMatchObject({ isSurveyed: true, facts: { endings: { reached: 0 } } })
  // a stranger is told of none
  await store.database.query("insert into member (id, name, email) values ('m', 'Mo', 'mo@studio.example')")
  expect((await jobs.night('m'))!.stories).toEqual([])
})

test('wrong settings are named', () => {
  const wrong = (env: Record<string, string>) => {
    const read = jobSettings(env)
    return read.ok ? undefined : read.error
  }
  expect(wrong({})).toBeUndefined()
  expect(wrong({ PAPER_COMPASS_NIGHT: 'off', PAPER_COMPASS_WORK_MB: '512' })).toBeUndefined()
  expect(wrong({ PAPER_COMPASS_NIGHT: 'at three' })).toMatch(/^PAPER_COMPASS_NIGHT is "at three"; expected/)
  expect(wrong({ PAPER_COMPASS_WORK_SECONDS: '-1' })).toMatch(/^PAPER_COMPASS_WORK_SECONDS is "-1"; expected/)
})
