import { TYPE, type MessageFormatElement } from '@formatjs/icu-messageformat-parser'
import { textArgument } from '../../story/text'
import type { Compiler } from '../interpreter/compile'
import { showsWords } from '../summaries/variables'
import { formOf } from '../interpreter/shown-words'
import { anyOf } from './expression-writer'
import { binary, constant, not, OP, when, type Code } from './wasm'

/** What a text is written into. */
export interface ShownTarget {
  readonly read: (slot: number) => Code
  readonly event: (number: number) => void
  readonly emit: (code: Code) => void
  readonly capture: (work: () => void) => Code
  readonly refuse: () => void
}

/** Values that a text's forms are chosen by, beyond which the beat is left to the interpreter. */
const VALUES_MAX = 256

/** Writes what showing a text looks at for `unset-text`, as `compileShown` does it. */
export function writeShown(
  compiler: Compiler,
  parts: readonly MessageFormatElement[],
  address: string,
  target: ShownTarget,
): void {
  for (const part of parts) {
    if (part.type === TYPE.argument) writeArgument(compiler, part.value, address, target)
    else if ((part.type === TYPE.select || part.type === TYPE.plural) && showsWords(compiler.story, [part]))
      writeForms(compiler, part, address, target)
  }
}

function writeArgument({ story, slots, events }: Compiler, name: string, address: string, target: ShownTarget): void {
  const entry = story.entries[story.entryOf.get(name) ?? -1]
  if (entry?.kind !== 'text' || entry.given !== undefined) return
  const noted = target.capture(() => target.event(events.number('unset', entry.id, address)))
  // "" is the first value of every word domain
  if (noted.length > 0) target.emit(when(not(target.read(slots.ofEntry[entry.index]!)), noted))
}

function writeForms(
  compiler: Compiler,
  part: MessageFormatElement & { type: TYPE.select | TYPE.plural },
  address: string,
  target: ShownTarget,
): void {
  const argument = textArgument(part.value)
  // asks conditions: left to the interpreter
  if (argument.of === 'person') return target.refuse()
  const slot = compiler.slotOf({ kind: argument.of, id: argument.id, start: 0, end: 0 })!
  if (slot.max - slot.min >= VALUES_MAX) return target.refuse()
  const chosen = new Map<string, number[]>()
  for (let held = slot.min; held <= slot.max; held += 1) {
    const form = formOf(compiler, part, slot, held)
    const list = chosen.get(form)
    if (list === undefined) chosen.set(form, [held])
    else list.push(held)
  }
  for (const [form, values] of chosen) {
    const option = part.options[form]
    const shown = option === undefined ? [] : target.capture(() => writeShown(compiler, option.value, address, target))
    if (shown.length > 0)
      target.emit(when(anyOf(values.map((held) => binary(OP.eq, target.read(slot.index), constant(held)))), shown))
  }
}
