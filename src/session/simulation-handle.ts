import type { SimulationOptions, SimulationResult } from '../core/simulate/result'
import type { Story } from '../core/story/types'
import type { FromSimulation, ToSimulation } from '../workers/protocol'

/** What the page knows of simulated players. */
export interface SimulationState {
  readonly running: { readonly plays: number; readonly of: number } | undefined
  readonly result: SimulationResult | undefined
  /** The story that the result is of. */
  readonly story: Story | undefined
  readonly failure: string | undefined
}

export const NO_SIMULATION: SimulationState = {
  running: undefined,
  result: undefined,
  story: undefined,
  failure: undefined,
}

/** The worker in which simulated players play; started with the first of them. */
export class SimulationHandle {
  private worker: Worker | undefined
  private request = 0
  private story: Story | undefined
  private of = 0
  private state = NO_SIMULATION

  constructor(private readonly tell: (state: SimulationState) => void) {}

  /** Lets so many players play the story; what they meet appears in the session's state. */
  play(story: Story, plays: number, options: SimulationOptions): void {
    this.request += 1
    this.story = story
    this.of = plays
    this.set({ running: { plays: 0, of: plays }, failure: undefined })
    this.post({ type: 'stop' })
    this.post({ type: 'simulate', request: this.request, story, plays, options })
  }

  /** Shows what players met who played elsewhere. */
  show(result: SimulationResult, story: Story): void {
    this.request += 1
    this.post({ type: 'stop' })
    this.set({ running: undefined, failure: undefined, result, story })
  }

  stop(): void {
    this.post({ type: 'stop' })
  }

  close(): void {
    this.worker?.terminate()
  }

  private post(message: ToSimulation): void {
    if (this.worker === undefined) {
      this.worker = new Worker(new URL('../workers/simulate.worker.ts', import.meta.url), { type: 'module' })
      this.worker.addEventListener('message', ({ data }: MessageEvent<FromSimulation>) => this.hear(data))
      this.worker.addEventListener('error', (event) =>
        this.set({ running: undefined, failure: event.message || 'the players could not be started' }),
      )
    }
    this.worker.postMessage(message)
  }

  private hear(message: FromSimulation): void {
    // what earlier players met is overtaken
    if (message.request !== this.request) return
    switch (message.type) {
      case 'played':
        return this.set({ running: { plays: message.plays, of: this.of } })
      case 'simulated':
        return this.set({ running: undefined, result: message.result, story: this.story })
      case 'refused':
        return this.set({ running: undefined, failure: message.message })
    }
  }

  private set(part: Partial<SimulationState>): void {
    this.state = { ...this.state, ...part }
    this.tell(this.state)
  }
}
