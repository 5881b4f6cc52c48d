import { never } from '../../base/assert'
import { plainId } from '../../base/ids'
import type { Story } from '../types'
import { getList, itemName } from './list'
import type { Change, Item, ListPath } from './types'

const TEXT_MAX = 60

/** A change in plain words, for the history: "changed the beat “Morning on the quay”"; `story`: before it, for the names of things. */
export function summarise(change: Change, story?: Story): string {
  const called = (path: ListPath, id: string) => `${itemName(path)} “${nameIn(story, path, id)}”`
  const scene = (id: string) => `scene “${nameIn(story, { list: 'scenes' }, id)}”`
  switch (change.op) {
    case 'insert':
      return `added the ${itemName(change.in)} “${nameOfItem(change.item)}”`
    case 'remove':
      return `deleted the ${called(change.in, change.id)}`
    case 'replace':
      return change.item.id === change.id
        ? `changed the ${itemName(change.in)} “${nameOfItem(change.item)}”`
        : `renamed the ${called(change.in, change.id)} to “${nameOfItem(change.item)}”`
    case 'move':
      return `moved the ${called(change.in, change.id)}`
    case 'set-story':
      return `changed the story's ${Object.keys(change.values).join(', ')}`
    case 'set-scene':
      if (typeof change.values.id === 'string')
        return `renamed the ${scene(change.scene)} to “${plainId(change.values.id)}”`
      return `changed the ${Object.keys(change.values).join(', ')} of the ${scene(change.scene)}`
    case 'set-page':
      return `changed the playing page: ${Object.keys(change.values).join(', ')}`
    case 'set-texts': {
      const count = Object.keys(change.values).length
      return `changed ${count === 1 ? 'a translation' : `${count} translations`} in “${change.language}”`
    }
    case 'batch': {
      const [first] = change.changes
      if (first === undefined) return 'changed nothing'
      // what names the thing follows it and is not told
      const renamed = change.changes.find(isRenaming)
      if (renamed !== undefined) return `${summarise(renamed, story)}, everywhere`
      const rest = change.changes.length - 1
      return rest === 0 ? summarise(first, story) : `${summarise(first, story)} and ${rest} more`
    }
    default:
      return never(change)
  }
}

/** What an item is called where people read it. */
export function nameOfItem(item: Item): string {
  const { name, title, text } = item as { readonly name?: string; readonly title?: string; readonly text?: string }
  const said = [name, title, text].find((one) => one !== undefined && one.trim() !== '') ?? plainId(item.id)
  return said.length > TEXT_MAX ? `${said.slice(0, TEXT_MAX)}…` : said
}

function nameIn(story: Story | undefined, path: ListPath, id: string): string {
  const list = story && getList(story, path)
  const item = list?.ok === true ? list.value.find((one) => one.id === id) : undefined
  return item === undefined ? plainId(id) : nameOfItem(item)
}

function isRenaming(change: Change): boolean {
  return (
    (change.op === 'replace' && change.item.id !== change.id) ||
    (change.op === 'set-scene' && change.values.id !== undefined)
  )
}
