import { handler, NO_STORY, refuse } from '../../../../server/answers'

/** Keeps a quiet connection from being taken for a dead one, in milliseconds. */
const BEAT_MS = 20_000
/** Bytes that may wait for a client that does not read before it is cut off; it opens anew and reads the story. */
const BACKLOG_BYTES = 4 * 1024 * 1024
/** Streams that are open at once, of all stories. */
const STREAMS_MAX = Number(process.env.PAPER_COMPASS_STREAMS) || 200

let open = 0

/** Every change to a story as it is saved, as server-sent events; first the revision it is at. */
export const GET = handler<{ id: string }>(async ({ request, store, params: { id } }) => {
  if ((await store.ask('titleOf', id)) === undefined) return refuse(404, NO_STORY)
  if (open >= STREAMS_MAX) return refuse(503, 'Too many windows are open; close some of them.')
  const encoder = new TextEncoder()
  let stop = () => {}
  const stream = new ReadableStream<Uint8Array>(
    {
      start(controller) {
        open += 1
        let stopped = false
        const write = (text: string) => {
          if (stopped) return
          controller.enqueue(encoder.encode(text))
          if ((controller.desiredSize ?? 0) > 0) return
          stop()
          controller.error(new Error('the client does not read'))
        }
        const send = (event: string, data: string) => write(`event: ${event}\ndata: ${data}\n\n`)
        const silence = store.listen(id, (told) => send('change', told))
        const beat = setInterval(() => write(': \n\n'), BEAT_MS)
        stop = () => {
          if (stopped) return
          stopped = true
          open -= 1
          clearInterval(beat)
          silence()
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
