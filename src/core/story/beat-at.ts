import { parseAddress } from '../base/address'
import type { Beat, Choice, Story } from './types'

/** The beat that an address names, or in which what it names stands. */
export function beatAt(story: Story, address: string): Beat | undefined {
  const place = parseAddress(address)
  return story.scenes.find(({ id }) => id === place?.scene)?.beats.find(({ id }) => id === place?.beat)
}

/** The choice that an address names, or of which it names a road. */
export function choiceAt(story: Story, address: string): Choice | undefined {
  const id = parseAddress(address)?.choice
  return id === undefined ? undefined : beatAt(story, address)?.choices?.find((choice) => choice.id === id)
}
