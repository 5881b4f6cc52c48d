import type { Change } from '../core/story/changes/types'

/** An edit that the server has not confirmed yet. */
export interface PendingChange {
  readonly request: string
  readonly change: Change
}

/** Keeps unconfirmed edits in the browser, so that closing the page loses nothing. */
export class PendingStore {
  /** What this window has had to send; another window on the same story keeps its own in the same list. */
  private readonly own = new Set<string>()

  constructor(private readonly story: string) {}

  /** Everything that is kept, also what a closed window left: from now on this window's to send. */
  adopt(): PendingChange[] {
    const kept = this.read()
    for (const { request } of kept) this.own.add(request)
    return kept
  }

  private read(): PendingChange[] {
    try {
      const text = localStorage.getItem(this.name)
      return text === null ? [] : (JSON.parse(text) as PendingChange[])
    } catch {
      return []
    }
  }

  write(pending: readonly PendingChange[]): void {
    for (const { request } of pending) this.own.add(request)
    const all = [...this.read().filter(({ request }) => !this.own.has(request)), ...pending]
    try {
      if (all.length === 0) localStorage.removeItem(this.name)
      else localStorage.setItem(this.name, JSON.stringify(all))
    } catch {
      // The browser keeps nothing: the edits are still in this page and go on being sent.
    }
  }

  private get name(): string {
    return `paper-compass.pending.${this.story}`
  }
}
