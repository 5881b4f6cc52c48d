import type { Change } from '../core/story/changes/types'

/** An edit that the server has not confirmed yet. */
export interface PendingChange {
  readonly request: string
  readonly change: Change
}

/** An edit that the server would not take: kept with its words until the designer has seen to it. */
export interface RefusedChange extends PendingChange {
  readonly why: string
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
    return readList<PendingChange>(this.name)
  }

  /** What was refused, by any window on this story. */
  refused(): RefusedChange[] {
    return readList<RefusedChange>(this.refusedName)
  }

  writeRefused(refused: readonly RefusedChange[]): void {
    writeList(this.refusedName, refused)
  }

  write(pending: readonly PendingChange[]): void {
    for (const { request } of pending) this.own.add(request)
    const all = [...this.read().filter(({ request }) => !this.own.has(request)), ...pending]
    writeList(this.name, all)
  }

  private get name(): string {
    return `paper-compass.pending.${this.story}`
  }

  private get refusedName(): string {
    return `paper-compass.refused.${this.story}`
  }
}

function readList<T>(name: string): T[] {
  try {
    const kept: unknown = JSON.parse(localStorage.getItem(name) ?? '[]')
    return Array.isArray(kept) ? (kept as T[]) : []
  } catch {
    return []
  }
}

function writeList(name: string, list: readonly unknown[]): void {
  try {
    if (list.length === 0) localStorage.removeItem(name)
    else localStorage.setItem(name, JSON.stringify(list))
  } catch {
    // The browser keeps nothing: what is in the list is still in this page.
  }
}
