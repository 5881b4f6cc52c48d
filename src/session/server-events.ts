import { api } from './api'
import type { Role } from '../core/contract/access'
import { atSchema, toldSchema, type Told } from '../core/contract/answers'

const NEWS = ['comments', 'here', 'jobs', 'released'] as const
type News = (typeof NEWS)[number]

interface EventsListener {
  /** A change was saved to the story, by whichever window. */
  change(told: Told): void
  /** The server is at this revision; and one is this in the story now. */
  at(revision: number, role: Role | undefined): void
  /** Something else is new: a comment, who is where, heavy work, or which versions players have. */
  news(event: News, data: string): void
  /** The server does not tell this window anything any more; it is asked again and again. */
  deaf(): void
}

/** Between two tries to listen again where the server refused it, in milliseconds. */
const AGAIN_MS = 5_000

/**
 * Hears of every change that is saved to a story. A browser keeps few connections to one server: a window that is not
 * looked at gives its own back, and catches up later.
 */
export class ServerEvents {
  private source: EventSource | undefined
  private closed = false
  private again: ReturnType<typeof setTimeout> | undefined

  constructor(
    private readonly id: string,
    private readonly listener: EventsListener,
  ) {
    if (typeof EventSource === 'undefined') return
    this.open()
    if (typeof document !== 'undefined') document.addEventListener('visibilitychange', this.turn)
  }

  close(): void {
    this.closed = true
    clearTimeout(this.again)
    this.source?.close()
    if (typeof document !== 'undefined') document.removeEventListener('visibilitychange', this.turn)
  }

  private readonly turn = (): void => {
    clearTimeout(this.again)
    this.source?.close()
    this.source = undefined
    if (!document.hidden && !this.closed) this.open()
  }

  private open(): void {
    const source = new EventSource(api.eventsPath(this.id))
    this.source = source
    // a browser tries again by itself after a line is lost, but not after a refusal
    source.addEventListener('error', () => {
      if (source.readyState !== EventSource.CLOSED || this.closed) return
      this.listener.deaf()
      this.again = setTimeout(this.turn, AGAIN_MS)
    })
    source.addEventListener('change', ({ data }: MessageEvent<string>) =>
      this.listener.change(toldSchema.parse(JSON.parse(data))),
    )
    source.addEventListener('at', ({ data }: MessageEvent<string>) => {
      const { revision, role } = atSchema.parse(JSON.parse(data))
      this.listener.at(revision, role)
    })
    for (const event of NEWS)
      source.addEventListener(event, ({ data }: MessageEvent<string>) => this.listener.news(event, data))
  }
}
