import type { SceneList, StoryList } from './lists'
import type {
  Beat,
  Cue,
  Ending,
  Entry,
  Person,
  Quest,
  Recording,
  Route,
  Scene,
  SetAside,
  Story,
  StoryPromise,
  Term,
  Translation,
} from '../types'

/** A list of the story, or of one of its scenes. */
export type ListPath = { readonly list: StoryList } | { readonly list: SceneList; readonly scene: string }

export type Item =
  Person | Cue | Entry | Quest | Ending | StoryPromise | Route | SetAside | Term | Recording | Scene | Beat

export type Translations = Readonly<Record<string, Translation | null>>
export type Values = Readonly<Record<string, string | number | null>>

/** One editing operation; `batch` makes several into one step of undo. */
export type Change =
  | { readonly op: 'insert'; readonly in: ListPath; readonly at: number; readonly item: Item }
  /** `drops`: a list that is empty then goes too, since it was not there before the item was. */
  | {
      readonly op: 'remove'
      readonly in: ListPath
      readonly id: string
      readonly at: number
      readonly drops?: true | undefined
    }
  /** `was`: the item that was changed, so that what others made of it meanwhile is put together with this. */
  | {
      readonly op: 'replace'
      readonly in: ListPath
      readonly id: string
      readonly at: number
      readonly item: Item
      readonly was?: Item | undefined
    }
  | { readonly op: 'move'; readonly in: ListPath; readonly id: string; readonly at: number; readonly to: number }
  /** null takes a key away; `was`: what the keys held. */
  | { readonly op: 'set-story'; readonly values: Values; readonly was?: Values | undefined }
  | { readonly op: 'set-scene'; readonly scene: string; readonly values: Values; readonly was?: Values | undefined }
  /** What the author chooses for the page that plays the story. */
  | { readonly op: 'set-page'; readonly values: Values; readonly was?: Values | undefined }
  /** Translations by their keys; null takes one away. */
  | {
      readonly op: 'set-texts'
      readonly language: string
      readonly values: Translations
      readonly was?: Translations | undefined
    }
  | { readonly op: 'batch'; readonly changes: readonly Change[] }

export interface Applied {
  readonly story: Story
  /** What was done: the change, put together with what had changed before it, and without `was`. */
  readonly change: Change
  /** Applied to `story`, it gives the story from before. */
  readonly inverse: Change
}
