import { linkStory } from '../core/story/link'
import type { LinkedStory } from '../core/story/linked'
import type { Story } from '../core/story/types'

/** What is asked of the store for a story as it is now. */
export interface StoryKeeper {
  ask(call: 'revisionOf', id: string): Promise<number | undefined>
  ask(call: 'textAt', id: string, revision: number): Promise<string | undefined>
}

/** A story as it is kept now, and which revision that is. */
export interface KeptStory {
  readonly id: string
  readonly revision: number
  readonly linked: LinkedStory
}

export async function keptStory(store: StoryKeeper, id: string): Promise<KeptStory | undefined> {
  const revision = await store.ask('revisionOf', id)
  const text = revision === undefined ? undefined : await store.ask('textAt', id, revision)
  if (revision === undefined || text === undefined) return undefined
  // it was checked when it came in
  return { id, revision, linked: linkStory(JSON.parse(text) as Story) }
}
