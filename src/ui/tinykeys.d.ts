// The package has types, but its "exports" does not lead to them.
declare module 'tinykeys' {
  /** Calls a function for each of the named keys; returns what stops it. */
  export function tinykeys(target: Window | HTMLElement, keys: Readonly<Record<string, (event: KeyboardEvent) => void>>): () => void
}
