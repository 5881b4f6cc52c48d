import { declareStory, type DeclaredStory } from '../core/story/declare'
import { sameNames } from '../core/story/same-names'
import type { Story } from '../core/story/types'

/** What a story names, and how those things are called on the page. */
export interface Naming {
  /** The story as it was when the last of its names was changed. */
  readonly story: Story
  readonly declared: DeclaredStory
}

/** The naming of a story; the same object as before where an edit changed no name. A choice is called by its text. */
export function namingOf(story: Story, before: Naming | undefined): Naming {
  if (before !== undefined && sameNames(before.story, story, (was, is) => was.id === is.id && was.text === is.text))
    return before
  return { story, declared: declareStory(story) }
}
