import { routeTo, type Explored } from './exploration'
import { finding, type Found } from './finding'

/** A quest goes from one stage to another by a move that it does not declare. */
export function undeclaredMoves({ story, evidence }: Explored): Found[] {
  const order = ([quest, from, to]: readonly string[]): number[] => {
    const index = story.questOf.get(quest!)!
    const { stages } = story.quests[index]!
    return [index, stages.indexOf(from!), stages.indexOf(to!)]
  }
  const moves = evidence.events.occurrencesOf('move').map((move) => ({ ...move, order: order(move.key) }))
  const compare = (a: readonly number[], b: readonly number[]) => a[0]! - b[0]! || a[1]! - b[1]! || a[2]! - b[2]!
  return moves
    .sort((a, b) => compare(a.order, b.order))
    .map(({ key, witness }) => {
      const [quest, from, to] = key
      return finding(
        'undeclared-move',
        key,
        `"${quest}" goes from "${from}" to "${to}", which is not one of its moves`,
        routeTo(evidence, witness),
      )
    })
}
