import { ok, type Result } from '../../base/result'
import { getList, hasList, withList } from './list'
import type { Applied, Change } from './types'
import type { Story } from '../types'

export function applyInsert(story: Story, change: Change & { op: 'insert' }): Result<Applied> {
  const items = getList(story, change.in)
  if (!items.ok) return items
  const at = Math.min(Math.max(0, change.at), items.value.length)
  const next = [...items.value.slice(0, at), change.item, ...items.value.slice(at)]
  return ok({
    story: withList(story, change.in, next),
    change,
    inverse: {
      op: 'remove',
      in: change.in,
      id: change.item.id,
      at,
      ...(!hasList(story, change.in) && { drops: true }),
    },
  })
}
