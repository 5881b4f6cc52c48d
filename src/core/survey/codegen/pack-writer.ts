import type { Field, Layout } from '../states/layout'
import { binary, constant, OP, type Code } from './wasm'

/** A state that is left, as code finds it. */
export interface Leaving {
  /** A word of it as it is packed, the first without where its location begins. */
  readonly word: (word: number) => Code
  /** What a slot holds now. */
  readonly read: (slot: number) => Code
  readonly isWritten: (slot: number) => boolean
  /** What a slot held before anything was written, where that is still at hand. */
  readonly before: ((slot: number) => Code) | undefined
}

/** Digits that stand next to one another in both states. */
interface Run {
  readonly first: Field
  last: Field
  /** Where the first of them goes. */
  readonly to: Field
  /** Those of them, where they go, that were written. */
  readonly written: Field[]
  count: number
}

/** The words of the state at location `to`, come to from `from`; neighbouring digits that stay neighbours are copied together, and what was written there is added to what it was. */
export function writePacked(
  layout: Layout,
  from: number,
  to: number,
  { word, read, isWritten, before }: Leaving,
): Code[] {
  const held = layout.fieldsOf(from)
  const fields = new Map(held.map((field) => [field.slot, field]))
  const tops = topsOf(held)
  const words: Code[] = Array.from({ length: layout.cells }, (_, number) =>
    constant(number === 0 ? layout.baseOf(to) : 0),
  )
  const add = (number: number, value: Code) => {
    words[number] = binary(OP.add, words[number]!, value)
  }
  const whole = ({ slot, min, stride }: Field) =>
    times(min === 0 ? read(slot) : binary(OP.sub, read(slot), constant(min)), stride)
  let run: Run | undefined
  const endRun = () => {
    if (run === undefined) return
    if (run.written.length === run.count) for (const field of run.written) add(field.cell, whole(field))
    else {
      add(run.to.cell, times(digitsOf(run.first, run.last, tops, word), run.to.stride))
      for (const { slot, cell: number, stride } of run.written)
        add(number, times(binary(OP.sub, read(slot), before!(slot)), stride))
    }
    run = undefined
  }
  for (const field of layout.fieldsOf(to)) {
    const source = fields.get(field.slot)
    const written = isWritten(field.slot)
    if (source === undefined || (written && before === undefined)) {
      endRun()
      const known = written ? undefined : layout.knownAt(from, field.slot)
      if (known === undefined) add(field.cell, whole(field))
      else if (known !== field.min) add(field.cell, constant((known - field.min) * field.stride))
      continue
    }
    if (run === undefined || run.to.cell !== field.cell || !follows(run.last, source)) {
      endRun()
      run = { first: source, last: source, to: field, written: [], count: 0 }
    }
    run.last = source
    run.count += 1
    if (written) run.written.push(field)
  }
  endRun()
  return words
}

/** Slots that are the highest digit of their word. */
export function topsOf(fields: readonly Field[]): ReadonlySet<number> {
  return new Set(fields.filter((field, at) => fields[at + 1]?.cell !== field.cell).map(({ slot }) => slot))
}

/** The value of neighbouring digits of one word together. */
export function digitsOf(first: Field, last: Field, tops: ReadonlySet<number>, word: (word: number) => Code): Code {
  const own = word(first.cell)
  const size = (last.stride / first.stride) * last.size
  const lower =
    first.stride === 1
      ? own
      : isPower(first.stride)
        ? binary(OP.shiftRight, own, constant(Math.log2(first.stride)))
        : binary(OP.divUnsigned, own, constant(first.stride))
  if (tops.has(last.slot)) return lower
  return isPower(size) ? binary(OP.and, lower, constant(size - 1)) : binary(OP.remUnsigned, lower, constant(size))
}

function follows(before: Field, field: Field): boolean {
  return field.cell === before.cell && field.stride === before.stride * before.size
}

function times(value: Code, stride: number): Code {
  return stride === 1 ? value : binary(OP.mul, value, constant(stride))
}

function isPower(size: number): boolean {
  return Number.isInteger(Math.log2(size))
}
