import { COLUMN, type Picture } from '../../core/atlas/picture'

/** How the chart is looked at: chart units times `k` plus `x` or `y` are pixels of the view. */
export interface Look {
  readonly x: number
  readonly y: number
  readonly k: number
}

export const COLOURS = [
  'ground',
  'sheet',
  'wash',
  'ink',
  'faded',
  'hairline',
  'edge',
  'needle',
  'kept',
  'ochre',
] as const
export type Palette = Readonly<Record<(typeof COLOURS)[number], string>>

/** What an overlay says of a beat, each by a shape of its own. */
export interface Sign {
  readonly shape: 'ring' | 'square' | 'both' | 'late' | 'full' | 'half' | 'struck' | 'amount' | 'wedge'
  /** Of an amount: 0 to 1. */
  readonly size?: number
  readonly words?: string
}

export interface Legend {
  readonly shape: Sign['shape'] | 'line'
  readonly words: string
}

export interface Overlay {
  /** What one sees, in a sentence. */
  readonly says: string
  readonly legend: readonly Legend[]
  readonly beat: (beat: number) => Sign | undefined
  /** Breadth of a road, in pixels, and its number. */
  readonly road?: (road: number) => { readonly width: number; readonly words?: string } | undefined
}

/** What is written on the chart. */
export interface Words {
  scene(band: number): string
  title(beat: number): string
  first(beat: number): string
  road(road: number): string
  /** Where a road that returns leads. */
  home(road: number): string
  group(group: number): string
  isEnding(beat: number): boolean
  isPlace(beat: number): boolean
}

/** By distance: what a whole story holds there. */
export interface Profile {
  readonly beats: Float64Array
  readonly words: Float64Array
  /** Endings that can still be come to; undefined where it is not known. */
  readonly endings: Float64Array | undefined
  /** Share of simulated players who get so far, 0 to 1. */
  readonly share: Float64Array | undefined
}

/** All that is drawn. */
export interface Sheet {
  readonly picture: Picture
  readonly look: Look
  readonly width: number
  readonly height: number
  readonly palette: Palette
  readonly words: Words
  readonly verdict: (beat: number) => 'reached' | 'unreached' | 'undecided'
  readonly overlay: Overlay | undefined
  readonly profile: Profile | undefined
  readonly picked: number | undefined
  readonly pickedRoad: number | undefined
  /** Roads of the shortest route to the picked beat, of the rehearsal, of a kept route. */
  readonly route: ReadonlySet<number>
  readonly routeBeats: ReadonlySet<number>
  /** Beats that a search found; undefined: nothing is searched for. */
  readonly found: ReadonlySet<number> | undefined
  /** Drawn in full, with a ground of its own: for a file. */
  readonly isFile: boolean
}

/** The end of a road outside of the view, named at its edge. */
export interface EdgeTag {
  readonly beat: number
  readonly x: number
  readonly y: number
  readonly width: number
}

/** Height of the strip with the profile of the story, along the top. */
export const STRIP = 66

const STEPS = [1, 2, 5, 10, 25, 50, 100, 250, 500, 1_000, 2_500, 5_000, 10_000]

/** How many decisions are from rule to rule, so that their words have room. */
export function ruleStep(k: number): number {
  return STEPS.find((step) => step * COLUMN * k >= 72) ?? STEPS.at(-1)!
}
