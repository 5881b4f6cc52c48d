import { fail, ok, type Result } from '../../base/result'
import type { Change, ListPath } from '../changes/types'
import type { Entry, Story } from '../types'
import { entryChanges, entryMapping } from './rename'
import { Rewriter } from './rewrite'

/** Puts one entry in place of another of the same kind: all that named the one names the other, which is as wide as both. */
export function mergeEntries(
  story: Story,
  from: string,
  into: string,
): Result<{ readonly change: Change; readonly mentions: number }> {
  const one = find(story, from)
  const other = find(story, into)
  if (one === undefined || other === undefined || from === into) return fail('two different entries are needed')
  if (one.entry.kind !== other.entry.kind)
    return fail(
      `“${from}” is a ${one.entry.kind} and “${into}” a ${other.entry.kind}; change the kind of one of them first`,
    )
  if (other.path.list === 'sceneLedger' && JSON.stringify(one.path) !== JSON.stringify(other.path))
    return fail(`“${into}” lives only inside one scene, so nothing outside of it can name it`)
  const rewriter = new Rewriter(entryMapping(from, into))
  const changes: Change[] = [
    ...rewriter.changes(story),
    { op: 'remove', in: one.path, id: from, at: one.at },
    ...entryChanges(story, into, (entry) => widened(entry, one.entry)),
  ]
  return ok({ change: { op: 'batch', changes }, mentions: rewriter.count })
}

function find(
  story: Story,
  id: string,
): { readonly entry: Entry; readonly at: number; readonly path: ListPath } | undefined {
  const lists: [ListPath, readonly Entry[] | undefined][] = [
    [{ list: 'ledger' }, story.ledger],
    ...story.scenes.map((scene): [ListPath, readonly Entry[] | undefined] => [
      { list: 'sceneLedger', scene: scene.id },
      scene.ledger,
    ]),
  ]
  for (const [path, entries] of lists) {
    const at = entries?.findIndex((entry) => entry.id === id) ?? -1
    if (at !== -1) return { entry: entries![at]!, at, path }
  }
  return undefined
}

function widened(entry: Entry, by: Entry): Entry {
  if (entry.kind === 'switch' && by.kind === 'switch')
    return { ...entry, positions: [...new Set([...entry.positions, ...by.positions])] }
  // a start that was not written was the least value, and stays what it was
  if (entry.kind === 'counter' && by.kind === 'counter')
    return {
      ...entry,
      initial: entry.initial ?? entry.min,
      min: Math.min(entry.min, by.min),
      max: Math.max(entry.max, by.max),
    }
  if (entry.kind === 'item' && by.kind === 'item') return { ...entry, max: Math.max(entry.max, by.max) }
  return entry
}
