import { escapeXml } from '../../base/xml'
import { FALSE, scriptString, TRUE, type Assignment } from './expressions'

/** An element as lines, those inside it further in. */
export type Lines = readonly string[]

export function literal(value: boolean | number | string): string {
  return typeof value === 'string' ? scriptString(value) : String(value)
}

export function unlessTrue(cond: string): { readonly cond?: string } {
  return cond === TRUE ? {} : { cond }
}

/** What the first condition that holds goes with. */
export function firstOf(parts: readonly (readonly [string, Lines])[]): Lines {
  const certain = parts.findIndex(([cond]) => cond === TRUE)
  const asked = (certain === -1 ? parts : parts.slice(0, certain + 1)).filter(([cond]) => cond !== FALSE)
  const [first, ...others] = asked
  if (first === undefined || asked.every(([, lines]) => lines.length === 0)) return []
  if (first[0] === TRUE) return first[1]
  return element('if', { cond: first[0] }, [
    ...first[1],
    ...others.flatMap(([cond, lines]) => [
      ...(cond === TRUE ? element('else', {}) : element('elseif', { cond })),
      ...lines,
    ]),
  ])
}

export function assign({ location, value }: Assignment): Lines {
  return element('assign', { location, expr: value })
}

export function element(name: string, attributes: Readonly<Record<string, string>>, lines: Lines = []): Lines {
  const written = Object.entries(attributes).map(([key, value]) => ` ${key}="${escapeXml(value)}"`)
  const open = `${name}${written.join('')}`
  return lines.length === 0 ? [`<${open}/>`] : [`<${open}>`, ...lines.map((line) => `  ${line}`), `</${name}>`]
}

export function comment(text: string): string {
  return `<!-- ${inComment(text)} -->`
}

/** A comment holds no two hyphens in a row, and is one line. */
export function inComment(text: string): string {
  return escapeXml(text.replaceAll(/\s+/g, ' ').replaceAll(/-(?=-)/g, '- ')).replace(/-$/, '- ')
}
