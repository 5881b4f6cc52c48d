import { fail, ok, type Result } from '../../base/result'
import { findItem, getList, gone, itemName, withList } from './list'
import type { Applied, Change } from './types'
import type { Story } from '../types'

export function applyRemove(story: Story, change: Change & { op: 'remove' }): Result<Applied> {
  const items = getList(story, change.in)
  if (!items.ok) return items
  const at = findItem(items.value, change.id, change.at)
  if (at === -1) return fail(gone(itemName(change.in), change.id))
  const item = items.value[at]!
  const next = items.value.filter((_, index) => index !== at)
  const left = change.drops === true && next.length === 0 ? undefined : next
  return ok({ story: withList(story, change.in, left), change, inverse: { op: 'insert', in: change.in, at, item } })
}
