import { parseAddress } from '../base/address'
import { plainId } from '../base/ids'
import type { Beat, Choice, Story } from './types'

/** The beat that an address names, or in which what it names stands. */
export function beatAt(story: Story, address: string): Beat | undefined {
  const place = parseAddress(address)
  return story.scenes.find(({ id }) => id === place?.scene)?.beats.find(({ id }) => id === place?.beat)
}

/** What a beat is called: by its title, or its id where it has none. */
export function beatName(story: Story, address: string): string {
  return beatAt(story, address)?.title ?? plainId(parseAddress(address)?.beat ?? address)
}

/** The choice that an address names, or of which it names a road. */
export function choiceAt(story: Story, address: string): Choice | undefined {
  const id = parseAddress(address)?.choice
  return id === undefined ? undefined : beatAt(story, address)?.choices?.find((choice) => choice.id === id)
}
