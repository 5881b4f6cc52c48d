import { routeTo, type Explored } from './exploration'
import { finding, type Found } from './finding'

/** A run of redirects and onward roads that comes back to the same state and never rests. */
export function endlessRuns({ evidence }: Explored): Found[] {
  return evidence.events
    .occurrencesOf('endless')
    .map(({ key, witness }) =>
      finding('endless-run', key, 'the story goes round here by itself and never stops', routeTo(evidence, witness)),
    )
}
