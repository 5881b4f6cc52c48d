import { TYPE, type MessageFormatElement } from '@formatjs/icu-messageformat-parser'
import type { LinkedStory, LinkedText } from '../../story/linked'
import { textArgument } from '../../story/text'
import type { Action, Compiler } from './compile'
import { showsWords } from '../summaries/variables'
import { WideValues, type Slot } from '../analysis/slots'

/**
 * What showing a text looks at for `unset-text`: follows the forms that the current values choose
 * and records every text entry that is shown while it is empty. Undefined where no form shows one.
 */
export function compileShown(compiler: Compiler, text: LinkedText, address: string): Action | undefined {
  if (text.isPlain || text.parsed === undefined || !showsWords(compiler.story, text.parsed)) return undefined
  return compileParts(compiler, text.parsed, address)
}

function compileParts(compiler: Compiler, parts: readonly MessageFormatElement[], address: string): Action | undefined {
  const actions: Action[] = []
  for (const part of parts) {
    if (part.type === TYPE.argument) {
      const action = compileArgument(compiler, part.value, address)
      if (action !== undefined) actions.push(action)
    }
    if ((part.type === TYPE.select || part.type === TYPE.plural) && showsWords(compiler.story, [part])) {
      actions.push(compileForms(compiler, part, address))
    }
  }
  if (actions.length === 0) return undefined
  return () => {
    for (const action of actions) action()
  }
}

function compileArgument(compiler: Compiler, name: string, address: string): Action | undefined {
  const { story, slots, values, events } = compiler
  const entry = story.entries[story.entryOf.get(name) ?? -1]
  if (entry?.kind !== 'text' || entry.given !== undefined) return undefined
  const at = slots.ofEntry[entry.index]!
  const event = events.number('unset', entry.id, address)
  return () => {
    // "" is the first value of every word domain
    if (values[at] === 0) events.record(event)
  }
}

type Forms = MessageFormatElement & { type: TYPE.select | TYPE.plural }

function compileForms(compiler: Compiler, part: Forms, address: string): Action {
  const { values } = compiler
  const argument = textArgument(part.value)
  if (argument.of === 'person') return compileByName(compiler, part, argument.id, address)
  const slot = compiler.slotOf({ kind: argument.of, id: argument.id, start: 0, end: 0 })!
  const forms = new Map<string, Action | undefined>()
  for (const [key, option] of Object.entries(part.options))
    forms.set(key, compileParts(compiler, option.value, address))
  const chosen = new Map<number, Action | undefined>()
  const at = slot.index
  const { givens } = compiler
  return () => {
    givens.touch(at)
    const held = values[at]!
    if (!chosen.has(held)) chosen.set(held, forms.get(formOf(compiler, part, slot, held)))
    chosen.get(held)?.()
  }
}

/** Forms that are chosen by what a person is called. */
function compileByName(compiler: Compiler, part: Forms, person: string, address: string): Action {
  const { name, called } = compiler.story.people.get(person)!
  const shown = (value: string): Action | undefined => {
    const option = part.options[Object.hasOwn(part.options, value) ? value : 'other']
    return option && compileParts(compiler, option.value, address)
  }
  const otherwise = shown(name)
  const names = called.map(({ when, name: own }) => ({
    holds: when.expr === undefined ? () => false : compiler.test(when.expr),
    action: shown(own),
  }))
  return () => {
    const first = names.find(({ holds }) => holds())
    if (first === undefined) otherwise?.()
    else first.action?.()
  }
}

/** Which form ICU MessageFormat chooses for what a slot holds. */
export function formOf({ story }: Compiler, part: Forms, slot: Slot, held: number): string {
  const value = shownValue(story, slot, held)
  const forms = part.options
  if (part.type === TYPE.select) return Object.hasOwn(forms, String(value)) ? String(value) : 'other'
  const exact = `=${value}`
  if (Object.hasOwn(forms, exact)) return exact
  const rule = new Intl.PluralRules(story.doc.language, { type: part.pluralType ?? 'cardinal' }).select(
    Number(value) - part.offset,
  )
  return Object.hasOwn(forms, rule) ? rule : 'other'
}

function shownValue(story: LinkedStory, slot: Slot, held: number): string | number {
  if (slot.kind === 'quest') return story.quests[slot.quest]!.stages[held]!
  if (slot.kind !== 'entry') return held
  const entry = story.entries[slot.entry]!
  if (entry.kind === 'flag') return String(held === 1)
  if (entry.kind === 'switch') return entry.positions[held] ?? ''
  if (entry.kind === 'text') return slot.words!.values[held]!
  return slot.wide instanceof WideValues ? slot.wide.values[held]! : held
}
