import { refuse } from '../../../../server/answers'
import { store } from '../../../../server/store'

/** Keeps a quiet connection from being taken for a dead one, in milliseconds. */
const BEAT_MS = 20_000

/** Every change to a story as it is saved, as server-sent events; first the revision it is at. */
export async function GET(request: Request, { params }: { params: Promise<{ id: string }> }) {
  const { id } = await params
  const { stories } = await store()
  if ((await stories.open(id)) === undefined)
    return refuse(404, 'There is no story at this address; it may have been deleted.')
  const encoder = new TextEncoder()
  let stop = () => {}
  const stream = new ReadableStream<Uint8Array>({
    start(controller) {
      const send = (event: string, data: unknown) =>
        controller.enqueue(encoder.encode(`event: ${event}\ndata: ${JSON.stringify(data)}\n\n`))
      const silence = stories.listen(id, (told) => send('change', told))
      const beat = setInterval(() => controller.enqueue(encoder.encode(': \n\n')), BEAT_MS)
      stop = () => {
        clearInterval(beat)
        silence()
      }
      request.signal.addEventListener('abort', () => stop())
      // what was saved since the page was read is told by the number alone; asked for last, so that nothing falls between
      void stories.open(id).then((open) => open !== undefined && send('at', { revision: open.revision }))
    },
    cancel: () => stop(),
  })
  return new Response(stream, { headers: { 'Content-Type': 'text/event-stream', 'Cache-Control': 'no-store' } })
}
