/** Names of windows that were closed: the next new window takes the last one over, and its edits. */
const LEFT = 'paper-compass.windows-left'
const OWN = 'paper-compass.window'
const LEFT_MAX = 8

let own: string | undefined

/** The name under which this window makes its edits: the same after a reload, and after closing and opening it again. */
export function windowId(): string {
  if (own !== undefined) return own
  own = read(() => sessionStorage.getItem(OWN)) ?? left().at(-1) ?? crypto.randomUUID()
  keep(own)
  globalThis.addEventListener?.('pagehide', () => writeLeft([...left().filter((one) => one !== own), own!]))
  // a page that comes back from where the browser kept it
  globalThis.addEventListener?.('pageshow', () => keep(own!))
  return own
}

function keep(id: string): void {
  read(() => sessionStorage.setItem(OWN, id))
  writeLeft(left().filter((one) => one !== id))
}

function left(): string[] {
  const kept = read(() => JSON.parse(localStorage.getItem(LEFT) ?? '[]') as unknown)
  return Array.isArray(kept) ? kept.filter((one) => typeof one === 'string') : []
}

function writeLeft(ids: readonly string[]): void {
  read(() => localStorage.setItem(LEFT, JSON.stringify(ids.slice(-LEFT_MAX))))
}

/** A browser that keeps nothing: each page is a window of its own. */
function read<T>(work: () => T): T | undefined {
  try {
    return work() ?? undefined
  } catch {
    return undefined
  }
}
