import { createTransformer as swc } from '@swc/jest'

/**
 * Built-in objects that a suite does not replace. A suite runs in a context of its own, in which each look at a global goes
 * through the context's interceptors; a name of the module's own is as fast there as anywhere.
 */
const BUILT_IN = [
  ...['Math', 'Map', 'Set', 'WeakMap', 'Object', 'Array', 'Number', 'String', 'BigInt', 'Symbol', 'JSON', 'Reflect'],
  ...['Proxy', 'Promise', 'RegExp', 'Infinity', 'NaN', 'Int8Array', 'Uint8Array', 'Int16Array', 'Uint16Array'],
  ...['Int32Array', 'Uint32Array', 'Float64Array', 'BigInt64Array', 'BigUint64Array', 'ArrayBuffer', 'DataView'],
]

/** Names of a module's own for the built-in objects that it mentions, in front of its first line. */
function ownNames(code) {
  const used = BUILT_IN.filter(
    (name) =>
      new RegExp(`(?<![.\\w$'"\`])${name}\\b`).test(code) &&
      !new RegExp(`\\b(?:class|function|const|let|var)\\s+${name}\\b|\\bimport\\b[^;]*\\b${name}\\b`).test(code),
  )
  return used.length === 0 ? code : `const { ${used.join(', ')} } = globalThis; ${code}`
}

export function createTransformer(options) {
  const inner = swc(options)
  const named = (made) => ({ ...made, code: ownNames(made.code) })
  return {
    ...inner,
    process: (...all) => named(inner.process(...all)),
    processAsync: async (...all) => named(await inner.processAsync(...all)),
    getCacheKey: (...all) => `${inner.getCacheKey(...all)}-named`,
  }
}

export default { createTransformer }
