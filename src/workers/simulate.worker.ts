import { playersSurvey } from '../core/simulate/players-survey'
import { Simulation } from '../core/simulate/simulation'
import { linkStory } from '../core/story/link'
import type { FromSimulation, ToSimulation } from './protocol'

/** How long players play between two looks at the messages, in milliseconds. */
const SLICE_MS = 40
/** After this long it tells what was played until then. */
const TIME_MS = 20_000
/** A survey that shows a player the way to an ending takes no longer. */
const SURVEY_MS = 10_000

let running:
  | { readonly simulation: Simulation; readonly request: number; readonly plays: number; readonly until: number }
  | undefined

const post = (message: FromSimulation) => postMessage(message)
const turn = new MessageChannel()
turn.port1.onmessage = slice

addEventListener('message', ({ data }: MessageEvent<ToSimulation>) => {
  if (data.type === 'stop') return finish()
  const { request, plays, story, options } = data
  try {
    const linked = linkStory(story)
    const made = Simulation.of(linked, options, () => {
      const until = performance.now() + SURVEY_MS
      return playersSurvey(linked, () => performance.now() >= until)
    })
    if (!made.ok) return post({ type: 'refused', request, message: made.error })
    running = { simulation: made.value, request, plays, until: performance.now() + TIME_MS }
    turn.port2.postMessage(0)
  } catch (error) {
    post({ type: 'refused', request, message: error instanceof Error ? error.message : String(error) })
  }
})

function slice(): void {
  if (running === undefined) return
  const { simulation, request, plays, until } = running
  const start = performance.now()
  while (simulation.plays < plays && performance.now() - start < SLICE_MS) simulation.advance(1)
  if (simulation.plays >= plays || start > until) return finish()
  post({ type: 'played', request, plays: simulation.plays })
  turn.port2.postMessage(0)
}

function finish(): void {
  if (running === undefined) return
  const { simulation, request } = running
  running = undefined
  post({ type: 'simulated', request, result: simulation.result() })
}
