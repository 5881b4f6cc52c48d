import { searchKeeping } from '../search-keeping'
import { turnsTold } from '../../summaries/turn-plan'
import type { Slices } from '../../../base/slices'
import { ownerOf } from '../../../base/address'
import { walk, type Expr } from '../../../expression/ast'
import type { LinkedChoice, LinkedStory } from '../../../story/linked'
import type { RouteItem } from '../../../story/types'
import type { Search } from '../../explicit/search'
import { NO_STATE } from '../../states/state-set'
import { Routes } from '../../explicit/routes'
import { slotValue } from '../../states/slot-value'
import { allotSlots, type Slot } from '../../analysis/slots'
import { questSites } from './quest-sites'
import { targetsOf, Whereabouts, type Nowhere, type Presence, type TwoPlaces } from './whereabouts'

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

/** States that are looked at between two looks at the time. */
const STRIDE = 512
/** How many decisions a conversation is followed for what it offers. */
const TALK_DEPTH = 6
/** Things that play in one cell and are told apart. */
const PLAYING_MAX = 12

interface Found {
  readonly playing: Omit<Playing, 'states' | 'route'>
  readonly witness: { readonly state: number; readonly pick: number }
  states: number
  /** Values of the candidates, by slot. */
  readonly values: Map<number, Set<number>>
}

interface Gathered {
  readonly found: Map<string, Found>
  readonly offers: Set<string>
  movesOn: boolean
}

/**
 * Who says what at which stage, by a survey of its own in which the quests of the axis are kept
 * everywhere; every choice that approaches somebody is then taken again in every state that
 * offers it. Undefined when `stop` said so before it was done.
 */
export function* callSheet(story: LinkedStory, axis: Axis, stop: () => boolean): Slices<CallSheet | undefined> {
  const quests = [axis.quest, axis.and].flatMap((id) => (id === undefined ? [] : (story.questOf.get(id) ?? [])))
  const slots = allotSlots(story)
  // what the columns are told by, and what gates of other places ask for
  const keep = [...new Set([...quests.map((quest) => slots.ofQuest[quest]!), ...encounterGateSlots(story, slots)])]
  const search = searchKeeping(story, keep, turnsTold(story))
  while (!search.done) {
    search.advance(STRIDE)
    if (stop()) return undefined
    yield
  }
  return yield* new Sheet(story, axis, quests, search).gather(stop)
}

class Sheet {
  private readonly columns: readonly Column[]
  private readonly reached: boolean[]
  private readonly routes: Routes
  private readonly cells = new Map<string, (Gathered | undefined)[]>()
  private readonly candidates = new Map<string, readonly Slot[]>()
  private readonly talks = new Map<number, readonly string[]>()
  private readonly setBy = new Map<string, { readonly quest: number; readonly stage: number }[]>()
  private readonly whereabouts: Whereabouts

  constructor(
    private readonly story: LinkedStory,
    private readonly axis: Axis,
    private readonly quests: readonly number[],
    private readonly search: Search,
  ) {
    const [first, second] = quests.map((quest) => story.quests[quest]!.stages)
    this.columns = (first ?? []).flatMap((stage) =>
      second === undefined ? [[stage]] : second.map((other) => [stage, other]),
    )
    this.reached = this.columns.map(() => false)
    this.whereabouts = new Whereabouts(story, quests[0], this.columns, search)
    this.routes = new Routes(search)
    for (const { owner, quest, stage } of questSites(story))
      this.setBy.set(owner, [...(this.setBy.get(owner) ?? []), { quest, stage }])
  }

  *gather(stop: () => boolean): Slices<CallSheet | undefined> {
    for (let from = 0; from < this.search.expanded; from += STRIDE) {
      if (stop()) return undefined
      this.gatherFrom(from, Math.min(from + STRIDE, this.search.expanded))
      yield
    }
    return this.tell()
  }

  private gatherFrom(from: number, to: number): void {
    const { search, story } = this
    search.events.recording((shows) => {
      for (let state = from; state < to; state += 1) {
        const beat = story.beats[search.beatOf(state)]!
        search.load(state)
        const column = this.columnNow()
        this.reached[column] = true
        if (!beat.place && !beat.choices.some(({ who }) => who !== undefined)) continue
        const decisions = search.decisionsIn(state)
        search.load(state)
        if (beat.place) this.whereabouts.see(beat, state, column)
        decisions.forEach((decision, pick) => {
          if (!('choice' in decision)) return
          const choice = story.choices[story.choiceOf.get(decision.choice)!]!
          if (choice.who === undefined) return
          search.load(state)
          const values = this.candidatesOf(choice).map(({ index }) => search.values[index]!)
          const shown = shows(() => search.replayPick(state, pick))
          this.note(choice, column, state, pick, shown, values)
        })
      }
    })
  }

  private columnNow(): number {
    const { search, story, quests } = this
    return quests.reduce(
      (column, quest) => column * story.quests[quest]!.stages.length + search.values[search.slots.ofQuest[quest]!]!,
      0,
    )
  }

  private note(
    choice: LinkedChoice,
    column: number,
    state: number,
    pick: number,
    shown: readonly number[],
    values: readonly number[],
  ): void {
    const { search, story } = this
    const { events } = search
    const person = choice.who!
    let row = this.cells.get(person)
    if (row === undefined) this.cells.set(person, (row = new Array<Gathered | undefined>(this.columns.length)))
    const cell = (row[column] ??= { found: new Map(), offers: new Set(), movesOn: false })
    const kinds = shown.map((event) => events.at(event))
    const line = kinds.find(({ kind }) => kind === 'line')?.key[0]
    // a beat that sends the player elsewhere is marked as well, but shows nothing
    const sentOn = new Set<string | undefined>(
      kinds.flatMap(({ kind, key }) => (kind === 'redirect' ? [ownerOf(key[0]!)] : [])),
    )
    const beat =
      (line === undefined ? undefined : ownerOf(line)) ??
      kinds.find(({ kind, key }) => kind === 'beat' && !sentOn.has(key[0]))?.key[0] ??
      story.beats[choice.beat]!.address
    const name = `${choice.address} ${line ?? beat}`
    let found = cell.found.get(name)
    if (found === undefined) {
      if (cell.found.size >= PLAYING_MAX) return
      found = {
        playing: { encounter: choice.address, line, beat },
        witness: { state, pick },
        states: 0,
        values: new Map(),
      }
      cell.found.set(name, found)
    }
    found.states += 1
    this.candidatesOf(choice).forEach(({ index }, at) => {
      const set = found.values.get(index)
      if (set === undefined) found.values.set(index, new Set([values[at]!]))
      else set.add(values[at]!)
    })
    // what it offers: at once, or as the conversation goes on
    this.sets(choice.address, column, cell)
    const next = search.successor(search.firstEdge(state) + pick)
    if (next === NO_STATE || search.beatOf(next) === choice.beat) return
    for (const owner of this.talkFrom(next, choice.beat)) this.sets(owner, column, cell)
  }

  private sets(owner: string, column: number, cell: Gathered): void {
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

  /** The owners with stage effects among the choices of a conversation, up to the next place. */
  private talkFrom(first: number, place: number): readonly string[] {
    const known = this.talks.get(first)
    if (known !== undefined) return known
    const { search, story } = this
    const starts = new Set<string>()
    const seen = new Set([first])
    let edge = [first]
    for (let depth = 0; depth < TALK_DEPTH && edge.length > 0; depth += 1) {
      const further: number[] = []
      for (const state of edge) {
        const beat = search.beatOf(state)
        if (state >= search.expanded || story.beats[beat]!.place || beat === place) continue
        const start = search.firstEdge(state)
        search.decisionsIn(state).forEach((decision, pick) => {
          if ('choice' in decision && this.setBy.has(decision.choice)) starts.add(decision.choice)
          const next = search.successor(start + pick)
          if (next === NO_STATE || seen.has(next)) return
          seen.add(next)
          further.push(next)
        })
      }
      edge = further
    }
    const talk = [...starts]
    this.talks.set(first, talk)
    return talk
  }

  /** Slots that the choice's roads and the beats they lead to ask for, but for those of the columns. */
  private candidatesOf(choice: LinkedChoice): readonly Slot[] {
    let list = this.candidates.get(choice.address)
    if (list !== undefined) return list
    const { story, search } = this
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
    const columns = new Set(this.quests.map((quest) => search.slots.ofQuest[quest]!))
    const found = new Set<number>()
    for (const expr of exprs)
      for (const slot of slotsRead(story, search.slots, expr)) if (!columns.has(slot)) found.add(slot)
    list = [...found].map((slot) => search.slots.all[slot]!)
    this.candidates.set(choice.address, list)
    return list
  }

  private tell(): CallSheet {
    const { axis, columns, routes } = this
    return {
      axis,
      columns,
      reached: this.reached,
      rows: Object.fromEntries(
        [...this.cells].map(([person, row]) => [person, columns.map((_, column) => this.cell(row[column]))]),
      ),
      ...this.whereabouts.tell(routes),
    }
  }

  private cell(gathered: Gathered | undefined): Cell | undefined {
    if (gathered === undefined) return undefined
    const found = [...gathered.found.values()].sort((a, b) => b.states - a.states)
    return {
      plays: found.map(({ playing, witness, states }) => ({ ...playing, states, route: this.routes.of(witness) })),
      dependsOn: found.length < 2 ? [] : this.depends(found),
      offers: [...gathered.offers],
      movesOn: gathered.movesOn,
    }
  }

  /** What differs between what plays: what tells them all apart by itself, else all that differs. */
  private depends(found: readonly Found[]): DependsOn[] {
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
      const slot = this.search.slots.all[index]!
      return {
        ...named(this.story, slot),
        values: found.map(({ values }) =>
          [...(values.get(index) ?? [])].sort((a, b) => a - b).map((value) => slotValue(this.story, slot, value)),
        ),
      }
    })
  }
}

function encounterGateSlots(story: LinkedStory, slots: ReturnType<typeof allotSlots>): number[] {
  const byPerson = new Map<string, Set<number>>()
  const gated = story.choices.filter(({ who, beat }) => who !== undefined && story.beats[beat]!.place)
  for (const { who, beat } of gated) byPerson.set(who!, (byPerson.get(who!) ?? new Set()).add(beat))
  // only those who are met at several places are asked about from elsewhere
  return gated
    .filter(({ who }) => byPerson.get(who!)!.size > 1)
    .flatMap(({ when }) => (when?.expr === undefined ? [] : slotsRead(story, slots, when.expr)))
}

function slotsRead(story: LinkedStory, slots: ReturnType<typeof allotSlots>, expr: Expr): number[] {
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
      return { of: 'visits', id: '' }
  }
}
