import type { Expr } from '../../expression/ast'
import { GateObservations } from '../interpreter/gate-observations'
import type { Action } from './paths/actions'
import { EMPTY, ifNotTooMuch, TooMuch } from './diagrams/node-table'
import type { Assignment } from './paths/demand'
import type { SymbolicSearch } from './symbolic-search'

/** Ways in which the parts of a gate fail that are told apart. */
const WAYS_MAX = 256

/** Looks at the gate of the part at an address wherever it is asked; undefined where that would take too much. `reads`: the slots that its parts read. */
export function gateInSets(
  search: SymbolicSearch,
  address: string,
  parts: readonly Expr[],
  reads: readonly (readonly number[])[],
): GateObservations | undefined {
  return ifNotTooMuch(() => lookAt(search, search.events.part(address), parts, reads))
}

function lookAt(
  search: SymbolicSearch,
  condition: number,
  parts: readonly Expr[],
  reads: readonly (readonly number[])[],
): GateObservations {
  const seen = new GateObservations(reads)
  const { compiler } = search.actions.engine
  const tests = parts.map((part) => compiler.test(part))
  const slots = [...new Set(reads.flat())]
  search.passedAtStart({ condition }, slots, (values) => seen.look(tests, values))
  for (const [location, set] of search.reached) {
    const isAsked = ({ asked, shut }: Action) => shut.includes(condition) || asked.some(([one]) => one === condition)
    if (!search.commandsOf(location).some(({ action }) => isAsked(action))) continue
    const commands = search.commandsPassing(location, { condition }, slots)
    if (commands === undefined) throw new TooMuch()
    for (const command of commands) {
      const before = search.before(command, set)
      if (before === EMPTY) continue
      for (const known of command.action.passed) {
        const asking = search.withValues(location, before, known)
        const read = search.valueReader(location, asking)
        const others = known.filter(([slot]) => !search.isHeldAt(location, slot))
        const values = new Map(others)
        reads.forEach((own, at) =>
          own.forEach((slot, index) => {
            const value = values.get(slot)
            for (const each of value === undefined ? read(slot) : [value]) seen.saw[at]![index]!.add(each)
          }),
        )
        partByPart(search, location, asking, parts, others, seen)
      }
    }
  }
  return seen
}

/** Which parts hold in some states, and which fail together. */
function partByPart(
  search: SymbolicSearch,
  location: number,
  set: number,
  parts: readonly Expr[],
  given: readonly Assignment[],
  seen: GateObservations,
): void {
  let ways: { readonly set: number; readonly failing: readonly number[] }[] = [{ set, failing: [] }]
  parts.forEach((part, at) => {
    const next: typeof ways = []
    for (const one of ways) {
      const those = search.conditions.where(location, one.set, part, given)
      const others = search.diagrams.minus(one.set, those)
      if (those !== EMPTY) {
        seen.held[at] = true
        next.push({ set: those, failing: one.failing })
      }
      if (others !== EMPTY) next.push({ set: others, failing: [...one.failing, at] })
    }
    // those that fail least are kept
    ways = next.sort((a, b) => a.failing.length - b.failing.length).slice(0, WAYS_MAX)
  })
  for (const { failing } of ways) seen.fail(failing)
}
