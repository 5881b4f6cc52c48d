import { findItem, getList } from './list'
import { valueOf } from './set-values'
import type { Change, Item, Translations, Values } from './types'
import type { Story } from '../types'

/** The change with what it was made on (`was`), so that it can be put together with what others change meanwhile. */
export function basedOn(story: Story, change: Change): Change {
  return based(story, change, new Map())
}

/** `latest`: what a batch has made of items so far, by list and id. */
function based(story: Story, change: Change, latest: Map<string, Item | undefined>): Change {
  switch (change.op) {
    case 'batch':
      return { op: 'batch', changes: change.changes.map((one) => based(story, one, latest)) }
    case 'replace': {
      const name = (id: string) => `${JSON.stringify(change.in)} ${id}`
      const items = getList(story, change.in)
      const at = items.ok ? findItem(items.value, change.id, change.at) : -1
      const known = latest.has(name(change.id)) ? latest.get(name(change.id)) : undefined
      const was = latest.has(name(change.id)) ? known : items.ok ? items.value[at] : undefined
      latest.set(name(change.item.id), change.item)
      return was === undefined ? change : { ...change, was }
    }
    case 'insert':
    case 'remove': {
      const id = change.op === 'insert' ? change.item.id : change.id
      latest.set(`${JSON.stringify(change.in)} ${id}`, change.op === 'insert' ? change.item : undefined)
      return change
    }
    case 'set-story':
      return { ...change, was: held(story, change.values) }
    case 'set-scene': {
      const scene = story.scenes.find(({ id }) => id === change.scene)
      return scene === undefined ? change : { ...change, was: held(scene, change.values) }
    }
    case 'set-page':
      return { ...change, was: held(story.page ?? {}, change.values) }
    case 'set-texts': {
      const texts = story.languages?.[change.language]?.texts ?? {}
      const was = Object.keys(change.values).map((key) => [key, Object.hasOwn(texts, key) ? texts[key] : null])
      return { ...change, was: Object.fromEntries(was) as Translations }
    }
    case 'move':
      return change
  }
}

function held(object: object, values: Values): Values {
  const own = object as Record<string, unknown>
  return Object.fromEntries(Object.keys(values).map((key) => [key, valueOf(own[key])]))
}
