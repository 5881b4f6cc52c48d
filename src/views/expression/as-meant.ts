import { tokenize } from '../../core/expression/tokens'
import { nearlySame } from '../../core/base/near-names'

const MEANT: Readonly<Record<string, string>> = { yes: 'true', no: 'false' }

/** An expression as it is meant: `yes` and `no` are what a flag is, unless something in the story is called so. */
export function asMeant(source: string, knows: (id: string) => boolean): string {
  const tokens = tokenize(source)
  if (!tokens.ok) return source
  let meant = source
  for (const token of tokens.value.toReversed()) {
    if (token.type !== 'name') continue
    const word = MEANT[token.text.toLowerCase()]
    if (word !== undefined && !knows(token.text)) meant = meant.slice(0, token.start) + word + meant.slice(token.end)
  }
  return meant
}

/** The expression with one name written for another. */
export function renamed(source: string, wrong: string, right: string): string {
  const tokens = tokenize(source)
  if (!tokens.ok) return source
  let text = source
  for (const token of tokens.value.toReversed())
    if (token.type === 'name' && token.text === wrong) text = text.slice(0, token.start) + right + text.slice(token.end)
  return text
}

/** Names that one that is not there may have been meant for, the nearest first. */
export function namesNear(wrong: string, known: readonly string[]): string[] {
  return known
    .filter((id) => nearlySame(id, wrong) || (wrong.length > 2 && (id.startsWith(wrong) || wrong.startsWith(id))))
    .slice(0, 3)
}
