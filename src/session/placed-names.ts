import { splice, type Spliced } from '../core/base/spliced'

/** So many changes of a list are looked through before its places are written down anew. */
const CHANGES_MOST = 16

/** A change of a list: where items are others, and how much further those stand that follow. */
interface Shift {
  readonly first: number
  /** Where, in the list before, the items begin that stay behind what came. */
  readonly rest: number
  readonly by: number
  /** The places of those that came. */
  readonly came: ReadonlyMap<string, number>
}

/** A list whose places are written down once they are asked for. */
interface Base {
  readonly list: readonly string[]
  places?: ReadonlyMap<string, number>
}

/**
 * A list of names, none twice, with the place of each. Where a few names of a long list change, the places before that
 * hold, moved by what has come since: to write all down anew takes as long as the list is.
 */
export class PlacedNames {
  private constructor(
    readonly list: readonly string[],
    private readonly base: Base,
    private readonly shifts: readonly Shift[],
  ) {}

  static of(list: readonly string[]): PlacedNames {
    return new PlacedNames(list, { list }, [])
  }

  /** The list after a change; the same where nothing has changed. */
  after(change: Spliced<string>): PlacedNames {
    const list = splice(this.list, change)
    if (list === this.list) return this
    const isAnew = change.between.length > list.length / 2 || this.shifts.length === CHANGES_MOST
    if (isAnew) return PlacedNames.of(list)
    return new PlacedNames(list, this.base, [...this.shifts, shiftOf(this.list, change)])
  }

  /** The place of a name, -1 where there is none. */
  indexOf(name: string): number {
    const { base } = this
    base.places ??= new Map(base.list.map((one, at) => [one, at]))
    let place = base.places.get(name) ?? -1
    for (const { first, rest, by, came } of this.shifts) {
      const anew = came.get(name)
      if (anew !== undefined) place = anew
      else if (place >= rest) place += by
      else if (place >= first) place = -1
    }
    return place
  }
}

function shiftOf(list: readonly string[], { first, between, last }: Spliced<string>): Shift {
  const rest = list.length - last
  return {
    first,
    rest,
    by: first + between.length - rest,
    came: new Map(between.map((name, at) => [name, first + at])),
  }
}
