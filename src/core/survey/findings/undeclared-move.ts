import type { SurveyContext } from '../context'
import { finding, type Finding } from '../result'

/** A quest goes from one stage to another by a move that it does not declare. */
export function undeclaredMoves({ search, routes }: SurveyContext): Finding[] {
  return search.marks.seenOf('move').map(({ key, witness }) => {
    const [quest, from, to] = key
    return finding('undeclared-move', key, `"${quest}" goes from "${from}" to "${to}", which is not one of its moves`, routes.of(witness))
  })
}
