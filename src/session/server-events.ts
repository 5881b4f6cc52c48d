import { api } from './api'
import { atSchema, toldSchema, type Told } from '../core/contract/answers'

interface EventsListener {
  /** A change was saved to the story, by whichever window. */
  change(told: Told): void
  /** The server is at this revision. */
  at(revision: number): void
}

/**
 * Hears of every change that is saved to a story. A browser keeps few connections to one server: a window that is not
 * looked at gives its own back, and catches up later.
 */
export class ServerEvents {
  private source: EventSource | undefined
  private closed = false

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
    this.source?.close()
    if (typeof document !== 'undefined') document.removeEventListener('visibilitychange', this.turn)
  }

  private readonly turn = (): void => {
    this.source?.close()
    this.source = undefined
    if (!document.hidden && !this.closed) this.open()
  }

  private open(): void {
    this.source = new EventSource(api.eventsPath(this.id))
    this.source.addEventListener('change', ({ data }: MessageEvent<string>) =>
      this.listener.change(toldSchema.parse(JSON.parse(data))),
    )
    this.source.addEventListener('at', ({ data }: MessageEvent<string>) =>
      this.listener.at(atSchema.parse(JSON.parse(data)).revision),
    )
  }
}
