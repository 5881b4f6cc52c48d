/**
 * What has been seen on some route, each with the transition that showed it first. The search is
 * breadth-first, so the first transition is one of the fewest decisions.
 */

export type MarkKind =
  | 'beat' | 'redirect' | 'arrive' | 'line' | 'variant' | 'choice' | 'rule' | 'onward' | 'ending' | 'stage'
  | 'overrun' | 'move' | 'unset' | 'dead-end' | 'left-open' | 'endless'
  | 'never' | 'always' | 'possible'

/** Where a mark was seen: after decision `pick` of state `state`, or in that state itself. */
export interface Witness {
  /** -1: on the run from the start, before any decision. */
  readonly state: number
  /** Which of the state's open decisions, from 0; -1: in the state itself. */
  readonly pick: number
}

export interface Mark {
  readonly kind: MarkKind
  readonly key: readonly string[]
}

export class Marks {
  readonly list: Mark[] = []
  /** 1 once seen; read by compiled code before it calls `hit`. */
  readonly seen: Uint8Array
  /** While something is only tried, nothing is marked. */
  quiet = false
  /** The transition that is being followed. */
  state = -1
  pick = -1
  /** While transitions are played again: what each of them shows. */
  private recorded: number[] | undefined
  private readonly states: Int32Array
  private readonly picks: Int32Array
  private readonly numbers = new Map<MarkKind, Map<string, number>>()

  constructor(capacity: number) {
    this.seen = new Uint8Array(capacity)
    this.states = new Int32Array(capacity)
    this.picks = new Int32Array(capacity)
  }

  /** The number of a mark; the same for the same kind and key. */
  number(kind: MarkKind, ...key: string[]): number {
    const name = key.length === 1 ? key[0]! : key.join('\n')
    let ofKind = this.numbers.get(kind)
    if (ofKind === undefined) {
      ofKind = new Map()
      this.numbers.set(kind, ofKind)
    }
    const known = ofKind.get(name)
    if (known !== undefined) return known
    const number = this.list.length
    if (number >= this.seen.length) throw new Error('internal: more marks than counted')
    this.list.push({ kind, key })
    ofKind.set(name, number)
    return number
  }

  /** As if nothing had been seen; numbers stay. */
  forget(): void {
    this.seen.fill(0)
    this.state = -1
    this.pick = -1
    this.quiet = false
  }

  hit(number: number): void {
    if (this.quiet || this.seen[number] === 1) return
    this.seen[number] = 1
    if (this.recorded !== undefined) {
      this.recorded.push(number)
      return
    }
    this.states[number] = this.state
    this.picks[number] = this.pick
  }

  /** Lets transitions be played again: `shows` gives all that one shows, whatever was seen before. */
  recording(play: (shows: (again: () => void) => readonly number[]) => void): void {
    const seen = this.seen.slice()
    const list: number[] = []
    this.seen.fill(0)
    this.recorded = list
    play((again) => {
      for (const number of list) this.seen[number] = 0
      list.length = 0
      again()
      return list
    })
    this.recorded = undefined
    this.seen.set(seen)
  }

  witness(number: number): Witness {
    return { state: this.states[number]!, pick: this.picks[number]! }
  }

  /** Where something was first seen, or undefined when it was not. */
  find(kind: MarkKind, ...key: string[]): Witness | undefined {
    const number = this.numbers.get(kind)?.get(key.length === 1 ? key[0]! : key.join('\n'))
    return number === undefined || this.seen[number] === 0 ? undefined : this.witness(number)
  }

  /** All seen marks of a kind, in order of their numbers. */
  seenOf(kind: MarkKind): { readonly key: readonly string[]; readonly witness: Witness }[] {
    const found: { key: readonly string[]; witness: Witness }[] = []
    this.list.forEach((mark, number) => {
      if (mark.kind === kind && this.seen[number] === 1) found.push({ key: mark.key, witness: this.witness(number) })
    })
    return found
  }
}

/** For every written condition, whether it was ever false (1) and ever true (2). */
export class ConditionLog {
  readonly seen: Uint8Array
  readonly addresses: string[] = []
  private readonly numbers = new Map<string, number>()

  constructor(capacity: number) {
    this.seen = new Uint8Array(capacity)
  }

  /** The number of the condition at an address; the same each time. */
  numberOf(address: string): number {
    const known = this.numbers.get(address)
    if (known !== undefined) return known
    const number = this.addresses.length
    if (number >= this.seen.length) throw new Error('internal: more conditions than counted')
    this.addresses.push(address)
    this.numbers.set(address, number)
    return number
  }
}
