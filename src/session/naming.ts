import { declareStory, type DeclaredStory } from '../core/story/declare'
import { sameNames } from '../core/story/same-names'
import type { Beat, Choice, Story } from '../core/story/types'

/** What a story names, and how those things are called on the page. */
export interface Naming {
  /** The story as it was when the last of its names was changed. */
  readonly story: Story
  readonly declared: DeclaredStory
}

/** The naming of a story; the same object as before where an edit changed no name. A choice is called by its text. */
export function namingOf(story: Story, before: Naming | undefined): Naming {
  const sameChoice = (was: Choice, is: Choice) => was.id === is.id && was.text === is.text
  const sameBeat = (was: Beat, is: Beat) => was.id === is.id && was.title === is.title
  if (before !== undefined && sameNames(before.story, story, sameChoice, sameBeat)) return before
  return { story, declared: declareStory(story) }
}
