import { asks } from '../../../../server/access'
import { handler, NO_STORY, refuse } from '../../../../server/answers'

/** Keeps a quiet connection from being taken for a dead one, in milliseconds. */
const BEAT_MS = 20_000
/** Bytes that may wait for a client that does not read before it is cut off; it opens anew and reads the story. */
const BACKLOG_BYTES = 4 * 1024 * 1024
/** Streams that are open at once, of all stories. */
const STREAMS_MAX = Number(process.env.PAPER_COMPASS_STREAMS) || 200

/** How many there are; see scripts/observe.mjs. */
const STREAMS = Symbol.for('paper-compass.streams')

let open = 0
// read by whoever measures the server
;(globalThis as { [STREAMS]?: () => number })[STREAMS] = () => open

const encoder = new TextEncoder()
/** What was told last, as bytes: all windows on a story are told the same, and those that are slow keep it. */
let last: { readonly text: string; readonly bytes: Uint8Array } | undefined

function encoded(text: string): Uint8Array {
  if (last?.text !== text) last = { text, bytes: encoder.encode(text) }
  return last.bytes
}

/** Every change to a story as it is saved, as server-sent events; first the revision it is at. */
export const GET = handler<{ id: string }>('read', async ({ request, store, params: { id }, doer }) => {
  if ((await store.ask('titleOf', id)) === undefined) return refuse(404, NO_STORY)
  if (open >= STREAMS_MAX) return refuse(503, 'Too many windows are open; close some of them.')
  let stop = () => {}
  const stream = new ReadableStream<Uint8Array>(
    {
      start(controller) {
        open += 1
        let stopped = false
        const write = (text: string) => {
          if (stopped) return
          controller.enqueue(encoded(text))
          if ((controller.desiredSize ?? 0) > 0) return
          // it ends here for a client that does not read; the server cuts the connection when it does not go on
          end()
        }
        const send = (event: string, data: string) => write(`event: ${event}\ndata: ${data}\n\n`)
        // it opens anew, and is told where the story is
        const end = () => {
          if (stopped) return
          stop()
          controller.close()
        }
        const silence = store.listen(
          id,
          (told) => send('change', told),
          end,
          (event, data) => send(event, data || '{}'),
        )
        // whoever may no longer read it is told nothing more
        const deaf = store.onAccess((member) => {
          if (doer === undefined || (member !== '*' && member !== doer.id)) return
          asks(request.headers, 'read', id).then(async (may) => {
            const revision = may.ok ? await store.ask('revisionOf', id) : undefined
            if (!may.ok || revision === undefined) end()
            else send('at', JSON.stringify({ revision, role: may.value.role }))
          }, end)
        })
        const beat = setInterval(() => write(': \n\n'), BEAT_MS)
        stop = () => {
          if (stopped) return
          stopped = true
          open -= 1
          clearInterval(beat)
          silence()
          deaf()
        }
        request.signal.addEventListener('abort', () => stop())
        // what was saved since the page was read is told by the number alone; asked for last, so that nothing falls between
        store.ask('revisionOf', id).then(
          (revision) => revision !== undefined && send('at', JSON.stringify({ revision })),
          () => stop(),
        )
      },
      cancel: () => stop(),
    },
    new ByteLengthQueuingStrategy({ highWaterMark: BACKLOG_BYTES }),
  )
  return new Response(stream, { headers: { 'Content-Type': 'text/event-stream', 'Cache-Control': 'no-store' } })
})
