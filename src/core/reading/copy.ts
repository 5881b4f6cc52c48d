import type { Manner } from '../story/types'

/** What stands in a reading copy, in its order. Texts are as they are written in the manuscript, or as they were played. */
export type Block =
  | { readonly of: 'scene'; readonly title: string; readonly notes?: string }
  | { readonly of: 'beat'; readonly title: string; readonly address: string; readonly notes?: string }
  /** A remark of the manuscript's: what is asked, changed, or comes next. */
  | { readonly of: 'remark'; readonly text: string; readonly to?: Destination; readonly depth: number }
  | {
      readonly of: 'line'
      readonly key?: string
      readonly who?: string
      readonly manner: Manner
      readonly text: string
      readonly depth: number
      readonly remarks: readonly string[]
    }
  | {
      readonly of: 'choice'
      readonly key: string
      readonly who?: string
      readonly text: string
      readonly remarks: readonly string[]
      readonly to?: Destination
    }
  | { readonly of: 'prompt'; readonly key: string; readonly text: string; readonly suggest: readonly string[] }
  /** What the player did, in a route that is played. */
  | { readonly of: 'took'; readonly text: string }
  | { readonly of: 'ending'; readonly name: string }

export interface Destination {
  readonly title: string
  readonly address: string
}

/** A story, a scene of it or a route through it, to be read on paper. */
export interface ReadingCopy {
  readonly title: string
  /** What of the story it is, where it is not the whole. */
  readonly part?: string
  readonly author?: string
  readonly language: string
  readonly made: Date
  readonly blocks: readonly Block[]
}
