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

/** What an item of a list inside an item is called. */
const SINGULAR: Readonly<Record<string, string>> = {
  lines: 'line',
  firstOf: 'variant',
  inTurn: 'turn',
  choices: 'choice',
  redirects: 'redirect',
  arrive: 'arrival',
  onward: 'onward road',
  to: 'road',
  do: 'effect',
  stages: 'stage',
  moves: 'move',
  decisions: 'decision',
}

/** Says what two changed at the same time, with both. */
export function clashed(what: string, { where, mine, theirs }: Clash): string {
  const parts: string[] = []
  for (const key of where === '' ? [] : where.split('.')) {
    const list = parts.at(-1)
    if (/^\d+$/.test(key) && list !== undefined)
      parts[parts.length - 1] = `${SINGULAR[list] ?? list} ${Number(key) + 1}`
    else parts.push(key)
  }
  const place = [...parts.reverse(), what].join(' of ')
  const said = parts.length === 0 || /\d$/.test(parts[0]!) ? place : `the ${place}`
  return `${said} was changed elsewhere at the same time.\nYours: ${quoted(mine)}\nThere now: ${quoted(theirs)}`
}

function quoted(value: unknown): string {
  if (value === undefined || value === null) return 'nothing (it was taken away)'
  return `“${typeof value === 'string' ? value : JSON.stringify(value)}”`
}
