import type { Expr } from '../../expression/ast'
import type { LinkedPromise } from '../../story/linked'
import type { Search } from './search'
import { NO_STATE } from '../states/state-set'
import { prospectsOf } from './prospects'
import type { PromiseVerdict } from '../findings/exploration'
import type { Routes } from './routes'
import { promiseParts } from '../../story/linked-parts'
import { variablesOf, variablesRead } from '../summaries/variables'

/** Conditions whose truth fits a word. */
const GROUP = 32

/** The verdict of every sound promise, by its id. Judged in resting states. */
export function judgePromises(search: Search, routes: Routes): Record<string, PromiseVerdict> {
  const verdicts: Record<string, PromiseVerdict> = {}
  let group: LinkedPromise[] = []
  let conditions = 0
  const judgeGroup = () => {
    const facts = new Facts(search, group.flatMap(promiseParts))
    for (const promise of group) verdicts[promise.id] = judge(promise, facts, search, routes)
    group = []
    conditions = 0
  }
  for (const promise of search.story.promises) {
    const { length } = promiseParts(promise)
    if (conditions + length > GROUP) judgeGroup()
    group.push(promise)
    conditions += length
  }
  if (group.length > 0) judgeGroup()
  return verdicts
}

/** Which of up to GROUP conditions hold in which states: all are asked in one pass. */
class Facts {
  private readonly bits: Uint32Array
  private readonly bitOf = new Map<Expr, number>()

  constructor(
    private readonly search: Search,
    exprs: readonly Expr[],
  ) {
    const { story, slots, compiler } = search
    const variables = variablesOf(story)
    const read = new Set(
      exprs.flatMap((expr) => variablesRead(story, variables, expr)).map((variable) => slots.ofVariable[variable]!),
    )
    read.delete(-1)
    for (const expr of exprs) if (!this.bitOf.has(expr)) this.bitOf.set(expr, this.bitOf.size)
    const tests = [...this.bitOf.keys()].map((expr) => compiler.test(expr))
    this.bits = new Uint32Array(search.states)
    search.eachState([...read], (state) => {
      let word = 0
      for (let at = 0; at < tests.length; at += 1) if (tests[at]!()) word |= 1 << at
      this.bits[state] = word
    })
  }

  holds(expr: Expr, state: number): boolean {
    return ((this.bits[state]! >>> this.bitOf.get(expr)!) & 1) === 1
  }

  /** The first state in which it holds, or does not. */
  first(expr: Expr, wanted: boolean): number | undefined {
    const bit = 1 << this.bitOf.get(expr)!
    for (let state = 0; state < this.search.states; state += 1)
      if (((this.bits[state]! & bit) !== 0) === wanted) return state
    return undefined
  }
}

function judge(linked: LinkedPromise, facts: Facts, search: Search, routes: Routes): PromiseVerdict {
  const { done } = search
  const broken = (state: number): PromiseVerdict => ({ verdict: 'broken', route: routes.toState(state) })
  const otherwise: PromiseVerdict = { verdict: done ? 'kept' : 'undecided' }
  const { promise } = linked
  switch (promise.kind) {
    case 'never':
    case 'always': {
      const state = facts.first(linked.holds!, promise.kind === 'never')
      return state === undefined ? otherwise : broken(state)
    }
    case 'possible': {
      const state = facts.first(linked.holds!, true)
      if (state === undefined) return { verdict: done ? 'broken' : 'undecided' }
      return { verdict: 'kept', route: routes.toState(state) }
    }
    case 'stillPossible': {
      const { may } = prospectsOf(search, (state) => facts.holds(linked.holds!, state))
      for (let state = 0; state < search.states; state += 1) {
        if (!may(state) && (linked.while === undefined || facts.holds(linked.while, state))) return broken(state)
      }
      return otherwise
    }
    case 'inOrder': {
      const path = outOfOrder(
        search,
        (state) => facts.holds(linked.first!, state),
        (state) => facts.holds(linked.then!, state),
      )
      return path === undefined ? otherwise : { verdict: 'broken', route: routes.along(path) }
    }
  }
}

/** A shortest path to a state with `then` on which no state, the last included, has `first`. */
function outOfOrder(
  search: Search,
  first: (state: number) => boolean,
  then: (state: number) => boolean,
): number[] | undefined {
  const parents = new Uint32Array(search.states).fill(NO_STATE)
  const seen = search.table.noneOf()
  // states come to by as many decisions; those that a change of what is given leads to come to the same list
  let level = search.beginnings.map(({ state, from = NO_STATE }: { state: number; from?: number }) => ({ state, from }))
  while (level.length > 0) {
    const next: typeof level = []
    for (const { state, from } of level) {
      const own = search.table.idOf(state)
      if (seen.has(own)) continue
      seen.add(own)
      parents[state] = from
      if (first(state)) continue
      if (then(state)) {
        const path = [state]
        for (let at = parents[state]; at !== NO_STATE; at = parents[at]!) path.push(at)
        return path.reverse()
      }
      if (state >= search.expanded) continue
      const start = search.firstEdge(state)
      const decided = start + search.movesOf(state)
      for (let at = start; at < search.endEdge(state); at += 1) {
        const name = search.successorId(at)
        if (name === NO_STATE || seen.has(name)) continue
        const to = { state: search.successor(at), from: state }
        if (at < decided) level.push(to)
        else next.push(to)
      }
    }
    level = next
  }
  return undefined
}
