import type { Slices } from '../../../base/slices'
import { ownerOf } from '../../../base/address'
import { walk, type Expr } from '../../../expression/ast'
import type { LinkedChoice, LinkedStory } from '../../../story/linked'
import type { RouteItem } from '../../../story/types'
import type { EventLog } from '../../interpreter/events'
import { slotValue } from '../../states/slot-value'
import type { Slot, Slots } from '../../analysis/slots'
import { questSites } from './quest-sites'
import { targetsOf, Whereabouts, type Nowhere, type Presence, type TwoPlaces } from './whereabouts'
import { choicesOf } from '../../../story/linked-parts'

/** What stands across: the stages of one quest, or of two taken together. */
export type Axis = { readonly quest: string; readonly and?: string }

/** One column: a stage of each quest of the axis. */
export type Column = readonly string[]

/** Something that really plays when somebody is approached. */
export interface Playing {
  /** The choice by which they are approached. */
  readonly encounter: string
  /** The first line that is shown; undefined where none is. */
  readonly line: string | undefined
  /** The beat that shows it, or that the choice leads to. */
  readonly beat: string
  readonly route: readonly RouteItem[]
  /** In how many states of the survey. */
  readonly states: number
}

/** What differs between what plays in one cell. */
export interface DependsOn {
  readonly of: 'entry' | 'quest' | 'visits' | 'taken'
  readonly id: string
  /** For each of what plays, in its order: the values at which they do. */
  readonly values: readonly (readonly (boolean | number | string)[])[]
}

export interface Cell {
  readonly plays: readonly Playing[]
  readonly dependsOn: readonly DependsOn[]
  /** Quests that can be begun in the conversation. */
  readonly offers: readonly string[]
  /** The conversation can move the axis's quest on. */
  readonly movesOn: boolean
}

export interface CallSheet {
  readonly axis: Axis
  readonly columns: readonly Column[]
  /** By column: whether the story ever rests at it. */
  readonly reached: readonly boolean[]
  /** By person, one cell a column; undefined where they can't be approached. */
  readonly rows: Readonly<Record<string, readonly (Cell | undefined)[]>>
  readonly presences: readonly Presence[]
  readonly twoPlaces: readonly TwoPlaces[]
  readonly nowhere: readonly Nowhere[]
}

/** How many decisions a conversation is followed for what it offers. */
export const TALK_DEPTH = 6
/** Things that play in one cell and are told: those that play in most states. */
const PLAYING_MAX = 12

/** Somebody is approached in some states of one column. */
export interface Approach<Occasion> {
  readonly choice: LinkedChoice
  readonly column: number
  /** The events that it shows. */
  readonly shown: readonly number[]
  readonly states: number
  /** The values before it of what it may depend on, in the order of `candidatesOf`. */
  readonly values: readonly Iterable<number>[]
  /** The owners with stage effects among the choices of the conversation, up to the next place. */
  readonly talk: () => Iterable<string>
  readonly occasion: Occasion
}

interface Found<Occasion> {
  readonly playing: Omit<Playing, 'states' | 'route'>
  /** Where it plays, by which a route is found. */
  readonly occasions: Occasion[]
  states: number
  /** Values of the candidates, by slot. */
  readonly values: Map<number, Set<number>>
}

interface Gathered<Occasion> {
  readonly found: Map<string, Found<Occasion>>
  readonly offers: Set<string>
  movesOn: boolean
}

/** Who says what at which stage, put together from occasions on which somebody is approached. */
export abstract class Sheet<Occasion> {
  protected readonly columns: readonly Column[]
  protected readonly reached: boolean[]
  protected readonly whereabouts: Whereabouts
  private readonly cells = new Map<string, (Gathered<Occasion> | undefined)[]>()
  private readonly candidates = new Map<string, readonly Slot[]>()
  /** By choice and what it shows. */
  private readonly said = new Map<string, Pick<Playing, 'line' | 'beat'>>()
  private readonly setBy = new Map<string, { readonly quest: number; readonly stage: number }[]>()

  constructor(
    protected readonly story: LinkedStory,
    private readonly axis: Axis,
    protected readonly quests: readonly number[],
    protected readonly slots: Slots,
    private readonly log: EventLog,
  ) {
    const [first, second] = quests.map((quest) => story.quests[quest]!.stages)
    this.columns = (first ?? []).flatMap((stage) =>
      second === undefined ? [[stage]] : second.map((other) => [stage, other]),
    )
    this.reached = this.columns.map(() => false)
    this.whereabouts = new Whereabouts(story, quests[0], this.columns)
    for (const { owner, quest, stage } of questSites(story))
      this.setBy.set(owner, [...(this.setBy.get(owner) ?? []), { quest, stage }])
  }

  /** Undefined when `stop` said so before it was done. */
  abstract gather(stop: () => boolean): Slices<CallSheet | undefined>

  /** A shortest route to the nearest of some occasions. */
  protected abstract routeTo(occasions: readonly Occasion[]): RouteItem[]

  /** Keeps an occasion by which a route may be found. */
  protected abstract keep(occasions: Occasion[], one: Occasion): void

  protected note({ choice, column, shown, states, values, talk, occasion }: Approach<Occasion>): void {
    const person = choice.who!
    let row = this.cells.get(person)
    if (row === undefined)
      this.cells.set(person, (row = new Array<Gathered<Occasion> | undefined>(this.columns.length)))
    const cell = (row[column] ??= { found: new Map(), offers: new Set(), movesOn: false })
    const { line, beat } = this.saidBy(choice, shown)
    const name = `${choice.address} ${line ?? beat}`
    let found = cell.found.get(name)
    if (found === undefined) {
      found = { playing: { encounter: choice.address, line, beat }, occasions: [], states: 0, values: new Map() }
      cell.found.set(name, found)
    }
    this.keep(found.occasions, occasion)
    found.states += states
    for (const [at, { index }] of this.candidatesOf(choice).entries()) {
      let set = found.values.get(index)
      if (set === undefined) found.values.set(index, (set = new Set()))
      for (const value of values[at]!) set.add(value)
    }
    // what it offers: at once, or as the conversation goes on
    this.sets(choice.address, column, cell)
    for (const owner of talk()) this.sets(owner, column, cell)
  }

  /** What is said first of what is shown, and the beat that says it. */
  private saidBy(choice: LinkedChoice, shown: readonly number[]): Pick<Playing, 'line' | 'beat'> {
    const key = `${choice.index} ${shown.join(' ')}`
    const known = this.said.get(key)
    if (known !== undefined) return known
    const kinds = shown.map((event) => this.log.at(event))
    const line = kinds.find(({ kind }) => kind === 'line')?.key[0]
    // a beat that sends the player elsewhere is marked as well, but shows nothing
    const sentOn = new Set<string | undefined>(
      kinds.flatMap(({ kind, key: [address] }) => (kind === 'redirect' ? [ownerOf(address!)] : [])),
    )
    const beat =
      (line === undefined ? undefined : ownerOf(line)) ??
      kinds.find(({ kind, key: [address] }) => kind === 'beat' && !sentOn.has(address))?.key[0] ??
      this.story.beats[choice.beat]!.address
    const made = { line, beat }
    this.said.set(key, made)
    return made
  }

  /** Whether a choice sets a stage. */
  protected setsStage(choice: string): boolean {
    return this.setBy.has(choice)
  }

  private sets(owner: string, column: number, cell: Gathered<Occasion>): void {
    for (const { quest, stage } of this.setBy.get(owner) ?? []) {
      const { id, stages } = this.story.quests[quest]!
      const at = this.quests.indexOf(quest)
      const now = at === -1 ? undefined : this.columns[column]![at]
      if (stage > 0 && (now === undefined ? true : now === 'unstarted') && this.begins(quest, owner))
        cell.offers.add(id)
      if (now !== undefined && now !== 'unstarted' && stages[stage] !== now) cell.movesOn = true
    }
  }

  /** Whether an effect can be the first of its quest: it sets a stage that unstarted may go to. */
  private begins(quest: number, owner: string): boolean {
    const { stages, outcomes, moves } = this.story.quests[quest]!
    return (this.setBy.get(owner) ?? []).some(
      ({ quest: other, stage }) =>
        other === quest &&
        outcomes[stage] !== 'failure' &&
        (moves === undefined ? stage === 1 : moves.has(`unstarted>${stages[stage]!}`)),
    )
  }

  /** Slots that the choice's roads and the beats they lead to ask for, but for those of the columns. */
  protected candidatesOf(choice: LinkedChoice): readonly Slot[] {
    let list = this.candidates.get(choice.address)
    if (list !== undefined) return list
    const { story, slots } = this
    const exprs: Expr[] = []
    const ask = (when: { readonly expr: Expr | undefined } | undefined) => {
      if (when?.expr !== undefined) exprs.push(when.expr)
    }
    if (choice.to.kind === 'rules') for (const rule of choice.to.rules) ask(rule.when)
    for (const target of targetsOf(choice)) {
      const beat = story.beats[target]!
      for (const rule of [...beat.redirects, ...beat.onward]) ask(rule.when)
      for (const line of beat.lines) {
        if (line.kind === 'group') for (const variant of line.variants) ask(variant.when)
        else ask(line.when)
      }
    }
    const columns = new Set(this.quests.map((quest) => slots.ofQuest[quest]!))
    const found = new Set<number>()
    for (const expr of exprs) for (const slot of slotsRead(story, slots, expr)) if (!columns.has(slot)) found.add(slot)
    list = [...found].map((slot) => slots.all[slot]!)
    this.candidates.set(choice.address, list)
    return list
  }

  protected tell(): CallSheet {
    const { axis, columns } = this
    return {
      axis,
      columns,
      reached: this.reached,
      rows: Object.fromEntries(
        [...this.cells].map(([person, row]) => [person, columns.map((_, column) => this.cell(row[column]))]),
      ),
      ...this.whereabouts.tell(),
    }
  }

  private cell(gathered: Gathered<Occasion> | undefined): Cell | undefined {
    if (gathered === undefined) return undefined
    const found = [...gathered.found]
      .sort(([name, a], [other, b]) => b.states - a.states || (name < other ? -1 : 1))
      .slice(0, PLAYING_MAX)
      .map(([, one]) => one)
    return {
      plays: found.map(({ playing, occasions, states }) => ({ ...playing, states, route: this.routeTo(occasions) })),
      dependsOn: found.length < 2 ? [] : this.depends(found),
      offers: [...gathered.offers],
      movesOn: gathered.movesOn,
    }
  }

  /** What differs between what plays: what tells them all apart by itself, else all that differs. */
  private depends(found: readonly Found<Occasion>[]): DependsOn[] {
    const slots = [...new Set(found.flatMap(({ values }) => [...values.keys()]))]
    const differs = slots.filter(
      (slot) => new Set(found.map(({ values }) => [...(values.get(slot) ?? [])].sort().join(' '))).size > 1,
    )
    const apart = differs.filter((slot) => {
      const seen = new Set<number>()
      return found.every(({ values }) => {
        const own = [...(values.get(slot) ?? [])]
        const fresh = own.every((value) => !seen.has(value))
        for (const value of own) seen.add(value)
        return fresh
      })
    })
    return (apart.length > 0 ? apart.slice(0, 1) : differs).map((index) => {
      const slot = this.slots.all[index]!
      return {
        ...named(this.story, slot),
        values: found.map(({ values }) =>
          [...(values.get(index) ?? [])].sort((a, b) => a - b).map((value) => slotValue(this.story, slot, value)),
        ),
      }
    })
  }
}

/** What gates by which people are met at one of several `places` ask for: it is asked from the others too. */
export function encounterGateSlots(story: LinkedStory, slots: Slots, places = 2): number[] {
  const byPerson = new Map<string, Set<number>>()
  const gated = choicesOf(story).filter(({ who, beat }) => who !== undefined && story.beats[beat]!.place)
  for (const { who, beat } of gated) byPerson.set(who!, (byPerson.get(who!) ?? new Set()).add(beat))
  return gated
    .filter(({ who }) => byPerson.get(who!)!.size >= places)
    .flatMap(({ when }) => (when?.expr === undefined ? [] : slotsRead(story, slots, when.expr)))
}

function slotsRead(story: LinkedStory, slots: Slots, expr: Expr): number[] {
  const found: number[] = []
  walk(expr, (part) => {
    const slot =
      part.kind === 'entry'
        ? slots.ofEntry[story.entryOf.get(part.id)!]
        : part.kind === 'quest'
          ? slots.ofQuest[story.questOf.get(part.id)!]
          : part.kind === 'visits'
            ? slots.ofVisits[story.beatOf.get(part.beat)!]
            : part.kind === 'taken'
              ? slots.ofTaken[story.choiceOf.get(part.choice)!]
              : undefined
    if (slot !== undefined && slot !== -1) found.push(slot)
  })
  return found
}

function named(story: LinkedStory, slot: Slot): Pick<DependsOn, 'of' | 'id'> {
  switch (slot.kind) {
    case 'entry':
      return { of: 'entry', id: story.entries[slot.entry]!.id }
    case 'quest':
      return { of: 'quest', id: story.quests[slot.quest]!.id }
    case 'visits':
      return { of: 'visits', id: story.beats[slot.beat]!.address }
    case 'taken':
      return { of: 'taken', id: story.choices[slot.choice]!.address }
    case 'place':
    case 'turns':
    case 'spare':
      return { of: 'visits', id: '' }
  }
}
