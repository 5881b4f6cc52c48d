import { fail, ok, type Result } from '../../base/result'
import { gone } from './list'
import type { Applied, Change } from './types'
import type { Story } from '../types'

type Values = Readonly<Record<string, string | null>>

export function applySetStory(story: Story, { values }: Change & { op: 'set-story' }): Result<Applied> {
  const { next, before } = withValues(story, values)
  return ok({ story: next, inverse: { op: 'set-story', values: before } })
}

export function applySetScene(story: Story, { scene: id, values }: Change & { op: 'set-scene' }): Result<Applied> {
  const at = story.scenes.findIndex((scene) => scene.id === id)
  if (at === -1) return fail(gone('scene', id))
  const { next, before } = withValues(story.scenes[at]!, values)
  const scenes = story.scenes.map((scene, index) => (index === at ? next : scene))
  return ok({ story: { ...story, scenes }, inverse: { op: 'set-scene', scene: next.id, values: before } })
}

function withValues<T extends object>(object: T, values: Values): { next: T; before: Record<string, string | null> } {
  const next = { ...object } as Record<string, unknown>
  const before: Record<string, string | null> = {}
  for (const [key, value] of Object.entries(values)) {
    before[key] = typeof next[key] === 'string' ? next[key] : null
    if (value === null) delete next[key]
    else next[key] = value
  }
  return { next: next as T, before }
}
