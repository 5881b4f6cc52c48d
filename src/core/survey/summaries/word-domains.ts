import { TYPE, type MessageFormatElement } from '@formatjs/icu-messageformat-parser'
import { walk, type Expr } from '../../expression/ast'
import type { LinkedStory } from '../../story/linked'
import { textArgument } from '../../story/text'
import { summaryOf } from './summarise'
import { variablesOf } from './variables'
import { promiseParts } from '../../story/linked-parts'

/**
 * The words that matter. A player may type anything, but a story can tell words apart only by
 * comparing them, so for each group of text entries that are copied to or compared with one another
 * it is enough to take every string the group is held against, and as many other words as the
 * group's entries can hold at once (if no two of its entries are ever compared: one other word).
 */
export interface WordDomain {
  /** Every value that an entry of the group can hold; the first is "". */
  readonly values: readonly string[]
  /** Indices of the values that a player can type. */
  readonly typable: readonly number[]
  /** From this index on the values stand for any other word. */
  readonly others: number
}

/** Words of our own making, for "any other word". */
const OTHER_WORDS = ['Quillon', 'Tansel', 'Orrowby', 'Fennick', 'Maplin', 'Hesper', 'Brindle', 'Corriedale']

export function otherWord(taken: ReadonlySet<string>): string {
  for (let round = 1; ; round += 1) {
    for (const word of OTHER_WORDS) {
      const candidate = round === 1 ? word : `${word} ${round}`
      if (!taken.has(candidate)) return candidate
    }
  }
}

/** The domain of every text entry, by entry index. Entries of one group share one object; all do where they are held against words from elsewhere. */
export function wordDomains(story: LinkedStory, also?: readonly string[]): Map<number, WordDomain> {
  const groups = new Groups(story)
  const variables = variablesOf(story)
  for (const beat of story.inOrder) {
    const { exprs, effects, texts } = summaryOf(story, variables, beat).wording
    for (const expr of exprs) groups.readComparisons(expr)
    for (const { entry, value } of effects) groups.readAssignment(entry, value)
    for (const { parsed } of texts) groups.readSelects(parsed!)
  }
  for (const promise of story.promises) for (const expr of promiseParts(promise)) groups.readComparisons(expr)
  if (also !== undefined) groups.holdAllAgainst(also)
  return groups.domains()
}

class Groups {
  private readonly parent = new Map<number, number>()
  private readonly literals = new Map<number, Set<string>>()
  private readonly compared = new Set<number>()

  constructor(private readonly story: LinkedStory) {
    for (const entry of story.entries) {
      if (entry.kind !== 'text') continue
      this.parent.set(entry.index, entry.index)
      this.literals.set(entry.index, new Set([String(entry.initial)]))
    }
  }

  /** Every text is held against some words, and against every other text. */
  holdAllAgainst(words: readonly string[]): void {
    const [first] = this.parent.keys()
    for (const entry of this.parent.keys()) {
      this.join(first!, entry)
      this.compared.add(entry)
      for (const word of words) this.literals.get(entry)!.add(word)
    }
  }

  readComparisons(expr: Expr): void {
    walk(expr, (part) => {
      if (part.kind === 'compare') this.compare(part.left, part.right)
      if (part.kind === 'in') for (const item of part.items) this.compare(part.left, item)
    })
  }

  readAssignment(entry: string, value: Expr): void {
    const target = this.textEntry({ kind: 'entry', id: entry, start: 0, end: 0 })
    if (target === undefined) return
    if (value.kind === 'string') this.literals.get(target)!.add(value.value)
    const source = this.textEntry(value)
    if (source !== undefined) this.join(target, source)
  }

  readSelects(elements: readonly MessageFormatElement[]): void {
    for (const part of elements) {
      if (part.type !== TYPE.select && part.type !== TYPE.plural) continue
      const argument = textArgument(part.value)
      const entry =
        argument.of === 'entry' ? this.textEntry({ kind: 'entry', id: argument.id, start: 0, end: 0 }) : undefined
      for (const [key, option] of Object.entries(part.options)) {
        if (entry !== undefined) this.literals.get(entry)!.add(key)
        this.readSelects(option.value)
      }
    }
  }

  domains(): Map<number, WordDomain> {
    const members = new Map<number, number[]>()
    for (const entry of this.parent.keys()) {
      const root = this.root(entry)
      members.set(root, [...(members.get(root) ?? []), entry])
    }
    const domains = new Map<number, WordDomain>()
    for (const group of members.values()) {
      const words = new Set<string>([''])
      for (const entry of group) for (const literal of this.literals.get(entry)!) words.add(literal)
      const named = words.size
      const others = group.some((entry) => this.compared.has(entry)) ? group.length : 1
      for (let count = 0; count < others; count += 1) words.add(otherWord(words))
      const values = [...words]
      // A typed word has no blanks at its ends and is not empty, so some literals can't be typed.
      const typable = values.flatMap((word, index) => (word !== '' && word.trim() === word ? [index] : []))
      const domain = { values, typable, others: named }
      for (const entry of group) domains.set(entry, domain)
    }
    return domains
  }

  private compare(left: Expr, right: Expr): void {
    const first = this.textEntry(left)
    const second = this.textEntry(right)
    if (first !== undefined && second !== undefined) {
      this.join(first, second)
      this.compared.add(first).add(second)
    } else if (first !== undefined) this.holdAgainst(first, right)
    else if (second !== undefined) this.holdAgainst(second, left)
  }

  private holdAgainst(entry: number, other: Expr): void {
    const known = this.literals.get(entry)!
    if (other.kind === 'string') known.add(other.value)
    if (other.kind === 'quest')
      for (const stage of this.story.quests[this.story.questOf.get(other.id)!]!.stages) known.add(stage)
    if (other.kind === 'entry')
      for (const position of this.story.entries[this.story.entryOf.get(other.id)!]!.positions) known.add(position)
  }

  private textEntry(expr: Expr): number | undefined {
    const index = expr.kind === 'entry' ? this.story.entryOf.get(expr.id) : undefined
    return index !== undefined && this.parent.has(index) ? index : undefined
  }

  private root(entry: number): number {
    let at = entry
    while (this.parent.get(at) !== at) at = this.parent.get(at)!
    return at
  }

  private join(a: number, b: number): void {
    this.parent.set(this.root(a), this.root(b))
  }
}
