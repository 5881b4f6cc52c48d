import { routeTo, type Explored } from './exploration'
import { finding, type Found } from './finding'

/** An executed effect would take a counter or an item out of its range. */
export function overruns({ story, evidence, aside }: Explored): Found[] {
  return [evidence, ...aside].flatMap((one) =>
    one.events.occurrencesOf('overrun').map(({ key, witness }) => {
      const entry = story.entries[story.entryOf.get(key[0]!)!]!
      const message = `an effect here would take "${entry.id}" out of its range (${entry.min} to ${entry.max}); it stops at the end`
      return finding('overrun', key, message, routeTo(one, witness))
    }),
  )
}
