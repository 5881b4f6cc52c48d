import { createRequire } from 'node:module'
import { writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { root } from './ensure.mjs'

/**
 * Writes the plural rules of all languages for whole numbers, from the Unicode CLDR (UTS 35, part 3). With whole numbers the
 * operands v, w, f, t, c and e are 0, and i is n, so most of a rule is decided here.
 */

const require = createRequire(import.meta.url)

/** `i % 10 = 2..4` for a whole number: true, false, or [modulus (0: none), whether not, from, to, from, to …]. */
function relation(text) {
  const [, operand, modulus, op, ranges] = /^(\w)(?: % (\d+))? (!?=) (.+)$/.exec(text)
  const bounds = ranges.split(',').flatMap((range) => {
    const [from, to = from] = range.split('..').map(Number)
    return [from, to]
  })
  if (operand === 'n' || operand === 'i') return [Number(modulus ?? 0), op === '!=' ? 1 : 0, ...bounds]
  const isZeroIn = bounds.some((from, at) => at % 2 === 0 && from <= 0 && bounds[at + 1] >= 0)
  return isZeroIn === (op === '=')
}

/** One of them has to hold, and of each all parts. */
function alternatives(rule) {
  return rule
    .split('@')[0]
    .trim()
    .split(' or ')
    .map((part) => part.split(' and ').map((one) => relation(one.trim())))
    .filter((parts) => !parts.includes(false))
    .map((parts) => parts.filter((part) => part !== true))
}

function rulesOf(categories) {
  return Object.entries(categories)
    .map(([name, rule]) => [name.replace('pluralRule-count-', ''), rule])
    .filter(([name]) => name !== 'other')
    .map(([name, rule]) => [name, alternatives(rule)])
    .filter(([, rule]) => rule.length > 0)
}

function table(data) {
  const languages = new Map()
  for (const [language, categories] of Object.entries(data).sort()) {
    const rules = JSON.stringify(rulesOf(categories))
    if (rules === '[]' || language === 'und') continue
    languages.set(rules, [...(languages.get(rules) ?? []), language])
  }
  return [...languages].map(([rules, names]) => `  '${names.join(' ')}': ${rules},`).join('\n')
}

export function pluralSource() {
  const cardinal = require('cldr-core/supplemental/plurals.json').supplemental
  const ordinal = require('cldr-core/supplemental/ordinals.json').supplemental
  return `// Made by scripts/write-plurals.mjs from the Unicode CLDR ${cardinal.version._cldrVersion}; not to be edited.
import type { PluralRules } from './format'

/** By the languages that share them; a language that is not here has the form "other" alone. */
export const CARDINALS: Readonly<Record<string, PluralRules>> = {
${table(cardinal['plurals-type-cardinal'])}
}

export const ORDINALS: Readonly<Record<string, PluralRules>> = {
${table(ordinal['plurals-type-ordinal'])}
}
`
}

if (process.argv[1] === import.meta.filename)
  writeFileSync(join(root, 'src', 'core', 'formats', 'bundle', 'plural-data.ts'), pluralSource())
