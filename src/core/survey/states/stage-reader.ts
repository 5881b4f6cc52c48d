import type { LinkedQuest, LinkedStory } from '../../story/linked'
import { has } from '../analysis/bits'
import type { QuestHorizon } from '../analysis/quest-horizon'
import type { Slots } from '../analysis/slots'
import type { Field, Layout } from './layout'

/** A quest that states hold at some location, and where in them. */
export interface HeldQuest {
  readonly quest: number
  readonly field: Field
}

/** What tells how the states of a story are packed. */
interface Packing {
  readonly story: LinkedStory
  readonly layout: Layout
  readonly horizon: QuestHorizon
  readonly slots: Slots
}

/** Which quests that are looked at a state holds, by where it rests; a quest that is not held there has not been started. */
export function questsHeld({ story, layout, horizon, slots }: Packing): (location: number) => readonly HeldQuest[] {
  const lists: (readonly HeldQuest[] | undefined)[] = []
  const questOf = Int32Array.from(slots.all, (slot) => (slot.kind === 'quest' ? slot.quest : -1))
  return (location) => {
    const known = lists[location]
    if (known !== undefined) return known
    const observed = horizon.observed.row(location % story.beats.length)
    const fields = layout.fieldsOf(location, (slot) => questOf[slot] !== -1 && has(observed, questOf[slot]!))
    return (lists[location] = fields.map((field) => ({ quest: questOf[field.slot]!, field })))
  }
}

function sameFields(a: readonly HeldQuest[], b: readonly HeldQuest[]): boolean {
  return (
    a.length === b.length &&
    a.every(({ quest, field }, at) => {
      const other = b[at]!
      return (
        quest === other.quest &&
        field.cell === other.field.cell &&
        field.stride === other.field.stride &&
        field.size === other.field.size
      )
    })
  )
}

/** Values that neighbouring digits are read by together. */
const TABLE_MAX = 256

/** Neighbouring digits of one cell, with what each value of theirs says of the quests among them. */
interface Digits {
  readonly cell: number
  readonly stride: number
  readonly size: number
  /** Bits of quests under way, and of those that have come to an outcome. */
  readonly open: Uint32Array
  readonly ended: Uint32Array
}

/** Tells, of a state, which quests of a group are under way and which have ended; reads packed states. */
export class StageReader {
  /** Of the state that was read last. */
  open = 0
  ended = 0
  private readonly plans: (readonly Digits[] | undefined)[] = []
  /** The plan that was made last, and for what: most locations hold quests as the one before does. */
  private last: { readonly fields: readonly HeldQuest[]; readonly plan: readonly Digits[] } = { fields: [], plan: [] }
  private readonly bitOf: ReadonlyMap<number, number>

  constructor(
    private readonly layout: Layout,
    private readonly held: (location: number) => readonly HeldQuest[],
    private readonly quests: readonly LinkedQuest[],
  ) {
    this.bitOf = new Map(quests.map(({ index }, bit) => [index, bit]))
  }

  read(packed: Uint32Array): void {
    const { layout } = this
    const first = packed[0]!
    const location = layout.locationOf(first)
    const plan = (this.plans[location] ??= this.plan(location))
    const base = layout.baseOf(location)
    let open = 0
    let ended = 0
    for (let at = 0; at < plan.length; at += 1) {
      const digits = plan[at]!
      const cell = digits.cell === 0 ? first - base : packed[digits.cell]!
      const value = ((cell / digits.stride) | 0) % digits.size
      open |= digits.open[value]!
      ended |= digits.ended[value]!
    }
    this.open = open
    this.ended = ended
  }

  /** The stage that a held quest is at. */
  stageOf(packed: Uint32Array, bit: number): number {
    const { layout } = this
    const location = layout.locationOf(packed[0]!)
    const { field } = this.held(location).find(({ quest }) => this.bitOf.get(quest) === bit)!
    const cell = packed[field.cell]! - (field.cell === 0 ? layout.baseOf(location) : 0)
    return Math.floor(cell / field.stride) % field.size
  }

  private plan(location: number): readonly Digits[] {
    const fields = this.held(location).filter(({ quest }) => this.bitOf.has(quest))
    if (!sameFields(fields, this.last.fields)) this.last = { fields, plan: this.planOf(fields) }
    return this.last.plan
  }

  private planOf(fields: readonly HeldQuest[]): Digits[] {
    const plan: Digits[] = []
    for (let at = 0; at < fields.length;) {
      const first = fields[at]!.field
      let size = first.size
      let next = at + 1
      while (
        next < fields.length &&
        fields[next]!.field.cell === first.cell &&
        fields[next]!.field.stride === first.stride * size &&
        size * fields[next]!.field.size <= TABLE_MAX
      ) {
        size *= fields[next]!.field.size
        next += 1
      }
      plan.push(this.digits(fields.slice(at, next), size))
      at = next
    }
    return plan
  }

  private digits(fields: readonly HeldQuest[], size: number): Digits {
    const { cell, stride } = fields[0]!.field
    const open = new Uint32Array(size)
    const ended = new Uint32Array(size)
    for (let value = 0; value < size; value += 1) {
      let rest = value
      for (const { quest, field } of fields) {
        const stage = rest % field.size
        rest = Math.floor(rest / field.size)
        const bit = this.bitOf.get(quest)!
        if (stage === 0) continue
        if (this.quests[bit]!.outcomes[stage] === undefined) open[value]! |= 1 << bit
        else ended[value]! |= 1 << bit
      }
    }
    return { cell, stride, size, open, ended }
  }
}
