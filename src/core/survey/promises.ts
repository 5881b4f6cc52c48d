import type { LinkedPromise } from '../story/linked'
import type { Search } from './explicit/search'
import { NO_STATE } from './explicit/table'
import { prospects } from './prospects'
import type { PromiseVerdict } from './result'
import type { Routes } from './routes'

/** The verdict of every sound promise, by its id. Judged in resting states. */
export function judgePromises(search: Search, routes: Routes): Record<string, PromiseVerdict> {
  const verdicts: Record<string, PromiseVerdict> = {}
  for (const promise of search.story.promises) verdicts[promise.id] = judge(promise, search, routes)
  return verdicts
}

function judge(linked: LinkedPromise, search: Search, routes: Routes): PromiseVerdict {
  const { compiler, done } = search
  const broken = (state: number): PromiseVerdict => ({ verdict: 'broken', route: routes.toState(state) })
  const otherwise: PromiseVerdict = { verdict: done ? 'kept' : 'undecided' }
  const { promise } = linked
  switch (promise.kind) {
    case 'never': {
      const state = firstState(search, compiler.test(linked.holds!))
      return state === undefined ? otherwise : broken(state)
    }
    case 'always': {
      const holds = compiler.test(linked.holds!)
      const state = firstState(search, () => !holds())
      return state === undefined ? otherwise : broken(state)
    }
    case 'possible': {
      const state = firstState(search, compiler.test(linked.holds!))
      if (state === undefined) return { verdict: done ? 'broken' : 'undecided' }
      return { verdict: 'kept', route: routes.toState(state) }
    }
    case 'stillPossible': {
      const { may } = prospects(search, [compiler.test(linked.holds!)])
      const asked = linked.while === undefined ? () => true : compiler.test(linked.while)
      for (let state = 0; state < search.states; state += 1) {
        if (may(state, 0)) continue
        search.settle(state)
        if (asked()) return broken(state)
      }
      return otherwise
    }
    case 'inOrder': {
      const path = outOfOrder(search, compiler.test(linked.first!), compiler.test(linked.then!))
      return path === undefined ? otherwise : { verdict: 'broken', route: routes.along(path) }
    }
  }
}

function firstState(search: Search, holds: () => boolean): number | undefined {
  for (let state = 0; state < search.states; state += 1) {
    search.settle(state)
    if (holds()) return state
  }
  return undefined
}

/** A shortest path to a state with `then` on which no state, the last included, has `first`. */
function outOfOrder(search: Search, first: () => boolean, then: () => boolean): number[] | undefined {
  if (search.states === 0) return undefined
  const parents = new Uint32Array(search.states).fill(NO_STATE)
  const seen = new Uint8Array(search.states)
  const queue = new Uint32Array(search.states)
  let length = 1
  seen[0] = 1
  for (let head = 0; head < length; head += 1) {
    const state = queue[head]!
    search.settle(state)
    if (first()) continue
    if (then()) {
      const path = [state]
      for (let at = parents[state]!; at !== NO_STATE; at = parents[at]!) path.push(at)
      return path.reverse()
    }
    if (state >= search.expanded) continue
    for (let at = search.rowStart(state); at < search.rowEnd(state); at += 1) {
      const next = search.successor(at)
      if (next === NO_STATE || seen[next] === 1) continue
      seen[next] = 1
      parents[next] = state
      queue[length++] = next
    }
  }
  return undefined
}
