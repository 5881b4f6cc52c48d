import { fail, ok, type Result } from '../../base/result'
import type { Story } from '../types'
import type { Item, ListPath } from './types'

const NAMES: Readonly<Record<ListPath['list'], string>> = {
  cast: 'member of the cast',
  ledger: 'ledger entry',
  quests: 'quest',
  endings: 'ending',
  promises: 'promise',
  routes: 'route',
  setAside: 'finding set aside',
  scenes: 'scene',
  beats: 'beat',
  sceneLedger: 'ledger entry',
}

/** What an item of the list is called in messages. */
export function itemName(path: ListPath): string {
  return NAMES[path.list]
}

export function getList(story: Story, path: ListPath): Result<readonly Item[]> {
  if (path.list !== 'beats' && path.list !== 'sceneLedger') return ok(story[path.list] ?? [])
  const scene = story.scenes.find(({ id }) => id === path.scene)
  if (scene === undefined) return fail(gone('scene', path.scene))
  return ok(path.list === 'beats' ? scene.beats : (scene.ledger ?? []))
}

/** The story with a list put in place of the one it had. */
export function withList(story: Story, path: ListPath, items: readonly Item[]): Story {
  if (path.list !== 'beats' && path.list !== 'sceneLedger') return { ...story, [path.list]: items }
  const key = path.list === 'beats' ? 'beats' : 'ledger'
  const at = story.scenes.findIndex(({ id }) => id === path.scene)
  return { ...story, scenes: story.scenes.map((scene, index) => (index === at ? { ...scene, [key]: items } : scene)) }
}

/** Where an item stands: at the index it was last seen, or wherever its id is now; -1 when it is gone. */
export function findItem(items: readonly Item[], id: string, at: number): number {
  return items[at]?.id === id ? at : items.findIndex((item) => item.id === id)
}

export function gone(name: string, id: string): string {
  return `the ${name} "${id}" is not there any more; it was deleted or renamed meanwhile`
}
