import type { Line, Save } from '../../runtime/src/index'

/** A line as it was read. */
export type Said = Pick<Line, 'text' | 'name' | 'manner'>

/** What a browser keeps of a reader. */
export interface Kept {
  readonly save?: Save
  readonly version?: string
  /** The last lines, oldest first; what was chosen stands among them. */
  readonly said?: readonly (Said | { readonly chosen: string })[]
  readonly language?: string
  readonly size?: number
  readonly look?: 'auto' | 'day' | 'night'
  readonly record?: object
}

/** More lines than these are not kept. */
const SAID_MAX = 120

/** Reads and writes it under the story's name. A browser that keeps nothing, or is full, does not stop anybody from reading. */
export class Shelf {
  private kept: Kept = {}

  constructor(private readonly name: string) {
    try {
      const kept: unknown = JSON.parse(localStorage.getItem(this.key) ?? '{}')
      if (typeof kept === 'object' && kept !== null) this.kept = kept
    } catch {
      // nothing that can be read: as if nothing were kept
    }
  }

  private get key(): string {
    return `paper-compass ${this.name}`
  }

  get all(): Kept {
    return this.kept
  }

  put(more: Kept): void {
    this.kept = { ...this.kept, ...more }
    if (this.kept.said !== undefined) this.kept = { ...this.kept, said: this.kept.said.slice(-SAID_MAX) }
    try {
      localStorage.setItem(this.key, JSON.stringify(this.kept))
    } catch {
      // the reader goes on; only a later visit begins anew
    }
  }
}
