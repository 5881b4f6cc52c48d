import type { LinkedBeat, LinkedChoice, LinkedStory } from '../../../story/linked'
import type { RouteItem } from '../../../story/types'
import type { ChoiceProgram } from '../../interpreter/programs'
import type { Search } from '../../explicit/search'
import type { Routes } from '../../explicit/routes'
import { questSites } from './quest-sites'

/** Somebody who can be approached at a place: in which columns always, and in which sometimes. */
export interface Presence {
  readonly place: string
  readonly encounter: string
  readonly person: string
  readonly always: readonly number[]
  readonly sometimes: readonly number[]
}

/** Somebody who could be approached at two places in one and the same state. */
export interface TwoPlaces {
  readonly person: string
  readonly places: readonly [string, string]
  readonly route: readonly RouteItem[]
}

/** Somebody whom a quest needs at a stage, and who can be approached nowhere in some state of it. */
export interface Nowhere {
  readonly person: string
  readonly column: number
  readonly route: readonly RouteItem[]
}

/** Who can be approached where, gathered state by state of a call sheet's survey. */
export class Whereabouts {
  /** By encounter and column: in how many states at its place it was open, and in how many closed. */
  private readonly open = new Map<string, Int32Array>()
  private readonly closed = new Map<string, Int32Array>()
  private readonly two = new Map<
    string,
    { readonly person: string; readonly places: readonly [string, string]; readonly state: number }
  >()
  private readonly absent = new Map<
    string,
    { readonly person: string; readonly column: number; readonly state: number }
  >()
  private readonly encounters: readonly LinkedChoice[]

  constructor(
    private readonly story: LinkedStory,
    /** The quest that may need somebody. */
    private readonly quest: number | undefined,
    private readonly columns: readonly (readonly string[])[],
    private readonly search: Search,
  ) {
    this.encounters = story.choices.filter(({ who }) => who !== undefined)
  }

  /** Who can be approached here, who at another place in the same state, and whom a quest needs that can be nowhere. */
  see(beat: LinkedBeat, state: number, column: number): void {
    const { search, story } = this
    const { machine } = search
    const openAt = new Map<string, string>()
    for (const choice of this.encounters) {
      const at = story.beats[choice.beat]!
      if (!at.place) continue
      const program = this.programOf(choice)
      const open = search.events.quietly(() => (program.when?.() ?? true) && (at !== beat || machine.isOpen(program)))
      if (at === beat) {
        const counts = open ? this.open : this.closed
        let row = counts.get(choice.address)
        if (row === undefined) counts.set(choice.address, (row = new Int32Array(this.columns.length)))
        row[column]! += 1
      }
      if (!open) continue
      const other = openAt.get(choice.who!)
      if (other === undefined) openAt.set(choice.who!, at.address)
      else if (other !== at.address && this.goBothWays(other, at.address)) {
        const places = [other, at.address] as const
        const name = `${choice.who!} ${places.join(' ')}`
        if (!this.two.has(name)) this.two.set(name, { person: choice.who!, places, state })
      }
    }
    for (const person of this.neededAt(column)) {
      const name = `${person} ${column}`
      if (!openAt.has(person) && !this.absent.has(name)) this.absent.set(name, { person, column, state })
    }
  }

  private readonly programs = new Map<number, ChoiceProgram>()

  private programOf(choice: LinkedChoice): ChoiceProgram {
    let program = this.programs.get(choice.index)
    if (program === undefined)
      this.programs.set(
        choice.index,
        (program = this.search.programs.of(choice.beat).choices.find(({ address }) => address === choice.address)!),
      )
    return program
  }

  private readonly leads = new Map<string, ReadonlySet<number>>()

  /** Whether roads lead from each of two places to the other: where one is left for good, nobody can be at both. */
  private goBothWays(one: string, other: string): boolean {
    const { beatOf } = this.story
    return this.roadsFrom(one).has(beatOf.get(other)!) && this.roadsFrom(other).has(beatOf.get(one)!)
  }

  private readonly following: (readonly number[] | undefined)[] = []

  /** The beats that roads of a beat name. */
  private after(beat: number): readonly number[] {
    const { redirects, onward, choices } = this.story.beats[beat]!
    return (this.following[beat] ??= [
      ...new Set([
        ...[...redirects, ...onward].flatMap(({ to }) => (to.kind === 'beat' ? [to.beat] : [])),
        ...choices.flatMap(targetsOf),
      ]),
    ])
  }

  private roadsFrom(place: string): ReadonlySet<number> {
    let found = this.leads.get(place) as Set<number> | undefined
    if (found !== undefined) return found
    found = new Set()
    const stack = [this.story.beatOf.get(place)!]
    for (let beat = stack.pop(); beat !== undefined; beat = stack.pop()) {
      if (found.has(beat)) continue
      found.add(beat)
      stack.push(...this.after(beat))
    }
    this.leads.set(place, found)
    return found
  }

  private readonly needed = new Map<number, readonly string[]>()

  /** People without whom the first quest can't go on from a stage under way: every effect that moves it stands in a beat of theirs. */
  private neededAt(column: number): readonly string[] {
    let people = this.needed.get(column)
    if (people !== undefined) return people
    const { quest } = this
    const stage = quest === undefined ? -1 : this.story.quests[quest]!.stages.indexOf(this.columns[column]![0]!)
    people = []
    if (quest !== undefined && stage > 0 && this.story.quests[quest]!.outcomes[stage] === undefined) {
      const { stages, moves } = this.story.quests[quest]!
      const onward = questSites(this.story).filter(
        (site) =>
          site.quest === quest &&
          site.stage !== stage &&
          (moves === undefined || moves.has(`${stages[stage]!}>${stages[site.stage]!}`)),
      )
      people = [...new Set(this.encounters.map(({ who }) => who!))].filter(
        (person) => onward.length > 0 && onward.every(({ beat }) => this.talkBeats(person).has(beat)),
      )
    }
    this.needed.set(column, people)
    return people
  }

  private readonly beatsOf = new Map<string, ReadonlySet<number>>()

  /** Beats of conversations with somebody: those that roads lead to from an encounter, up to the next place. */
  private talkBeats(person: string): ReadonlySet<number> {
    let beats = this.beatsOf.get(person) as Set<number> | undefined
    if (beats !== undefined) return beats
    beats = new Set()
    const { story } = this
    const stack = this.encounters.filter(({ who }) => who === person).flatMap(targetsOf)
    for (let beat = stack.pop(); beat !== undefined; beat = stack.pop()) {
      if (beats.has(beat) || story.beats[beat]!.place) continue
      beats.add(beat)
      stack.push(...this.after(beat))
    }
    this.beatsOf.set(person, beats)
    return beats
  }

  tell(routes: Routes): {
    readonly presences: Presence[]
    readonly twoPlaces: TwoPlaces[]
    readonly nowhere: Nowhere[]
  } {
    const { story, columns } = this
    const presences: Presence[] = []
    for (const choice of this.encounters) {
      const at = story.beats[choice.beat]!
      const open = this.open.get(choice.address)
      if (!at.place || open === undefined) continue
      const closed = this.closed.get(choice.address)
      const here = columns.map((_, column) => column).filter((column) => open[column]! > 0)
      presences.push({
        place: at.address,
        encounter: choice.address,
        person: choice.who!,
        always: here.filter((column) => (closed?.[column] ?? 0) === 0),
        sometimes: here.filter((column) => (closed?.[column] ?? 0) > 0),
      })
    }
    return {
      presences,
      twoPlaces: [...this.two.values()].map(({ person, places, state }) => ({
        person,
        places,
        route: routes.toState(state),
      })),
      nowhere: [...this.absent.values()].map(({ person, column, state }) => ({
        person,
        column,
        route: routes.toState(state),
      })),
    }
  }
}

/** The beats that a choice's roads name. */
export function targetsOf(choice: LinkedChoice): number[] {
  const roads = choice.to.kind === 'road' ? [choice.to.road] : choice.to.rules.map(({ to }) => to)
  return roads.flatMap((road) => (road.kind === 'beat' ? [road.beat] : []))
}
