import { never } from '../../base/assert'
import { ok, type Result } from '../../base/result'
import type { Story } from '../types'
import { applyInsert } from './insert'
import { applyMove } from './move'
import { applyRemove } from './remove'
import { applyReplace } from './replace'
import { applySetTexts } from './set-texts'
import { applySetPage, applySetScene, applySetStory } from './set-values'
import type { Applied, Change } from './types'

/** Applies one change. A change against something that is gone is refused with an explanation. */
export function applyChange(story: Story, change: Change): Result<Applied> {
  switch (change.op) {
    case 'insert':
      return applyInsert(story, change)
    case 'remove':
      return applyRemove(story, change)
    case 'replace':
      return applyReplace(story, change)
    case 'move':
      return applyMove(story, change)
    case 'set-story':
      return applySetStory(story, change)
    case 'set-scene':
      return applySetScene(story, change)
    case 'set-page':
      return applySetPage(story, change)
    case 'set-texts':
      return applySetTexts(story, change)
    case 'batch':
      return applyBatch(story, change.changes)
    default:
      return never(change)
  }
}

/** All or nothing: the first refusal refuses the whole. */
function applyBatch(story: Story, changes: readonly Change[]): Result<Applied> {
  let now = story
  const inverses: Change[] = []
  const done: Change[] = []
  for (const change of changes) {
    const applied = applyChange(now, change)
    if (!applied.ok) return applied
    now = applied.value.story
    done.push(applied.value.change)
    inverses.push(applied.value.inverse)
  }
  return ok({
    story: now,
    change: { op: 'batch', changes: done },
    inverse: { op: 'batch', changes: inverses.reverse() },
  })
}
