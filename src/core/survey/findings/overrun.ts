import type { SurveyContext } from '../context'
import { finding, type Found } from '../result'

/** An executed effect would take a counter or an item out of its range. */
export function overruns({ story, search, routes, aside }: SurveyContext): Found[] {
  return [{ search, routes }, ...aside].flatMap((one) => one.search.marks.seenOf('overrun').map(({ key, witness }) => {
    const entry = story.entries[story.entryOf.get(key[0]!)!]!
    const message = `an effect here would take "${entry.id}" out of its range (${entry.min} to ${entry.max}); it stops at the end`
    return finding('overrun', key, message, one.routes.wayOf(witness))
  }))
}
