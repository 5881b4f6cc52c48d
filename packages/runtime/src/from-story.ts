import { writeBundle } from '../../../src/core/formats/bundle/write'
import { linkStory } from '../../../src/core/story/link'
import { checkStory, formatMalformed, readStory } from '../../../src/core/story/read'
import { RuntimeError } from './error'

/** What a story can't do as it is written: the part says or does nothing. */
export interface StoryProblem {
  readonly address: string
  readonly part: string
  readonly message: string
}

/**
 * Makes a bundle of a story file, as text or parsed already, for `loadBundle`. A story with problems plays by the contract.
 * @throws RuntimeError where it is malformed
 */
export function bundleStory(source: string | object): {
  readonly bundle: object
  readonly problems: readonly StoryProblem[]
} {
  const read = typeof source === 'string' ? readStory(source) : checkStory(source)
  if (!read.ok) {
    const [first] = read.error
    throw new RuntimeError(
      'story',
      `this story can not be read:\n${formatMalformed(read.error)}`,
      first?.where,
      first?.message,
    )
  }
  const linked = linkStory(read.value)
  return {
    bundle: writeBundle(linked),
    problems: linked.problems.map(({ address, part, message }) => ({ address, part, message })),
  }
}
