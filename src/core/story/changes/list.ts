import { fail, ok, type Result } from '../../base/result'
import type { Story } from '../types'
import { LISTS } from './lists'
import type { Item, ListPath } from './types'

/** What an item of the list is called in messages. */
export function itemName({ list }: ListPath): string {
  return LISTS[list].item
}

function isOfScene(path: ListPath): path is Extract<ListPath, { readonly scene: string }> {
  return LISTS[path.list].of === 'scene'
}

export function getList(story: Story, path: ListPath): Result<readonly Item[]> {
  if (!isOfScene(path)) return ok(story[LISTS[path.list].key] ?? [])
  const scene = story.scenes.find(({ id }) => id === path.scene)
  return scene === undefined ? fail(gone('scene', path.scene)) : ok(scene[LISTS[path.list].key] ?? [])
}

/** Whether the story has the list, an empty one too. */
export function hasList(story: Story, path: ListPath): boolean {
  const { key } = LISTS[path.list]
  const owner = isOfScene(path) ? story.scenes.find(({ id }) => id === path.scene) : story
  return (owner as Readonly<Record<string, unknown>> | undefined)?.[key] !== undefined
}

/** The story with a list put in place of the one it had; undefined: with none. */
export function withList(story: Story, path: ListPath, items: readonly Item[] | undefined): Story {
  const { key } = LISTS[path.list]
  if (!isOfScene(path)) return withKey(story, key, items)
  const at = story.scenes.findIndex(({ id }) => id === path.scene)
  return { ...story, scenes: story.scenes.map((scene, index) => (index === at ? withKey(scene, key, items) : scene)) }
}

function withKey<T extends object>(owner: T, key: string, items: readonly Item[] | undefined): T {
  if (items !== undefined) return { ...owner, [key]: items }
  return Object.fromEntries(Object.entries(owner).filter(([own]) => own !== key)) as T
}

/** Where an item stands: at the index it was last seen, or wherever its id is now; -1 when it is gone. */
export function findItem(items: readonly Item[], id: string, at: number): number {
  return items[at]?.id === id ? at : items.findIndex((item) => item.id === id)
}

export function gone(name: string, id: string): string {
  return `the ${name} "${id}" is not there any more; it was deleted or renamed meanwhile`
}
