import { never } from '../../base/assert'
import { itemName } from './list'
import type { Change } from './types'

/** A change in plain words, for the history: "changed the beat “morning”". */
export function summarise(change: Change): string {
  switch (change.op) {
    case 'insert':
      return `added the ${itemName(change.in)} “${change.item.id}”`
    case 'remove':
      return `deleted the ${itemName(change.in)} “${change.id}”`
    case 'replace':
      return change.item.id === change.id
        ? `changed the ${itemName(change.in)} “${change.id}”`
        : `renamed the ${itemName(change.in)} “${change.id}” to “${change.item.id}”`
    case 'move':
      return `moved the ${itemName(change.in)} “${change.id}”`
    case 'set-story':
      return `changed the story's ${Object.keys(change.values).join(', ')}`
    case 'set-scene':
      if (change.values.id !== undefined) return `renamed the scene “${change.scene}” to “${change.values.id}”`
      return `changed the ${Object.keys(change.values).join(', ')} of the scene “${change.scene}”`
    case 'set-texts': {
      const count = Object.keys(change.values).length
      return `changed ${count === 1 ? 'a translation' : `${count} translations`} in “${change.language}”`
    }
    case 'batch': {
      const [first] = change.changes
      if (first === undefined) return 'changed nothing'
      // what names the thing follows it and is not told
      const renamed = change.changes.find(isRenaming)
      if (renamed !== undefined) return `${summarise(renamed)}, everywhere`
      const rest = change.changes.length - 1
      return rest === 0 ? summarise(first) : `${summarise(first)} and ${rest} more`
    }
    default:
      return never(change)
  }
}

function isRenaming(change: Change): boolean {
  return (
    (change.op === 'replace' && change.item.id !== change.id) ||
    (change.op === 'set-scene' && change.values.id !== undefined)
  )
}
