import { appendFileSync } from 'node:fs'

/** What a part of the fuzzing counts, and what it found. */
export interface Found {
  readonly part: string
  readonly kind: 'crash' | 'hang' | 'wrong refusal' | 'lost' | 'wrong answer'
  readonly seed: number
  readonly said: string
}

/** Counts inputs by part, and keeps what was found. */
export class Report {
  readonly inputs = new Map<string, number>()
  readonly found: Found[] = []

  constructor(private readonly log: string | undefined) {}

  count(part: string, by = 1): void {
    this.inputs.set(part, (this.inputs.get(part) ?? 0) + by)
  }

  find(found: Found): void {
    this.found.push(found)
    const line = `${found.part} ${found.kind} (seed ${found.seed}): ${found.said.slice(0, 2000)}\n`
    process.stdout.write(line)
    if (this.log !== undefined) appendFileSync(this.log, line)
  }

  /** Does something that may not throw and may not take longer than `ms`. */
  try(part: string, seed: number, ms: number, work: () => void): void {
    this.count(part)
    const begun = performance.now()
    try {
      work()
    } catch (error) {
      this.find({
        part,
        seed,
        kind: 'crash',
        said: error instanceof Error ? (error.stack ?? error.message) : String(error),
      })
    }
    const took = performance.now() - begun
    if (took > ms) this.find({ part, seed, kind: 'hang', said: `took ${Math.round(took)} ms` })
  }
}
