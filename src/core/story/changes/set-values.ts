import { fail, ok, type Result } from '../../base/result'
import { gone } from './list'
import { clashed } from './replace'
import type { Applied, Change, Values } from './types'
import type { Story } from '../types'

export function applySetStory(story: Story, { values, was }: Change & { op: 'set-story' }): Result<Applied> {
  const set = withValues(story, values, was, 'the story')
  if (!set.ok) return set
  const { next, before } = set.value
  return ok({
    story: next,
    change: { op: 'set-story', values },
    inverse: { op: 'set-story', values: before },
  })
}

export function applySetScene(story: Story, { scene: id, values, was }: Change & { op: 'set-scene' }): Result<Applied> {
  const at = story.scenes.findIndex((scene) => scene.id === id)
  if (at === -1) return fail(gone('scene', id))
  const set = withValues(story.scenes[at]!, values, was, `the scene "${id}"`)
  if (!set.ok) return set
  const { next, before } = set.value
  const scenes = story.scenes.map((scene, index) => (index === at ? next : scene))
  return ok({
    story: { ...story, scenes },
    change: { op: 'set-scene', scene: id, values },
    inverse: { op: 'set-scene', scene: next.id, values: before },
  })
}

export function applySetPage(story: Story, { values, was }: Change & { op: 'set-page' }): Result<Applied> {
  const set = withValues(story.page ?? {}, values, was, 'the page')
  if (!set.ok) return set
  const { next, before } = set.value
  const changed = { ...story, page: next }
  // a story that says nothing of its page has none
  if (Object.keys(next).length === 0) delete (changed as Story).page
  return ok({
    story: changed,
    change: { op: 'set-page', values },
    inverse: { op: 'set-page', values: before },
  })
}

function withValues<T extends object>(
  object: T,
  values: Values,
  was: Values | undefined,
  what: string,
): Result<{ next: T; before: Values }> {
  const next = { ...object } as Record<string, unknown>
  const before: Record<string, string | number | null> = {}
  for (const [key, value] of Object.entries(values)) {
    const held = valueOf(next[key])
    if (was !== undefined && Object.hasOwn(was, key) && held !== was[key] && held !== value)
      return fail(clashed(what, { where: key, mine: value, theirs: held }))
    before[key] = held
    if (value === null) delete next[key]
    else next[key] = value
  }
  return ok({ next: next as T, before })
}

/** What a key that is set by itself holds; null for none. */
export function valueOf(held: unknown): string | number | null {
  return typeof held === 'string' || typeof held === 'number' ? held : null
}
