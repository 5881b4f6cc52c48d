import type { Change } from './types'

/** The words that a change brings: every text in it that was not in what it was made on. */
export function changedTexts(change: Change): string[] {
  switch (change.op) {
    case 'batch':
      return [...new Set(change.changes.flatMap(changedTexts))]
    case 'insert':
      return textsIn(change.item)
    case 'replace': {
      const before = new Set(textsIn(change.was))
      return textsIn(change.item).filter((text) => !before.has(text))
    }
    case 'set-texts':
    case 'set-story':
    case 'set-page':
    case 'set-scene': {
      const before = new Set(textsIn(change.was))
      return textsIn(change.values).filter((text) => !before.has(text))
    }
    case 'remove':
    case 'move':
      return []
  }
}

function textsIn(value: unknown): string[] {
  if (typeof value === 'string') return value === '' ? [] : [value]
  if (typeof value !== 'object' || value === null) return []
  return Object.entries(value).flatMap(([key, inner]) => (key === 'id' ? [] : textsIn(inner)))
}
