import type { LinkedChoice, LinkedStory } from '../../../story/linked'
import type { RouteItem } from '../../../story/types'
import { questSites } from './quest-sites'
import { choicesOf } from '../../../story/linked-parts'

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

/** A state, or some, with how near the start they are as against others. */
export interface Seen {
  readonly nearness: number
  readonly route: () => RouteItem[]
}

/** Who can be approached where, gathered from the states of a call sheet's survey. */
export class Whereabouts {
  readonly encounters: readonly LinkedChoice[]
  /** By encounter: the columns in which it was open at its place in some state, and closed in some. */
  private readonly open = new Map<string, Set<number>>()
  private readonly closed = new Map<string, Set<number>>()
  private readonly two = new Map<string, Omit<TwoPlaces, 'route'> & { readonly seen: Seen }>()
  private readonly nowhere = new Map<string, Omit<Nowhere, 'route'> & { readonly seen: Seen }>()

  constructor(
    private readonly story: LinkedStory,
    /** The quest that may need somebody. */
    private readonly quest: number | undefined,
    private readonly columns: readonly (readonly string[])[],
  ) {
    this.encounters = choicesOf(story).filter(({ who }) => who !== undefined)
  }

  note(encounter: string, column: number, isOpen: boolean): void {
    const columns = isOpen ? this.open : this.closed
    const own = columns.get(encounter)
    if (own === undefined) columns.set(encounter, new Set([column]))
    else own.add(column)
  }

  /** Somebody can be approached at two places; the nearest state in which that is so is kept. */
  noteTwo(person: string, places: readonly [string, string], seen: Seen): void {
    const name = `${person} ${places.join(' ')}`
    if (places[0] === places[1] || !isNearer(seen, this.two.get(name)) || !this.goBothWays(...places)) return
    this.two.set(name, { person, places, seen })
  }

  noteNowhere(person: string, column: number, seen: Seen): void {
    const name = `${person} ${column}`
    if (isNearer(seen, this.nowhere.get(name))) this.nowhere.set(name, { person, column, seen })
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
  neededAt(column: number): readonly string[] {
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

  tell(): { readonly presences: Presence[]; readonly twoPlaces: TwoPlaces[]; readonly nowhere: Nowhere[] } {
    const { story, columns } = this
    const presences: Presence[] = []
    for (const choice of this.encounters) {
      const at = story.beats[choice.beat]!
      const open = this.open.get(choice.address)
      if (!at.place || open === undefined) continue
      const closed = this.closed.get(choice.address)
      const here = columns.map((_, column) => column).filter((column) => open.has(column))
      presences.push({
        place: at.address,
        encounter: choice.address,
        person: choice.who!,
        always: here.filter((column) => closed?.has(column) !== true),
        sometimes: here.filter((column) => closed?.has(column) === true),
      })
    }
    return {
      presences,
      twoPlaces: [...this.two.values()].map(({ seen, ...one }) => ({ ...one, route: seen.route() })),
      nowhere: [...this.nowhere.values()].map(({ seen, ...one }) => ({ ...one, route: seen.route() })),
    }
  }
}

function isNearer(seen: Seen, than: { readonly seen: Seen } | undefined): boolean {
  return than === undefined || seen.nearness < than.seen.nearness
}

/** The beats that a choice's roads name. */
export function targetsOf(choice: LinkedChoice): number[] {
  const roads = choice.to.kind === 'road' ? [choice.to.road] : choice.to.rules.map(({ to }) => to)
  return roads.flatMap((road) => (road.kind === 'beat' ? [road.beat] : []))
}
