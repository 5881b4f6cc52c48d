import type { LinkedStory } from '../../story/linked'
import { finding, type Found } from './finding'

/** A part that can't be understood: one finding for each address and part. */
export function problems(story: LinkedStory): Found[] {
  const seen = new Set<string>()
  return story.problems.flatMap(({ address, part, message }) => {
    const key = `${address}\n${part}`
    if (seen.has(key)) return []
    seen.add(key)
    return [finding('problem', [address, part], message)]
  })
}
