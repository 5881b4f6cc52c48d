import { InvalidArgumentError, Option } from 'commander'

/** What a command may use. */
export interface Bounds {
  readonly budget?: number
  readonly memory: number
}

const MB = 1024 * 1024
/** Of the memory a command may use the search takes so much at most; the rest is for answering. */
const FOR_SEARCH = 0.6
/** Of the time likewise. */
const TIME_FOR_SEARCH = 0.45
/** Between two looks at the memory, in milliseconds. */
const MEMORY_MS = 20

export function boundOptions(): Option[] {
  return [
    new Option('--budget <seconds>', 'answer after this long with what is decided by then').argParser((text) =>
      positive(text, 'a number of seconds'),
    ),
    new Option('--memory <megabytes>', 'look no further when the search holds so much')
      .argParser((text) => positive(text, 'a number of megabytes'))
      .default(2048),
  ]
}

function positive(text: string, expected: string): number {
  const value = Number(text)
  if (!Number.isFinite(value) || value < 0 || text.trim() === '') throw new InvalidArgumentError(`expected ${expected}`)
  return value
}

/**
 * Says when a search has to stop so that the answer is there in time, counted from the start of the program, and within
 * the memory.
 */
export function bound({ budget = Infinity, memory }: Bounds): () => boolean {
  const until = budget * 1000 * TIME_FOR_SEARCH
  const most = memory * MB * FOR_SEARCH
  let looked = -Infinity
  return () => {
    const now = performance.now()
    if (now >= until) return true
    // to ask for the memory takes longer than what is done between two looks
    if (now - looked < MEMORY_MS) return false
    looked = now
    return process.memoryUsage.rss() > most
  }
}
