import { fail, ok, type Result } from '../../base/result'
import { isSame } from '../../base/same'
import { findItem, getList, gone, itemName, withList } from './list'
import { merge, type Clash } from './merge'
import type { Applied, Change } from './types'
import type { Story } from '../types'

/** Puts an item in place of another; what has become of that one since the change was made is kept, or the change refused. */
export function applyReplace(story: Story, change: Change & { op: 'replace' }): Result<Applied> {
  const items = getList(story, change.in)
  if (!items.ok) return items
  const at = findItem(items.value, change.id, change.at)
  if (at === -1) return fail(gone(itemName(change.in), change.id))
  const item = items.value[at]!
  const { was, ...rest } = change
  let after = change.item
  if (was !== undefined && !isSame(was, item)) {
    const merged = merge(was, change.item, item)
    if (!merged.ok) return fail(clashed(`the ${itemName(change.in)} "${change.id}"`, merged.error))
    after = merged.value
  }
  return ok({
    story: withList(
      story,
      change.in,
      items.value.map((one, index) => (index === at ? after : one)),
    ),
    change: { ...rest, item: after },
    inverse: { op: 'replace', in: change.in, id: after.id, at, item },
  })
}

/** Says what two changed at the same time, with both. */
export function clashed(what: string, { where, mine, theirs }: Clash): string {
  const part = where.replace(/\.\d+/g, (index) => ` ${Number(index.slice(1)) + 1}`).replaceAll('.', ', ')
  return `${part === '' ? '' : `${part} of `}${what} was changed elsewhere at the same time. Yours: ${quoted(mine)}. There now: ${quoted(theirs)}`
}

function quoted(value: unknown): string {
  if (value === undefined || value === null) return 'nothing (it was taken away)'
  return `“${typeof value === 'string' ? value : JSON.stringify(value)}”`
}
