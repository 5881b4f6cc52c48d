/** Where the server that hosts this application writes what happens, if it does; see scripts/observe.mjs. */
const LOG = Symbol.for('paper-compass.log')

interface Log {
  error(fields: object, says: string): void
}

/** Says that something failed, and where; never what stands in a story. */
export function logFailure(says: string, where: string): void {
  const log = (globalThis as { [LOG]?: Log })[LOG]
  if (log === undefined) console.error(`${says}: ${where}`)
  else log.error({ where }, says)
}
