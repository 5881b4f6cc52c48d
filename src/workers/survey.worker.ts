import type { FromSurvey, ToSurvey } from './protocol'
import { SurveyHost } from './survey-host'
import { warmUp } from './warm-up'

const host = new SurveyHost({
  post: (message: FromSurvey) => postMessage(message),
  now: () => performance.now(),
  warmUp: warmUp(),
})

// Messages to oneself come in turn with the page's, so an edit is heard between two slices.
const turn = new MessageChannel()
let ticking = false

function tick(): void {
  if (ticking) return
  ticking = true
  turn.port2.postMessage(0)
}

turn.port1.onmessage = () => {
  ticking = false
  if (host.slice()) tick()
}
tick()

addEventListener('message', ({ data }: MessageEvent<ToSurvey>) => {
  host.hear(data)
  tick()
})
