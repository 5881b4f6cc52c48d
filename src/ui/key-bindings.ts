import { tinykeys, type KeybindingsMap } from 'tinykeys'

/**
 * Calls a function for each of the named keys, from fields too (each function decides whether it means them), but not
 * while a character is being composed. Returns what stops it.
 */
export function bindKeys(bindings: KeybindingsMap): () => void {
  return tinykeys(window, bindings, { ignore: (event) => event.isComposing })
}
