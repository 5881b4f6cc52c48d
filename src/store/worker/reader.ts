import { parentPort, workerData } from 'node:worker_threads'
import { formatMalformed, readStory } from '../../core/story/read'
import { PieceKeys, type Piece } from '../pieces'
import { countsOf } from '../story-edits'

/** What the thread that reads a file says of it. */
export type Reading =
  | { readonly kind: 'malformed'; readonly message: string }
  | {
      readonly kind: 'head'
      readonly title: string
      readonly language: string
      readonly scenes: number
      readonly beats: number
    }
  | { readonly kind: 'pieces'; readonly pieces: readonly Piece[] }
  | { readonly kind: 'end' }

const PIECES = 2_000
/** Batches that may wait to be written. */
const AHEAD = 4

function decode(bytes: Uint8Array): string | undefined {
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(bytes)
  } catch {
    return undefined
  }
}

async function read(bytes: Uint8Array, say: (reading: Reading) => void, more: () => Promise<void>): Promise<void> {
  const text = decode(bytes)
  if (text === undefined)
    return say({ kind: 'malformed', message: 'the file is not UTF-8; save it in that encoding and import it again' })
  const story = readStory(text)
  if (!story.ok) return say({ kind: 'malformed', message: formatMalformed(story.error) })
  const { title, language } = story.value
  const { begun } = new PieceKeys().first(story.value)
  say({ kind: 'head', title, language, ...countsOf(story.value) })
  for (let from = 0, sent = 0; from < begun.length; from += PIECES, sent += 1) {
    say({ kind: 'pieces', pieces: begun.slice(from, from + PIECES) })
    if (sent >= AHEAD) await more()
  }
  say({ kind: 'end' })
}

const port = parentPort!
let asked = 0
let wake = () => {}
port.on('message', () => {
  asked += 1
  wake()
})
await read(
  workerData as Uint8Array,
  (reading) => port.postMessage(reading),
  async () => {
    while (asked === 0) await new Promise<void>((resolve) => (wake = resolve))
    asked -= 1
  },
)
port.close()
