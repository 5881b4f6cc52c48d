import { routeTo, type Explored } from './exploration'
import { finding, type Found } from './finding'

/** A resting state in which the player can do nothing and the story has not ended. */
export function deadEnds({ evidence }: Explored): Found[] {
  return evidence.events
    .occurrencesOf('dead-end')
    .map(({ key, witness }) =>
      finding(
        'dead-end',
        key,
        'the player can get stuck here: nothing is open and the story has not ended',
        routeTo(evidence, witness),
      ),
    )
}
