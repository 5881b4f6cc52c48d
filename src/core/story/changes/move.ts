import { fail, ok, type Result } from '../../base/result'
import { findItem, getList, gone, itemName, withList } from './list'
import type { Applied, Change } from './types'
import type { Story } from '../types'

export function applyMove(story: Story, change: Change & { op: 'move' }): Result<Applied> {
  const items = getList(story, change.in)
  if (!items.ok) return items
  const at = findItem(items.value, change.id, change.at)
  if (at === -1) return fail(gone(itemName(change.in), change.id))
  const to = Math.min(Math.max(0, change.to), items.value.length - 1)
  const next = items.value.filter((_, index) => index !== at)
  next.splice(to, 0, items.value[at]!)
  return ok({
    story: withList(story, change.in, next),
    change,
    inverse: { op: 'move', in: change.in, id: change.id, at: to, to: at },
  })
}
