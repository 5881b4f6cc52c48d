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
  if (search.states === 0) return undefined
  const parents = new Uint32Array(search.states).fill(NO_STATE)
  const seen = search.table.noneOf()
  const queue = new Uint32Array(search.states)
  let length = 1
  seen.add(search.table.idOf(0))
  for (let head = 0; head < length; head += 1) {
    const state = queue[head]!
    if (first(state)) continue
    if (then(state)) {
      const path = [state]
      for (let at = parents[state]!; at !== NO_STATE; at = parents[at]!) path.push(at)
      return path.reverse()
    }
    if (state >= search.expanded) continue
    for (let at = search.firstEdge(state); at < search.endEdge(state); at += 1) {
      const name = search.successorId(at)
      if (name === NO_STATE || seen.has(name)) continue
      seen.add(name)
      const next = search.successor(at)
      parents[next] = state
      queue[length++] = next
    }
  }
  return undefined
}
