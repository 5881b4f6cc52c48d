import type { JobAsk } from '../../core/contract/jobs'
import type { Claim } from './claim'
import { addTallies, resultOf, type Tally } from '../../core/simulate/tally'

/** What a job has come to, with one more share; in the end as it is told. All as JSON text. */
export function folded(ask: Claim['ask'], before: string | undefined, came: string, isLast: boolean): string | null {
  switch (ask.kind) {
    case 'night':
      // each story's stays with its share, for the night after it
      return null
    case 'survey':
      return came
    case 'carry':
      return before === undefined ? `[${came}]` : `${before.slice(0, -1)},${came}]`
    case 'simulate': {
      const tally = JSON.parse(came) as Tally
      const all = before === undefined ? tally : addTallies(JSON.parse(before) as Tally, tally)
      return JSON.stringify(isLast ? resultOf(all, optionsOf(ask)) : all)
    }
  }
}

/** What is asked for as the simulation takes it. */
export function optionsOf({ options: { player, seed, given } }: Extract<JobAsk, { kind: 'simulate' }>) {
  return { player, seed, ...(given === undefined ? {} : { given }) }
}
