import { readFileSync } from 'node:fs'
import { Simulation } from '../core/simulate/simulation'
import { linkStory } from '../core/story/link'
import type { Story } from '../core/story/types'
import type { FromSimulation, ToSimulation } from '../workers/protocol'
import type { Told } from '../core/contract/answers'
import { ServerEvents } from './server-events'
import { SimulationHandle, type SimulationState } from './simulation-handle'
import { Trail } from './trail'

const sample = JSON.parse(readFileSync('samples/causeway.story.json', 'utf8')) as Story

describe('the beats that one has been at', () => {
  const always = () => true

  test('back and forward again, and a new step forgets what one had gone back from', () => {
    const trail = new Trail()
    for (const beat of ['a', 'b', 'c']) trail.remember(beat)
    expect([trail.walk(-1, always), trail.walk(-1, always), trail.walk(-1, always)]).toEqual(['b', 'a', undefined])
    expect(trail.walk(1, always)).toBe('b')
    trail.remember('d')
    expect(trail.walk(1, always)).toBeUndefined()
    expect([trail.walk(-1, always), trail.walk(-1, always)]).toEqual(['b', 'a'])
  })

  test('what is gone meanwhile is passed over', () => {
    const trail = new Trail()
    for (const beat of ['a', 'gone', 'c']) trail.remember(beat)
    trail.remember(undefined)
    expect(trail.walk(-1, (beat) => beat !== 'gone')).toBe('a')
    expect(trail.walk(1, (beat) => beat !== 'gone')).toBe('c')
  })

  test('two hundred steps are remembered', () => {
    const trail = new Trail()
    for (let step = 0; step <= 250; step += 1) trail.remember(`b${step}`)
    let last: string | undefined
    for (let beat = trail.walk(-1, always); beat !== undefined; beat = trail.walk(-1, always)) last = beat
    expect(last).toBe('b51')
  })
})

describe('simulated players', () => {
  class FakeWorker {
    static made: FakeWorker[] = []
    readonly hear = new Map<string, (event: never) => void>()
    readonly posted: ToSimulation[] = []
    ended = false

    constructor() {
      FakeWorker.made.push(this)
    }

    addEventListener(name: string, hear: (event: never) => void): void {
      this.hear.set(name, hear)
    }

    postMessage(message: ToSimulation): void {
      this.posted.push(message)
    }

    say(data: FromSimulation): void {
      this.hear.get('message')!({ data } as never)
    }

    terminate(): void {
      this.ended = true
    }
  }
  const before = globalThis.Worker
  const states: SimulationState[] = []
  beforeEach(() => {
    FakeWorker.made = []
    states.length = 0
    globalThis.Worker = FakeWorker as never
  })
  afterEach(() => {
    globalThis.Worker = before
  })
  const simulated = () => {
    const made = Simulation.of(linkStory(sample), { player: { kind: 'random' }, seed: 1 }, () => {
      throw new Error('no survey is asked for')
    })
    if (!made.ok) throw new Error(made.error)
    made.value.advance(5)
    return made.value.result()
  }

  test('the worker is started with the first of them, and what it says becomes what the page knows', () => {
    const handle = new SimulationHandle((state) => void states.push(state))
    handle.stop()
    expect(states).toEqual([])
    handle.play(sample, 100, { player: { kind: 'random' }, seed: 1 })
    const [worker] = FakeWorker.made
    expect(FakeWorker.made).toHaveLength(1)
    expect(worker!.posted.at(-1)).toMatchObject({ type: 'simulate', request: 1, plays: 100 })
    worker!.say({ type: 'played', request: 1, plays: 40 })
    expect(states.at(-1)!.running).toEqual({ plays: 40, of: 100 })
    const result = simulated()
    worker!.say({ type: 'simulated', request: 1, result })
    expect(states.at(-1)).toMatchObject({ running: undefined, result, story: sample })
    handle.close()
    expect(worker!.ended).toBe(true)
  })

  test('what earlier players met is overtaken; what can not be played is said', () => {
    const handle = new SimulationHandle((state) => void states.push(state))
    handle.play(sample, 10, { player: { kind: 'random' }, seed: 1 })
    handle.play(sample, 20, { player: { kind: 'random' }, seed: 2 })
    const [worker] = FakeWorker.made
    worker!.say({ type: 'simulated', request: 1, result: simulated() })
    expect(states.at(-1)).toMatchObject({ running: { plays: 0, of: 20 }, result: undefined })
    worker!.say({ type: 'refused', request: 2, message: 'there is no ending "moon"' })
    expect(states.at(-1)).toMatchObject({ running: undefined, failure: 'there is no ending "moon"' })
    worker!.hear.get('error')!({ message: '' } as never)
    expect(states.at(-1)!.failure).toMatch(/could not be started/)
  })
})

describe('what the server tells', () => {
  class Source {
    static open: Source[] = []
    readonly hear = new Map<string, (event: { data: string }) => void>()
    isClosed = false

    constructor(readonly path: string) {
      Source.open.push(this)
    }

    addEventListener(name: string, hear: (event: { data: string }) => void): void {
      this.hear.set(name, hear)
    }

    close(): void {
      this.isClosed = true
    }
  }
  let turn: () => void = () => undefined
  const page = {
    hidden: false,
    addEventListener: (_: string, hear: () => void) => void (turn = hear),
    removeEventListener: () => void (turn = () => undefined),
  }
  beforeEach(() => {
    Source.open = []
    page.hidden = false
    Object.assign(globalThis, { EventSource: Source, document: page })
  })
  afterEach(() => {
    delete (globalThis as { EventSource?: unknown }).EventSource
    delete (globalThis as { document?: unknown }).document
  })

  test('changes and revisions are heard; a window that is hidden gives its connection back and takes one when it is seen', () => {
    const told: Told[] = []
    const revisions: number[] = []
    const events = new ServerEvents('one', {
      change: (one) => void told.push(one),
      at: (one) => void revisions.push(one),
      news: () => undefined,
      deaf: () => undefined,
    })
    const [first] = Source.open
    expect(first!.path).toBe('/api/stories/one/events')
    const change = { op: 'set-story', values: { title: 'New' } }
    const third = { revision: 3, change, request: 'r', summary: '', canUndo: true, canRedo: false }
    first!.hear.get('change')!({ data: JSON.stringify(third) })
    first!.hear.get('at')!({ data: JSON.stringify({ revision: 4 }) })
    expect([told, revisions]).toEqual([[third], [4]])
    page.hidden = true
    turn()
    expect([first!.isClosed, Source.open.length]).toEqual([true, 1])
    page.hidden = false
    turn()
    expect(Source.open).toHaveLength(2)
    events.close()
    expect(Source.open[1]!.isClosed).toBe(true)
    turn()
    expect(Source.open).toHaveLength(2)
  })
})
