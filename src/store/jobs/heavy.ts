import { parentPort, workerData } from 'node:worker_threads'
import { doWork, type Work, type Working } from './work'

/** What a thread for heavy work may use. */
export interface HeavyBounds {
  readonly seconds: number
  readonly megabytes: number
}

export type FromHeavy =
  | { readonly kind: 'progress'; readonly done: number }
  | { readonly kind: 'done'; readonly came: string }
  | { readonly kind: 'failed'; readonly message: string }

const MB = 1024 * 1024
const PROGRESS_MS = 300
/** Of what it may use the search takes so much at most; the rest is for answering. */
const FOR_SEARCH = 0.8

const port = parentPort!
const { seconds, megabytes } = workerData as HeavyBounds

/** The thread in which heavy work is done, one thing after another; it is ended from outside where it is not wanted any more. */
port.on('message', (work: Work) => {
  const until = performance.now() + seconds * 1000 * FOR_SEARCH
  const stop = () => performance.now() > until || process.memoryUsage.rss() > megabytes * MB * FOR_SEARCH
  const working: Working = { done: 0 }
  let told = performance.now()
  const say = (message: FromHeavy) => port.postMessage(message)
  try {
    const slices = doWork(work, stop, working)
    for (;;) {
      const step = slices.next()
      if (step.done === true) return say({ kind: 'done', came: step.value })
      if (performance.now() - told < PROGRESS_MS) continue
      told = performance.now()
      say({ kind: 'progress', done: working.done })
    }
  } catch (error) {
    say({ kind: 'failed', message: error instanceof Error ? error.message : String(error) })
  }
})
