import type { Change } from '../core/story/changes/types'

/** An edit that the server has not confirmed yet. */
export interface PendingChange {
  readonly request: string
  readonly change: Change
}

/** Keeps unconfirmed edits in the browser, so that closing the page loses nothing. */
export class PendingStore {
  constructor(private readonly story: string) {}

  read(): PendingChange[] {
    try {
      const text = localStorage.getItem(this.name)
      return text === null ? [] : (JSON.parse(text) as PendingChange[])
    } catch {
      return []
    }
  }

  write(pending: readonly PendingChange[]): void {
    try {
      if (pending.length === 0) localStorage.removeItem(this.name)
      else localStorage.setItem(this.name, JSON.stringify(pending))
    } catch {
      // The browser keeps nothing: the edits are still in this page and go on being sent.
    }
  }

  private get name(): string {
    return `paper-compass.pending.${this.story}`
  }
}
