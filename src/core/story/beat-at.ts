import type { Beat, Choice, Story } from './types'

/** The beat that an address names or begins with, and what stands behind it: `.choice`, `#line2.variant1`, …. */
export function splitAddress(
  address: string,
): { readonly scene: string; readonly beat: string; readonly rest: string } | undefined {
  const match = /^([a-z]\w*)\.([a-z]\w*)(.*)$/.exec(address)
  return match === null ? undefined : { scene: match[1]!, beat: match[2]!, rest: match[3]! }
}

/** The beat that an address names, or in which what it names stands. */
export function beatAt(story: Story, address: string): Beat | undefined {
  const place = splitAddress(address)
  return story.scenes.find(({ id }) => id === place?.scene)?.beats.find(({ id }) => id === place?.beat)
}

/** The choice that an address names, or of which it names a road. */
export function choiceAt(story: Story, address: string): Choice | undefined {
  const id = splitAddress(address)?.rest.split('#')[0]
  return beatAt(story, address)?.choices?.find((choice) => `.${choice.id}` === id)
}
