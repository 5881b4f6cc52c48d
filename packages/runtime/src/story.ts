import { parseJson } from '../../../src/core/base/parse-json'
import { readBundle } from '../../../src/core/formats/bundle/read'
import type { LinkedStory } from '../../../src/core/story/linked'
import { RuntimeError } from './error'
import type { Playable } from './playable'
import { Playthrough } from './playthrough'
import type { BeginOptions } from './types'

/**
 * Takes up a bundle, as text or parsed already.
 * @throws RuntimeError where it is no bundle that this runtime reads: cut off, edited by hand, or of another format
 */
export function loadBundle(source: string | object): PlayableStory {
  if (typeof source !== 'string') return new PlayableStory(source)
  const parsed = parseJson(source)
  if (!parsed.ok) throw new RuntimeError('bundle', `this bundle is not JSON, it may have been cut off: ${parsed.error}`)
  return new PlayableStory(parsed.value)
}

/** A story that can be played, any number of times at once. */
export class PlayableStory implements Playable {
  readonly title: string
  /** Its own first. */
  readonly languages: readonly string[]
  private readonly read = new Map<string, LinkedStory>()
  private readonly json: unknown

  constructor(bundle: unknown) {
    this.json = bundle
    const { story, languages } = this.reading(undefined)
    this.title = story.doc.title
    this.languages = languages
    this.read.set(languages[0]!, story)
  }

  /** Begins a playthrough, up to where the story first rests. */
  begin(options: BeginOptions = {}): Playthrough {
    return new Playthrough(this, options)
  }

  /** Whether there is anything in it that can be carried. */
  get hasItems(): boolean {
    return this.linked().entries.some(({ kind }) => kind === 'item')
  }

  /** @internal The story as one of its languages shows it. */
  linked(language: string = this.languages[0]!): LinkedStory {
    if (!this.languages.includes(language))
      throw new RuntimeError(
        'language',
        `the story has no language "${language}"; it has ${this.languages.join(', ')}`,
        language,
        this.languages.join(', '),
      )
    const known = this.read.get(language)
    if (known !== undefined) return known
    const { story } = this.reading(language)
    this.read.set(language, story)
    return story
  }

  private reading(language: string | undefined) {
    const found = readBundle(this.json, language)
    if (found.ok) return found.value
    const { message, where, expected } = found.error
    throw new RuntimeError('bundle', `this bundle can not be read: ${message}`, where, expected)
  }
}
