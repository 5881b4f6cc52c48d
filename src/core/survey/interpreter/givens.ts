import type { GivenPlan } from '../analysis/given-plan'
import type { Slots } from '../analysis/slots'

/** A slot with the value that the game gave it. */
export type Chosen = readonly [slot: number, value: number]

/**
 * What the game gives, chosen where it is first read: something is played with the first value of each slot that it
 * reads, then with the next of the last one, and so on, so that what is not read is not told apart.
 */
export class Givens {
  /** By slot: the values that the game may set; undefined where it sets none. */
  private readonly options: readonly (readonly number[] | undefined)[]
  /** By slot: whether it is chosen anew after each rest. */
  private readonly isFree: Uint8Array
  private readonly slots: number[] = []
  /** Of each chosen slot, which of its options. */
  private readonly picks: number[] = []
  /** How many of them have been come to in the play that is under way. */
  private come = 0
  /** 1 for a slot that has been chosen in it. */
  private readonly isChosen: Uint8Array
  private isPlaying = false
  private isBeginning = false

  constructor(
    private readonly values: Int32Array,
    slots: Slots,
    readonly plan: GivenPlan,
  ) {
    this.options = slots.all.map((slot) => (slot.kind === 'entry' ? slot.given?.options : undefined))
    this.isFree = new Uint8Array(slots.all.length)
    for (const slot of plan.free) this.isFree[slot] = 1
    this.isChosen = new Uint8Array(slots.all.length)
  }

  /** Whether the game sets this slot. */
  sets(slot: number): boolean {
    return this.options[slot] !== undefined
  }

  /** Whether something can change while the story rests. */
  get canChange(): boolean {
    return this.plan.free.length + this.plan.held.length > 0
  }

  /** A slot is read: if its value is up to the game and not chosen yet, it is. */
  touch(slot: number): void {
    if (!this.isPlaying || this.isChosen[slot] === 1) return
    if (this.isFree[slot] === 1 || (this.isBeginning && this.sets(slot))) this.choose(slot)
  }

  /** Chooses a slot now, read or not. */
  choose(slot: number): void {
    if (this.isChosen[slot] === 1) return
    this.isChosen[slot] = 1
    if (this.come === this.slots.length) {
      this.slots.push(slot)
      this.picks.push(0)
    }
    this.values[slot] = this.options[slot]![this.picks[this.come]!]!
    this.come += 1
  }

  /** What has been chosen in the play that is under way. */
  chosen(): Chosen[] {
    const list: Chosen[] = []
    for (let at = 0; at < this.come; at += 1) {
      const slot = this.slots[at]!
      list.push([slot, this.options[slot]![this.picks[at]!]!])
    }
    return list
  }

  /**
   * Plays something in every way; `reset` puts everything back before each, but for what was chosen, which is put back
   * here. `hear` is told how it went while what was chosen is still known; where it gives false, no other way is played.
   */
  every<T>(reset: () => void, play: () => T, hear: (outcome: T) => boolean | void, isBeginning = false): void {
    this.isPlaying = true
    this.isBeginning = isBeginning
    this.slots.length = 0
    this.picks.length = 0
    try {
      for (;;) {
        reset()
        this.come = 0
        if (hear(play()) === false) return this.leave()
        this.putBack()
        if (!this.next()) return
      }
    } finally {
      this.putBack()
      this.isPlaying = false
      this.isBeginning = false
    }
  }

  /** Plays something once with values that are chosen already; what it reads besides has the first of its values. */
  with<T>(chosen: readonly Chosen[], play: () => T): T {
    const before = chosen.map(([slot]) => this.values[slot]!)
    for (const [slot, value] of chosen) this.values[slot] = value
    try {
      return play()
    } finally {
      chosen.forEach(([slot], at) => (this.values[slot] = before[at]!))
    }
  }

  /** Plays something in one of its ways. */
  once(chosen: readonly Chosen[], play: () => void): void {
    for (const [slot, value] of chosen) this.values[slot] = value
    try {
      play()
    } finally {
      this.release(chosen.map(([slot]) => slot))
    }
  }

  private putBack(): void {
    for (let at = 0; at < this.come; at += 1) {
      const slot = this.slots[at]!
      this.isChosen[slot] = 0
      this.values[slot] = this.options[slot]![0]!
    }
    this.come = 0
  }

  /** The working vector stays where the play has led; of what is held, that it was chosen is part of it. */
  private leave(): void {
    const chosen = this.slots.slice(0, this.come)
    for (const slot of chosen) this.isChosen[slot] = 0
    this.release(chosen)
    this.come = 0
  }

  private release(chosen: readonly number[]): void {
    for (const slot of chosen) if (this.isFree[slot] === 1) this.values[slot] = this.options[slot]![0]!
  }

  /** Turns to the next way; false after the last. */
  private next(): boolean {
    const { slots, picks } = this
    for (;;) {
      const at = slots.length - 1
      if (at === -1) return false
      if (picks[at]! + 1 < this.options[slots[at]!]!.length) {
        picks[at]! += 1
        return true
      }
      slots.pop()
      picks.pop()
    }
  }
}
