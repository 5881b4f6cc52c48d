import type { SceneList, StoryList } from './lists'
import type { Beat, Ending, Entry, Person, Quest, Route, Scene, SetAside, Story, StoryPromise } from '../types'

/** A list of the story, or of one of its scenes. */
export type ListPath = { readonly list: StoryList } | { readonly list: SceneList; readonly scene: string }

export type Item = Person | Entry | Quest | Ending | StoryPromise | Route | SetAside | Scene | Beat

/** One editing operation; `batch` makes several into one step of undo. */
export type Change =
  | { readonly op: 'insert'; readonly in: ListPath; readonly at: number; readonly item: Item }
  | { readonly op: 'remove'; readonly in: ListPath; readonly id: string; readonly at: number }
  | { readonly op: 'replace'; readonly in: ListPath; readonly id: string; readonly at: number; readonly item: Item }
  | { readonly op: 'move'; readonly in: ListPath; readonly id: string; readonly at: number; readonly to: number }
  /** null takes a key away. */
  | { readonly op: 'set-story'; readonly values: Readonly<Record<string, string | null>> }
  | { readonly op: 'set-scene'; readonly scene: string; readonly values: Readonly<Record<string, string | null>> }
  | { readonly op: 'batch'; readonly changes: readonly Change[] }

export interface Applied {
  readonly story: Story
  /** Applied to `story`, it gives the story from before. */
  readonly inverse: Change
}
