/**
 * As much of the WebAssembly binary format (W3C: WebAssembly Core Specification, 5) as the survey's
 * generated code is written in: functions over 32-bit integers and one imported memory.
 */

/** Instructions as bytes, nested as they were put together. */
export type Code = readonly (number | Code)[]

export const NOTHING: Code = []

export const OP = {
  eqz: 0x45,
  eq: 0x46,
  ne: 0x47,
  lt: 0x48,
  gt: 0x4a,
  le: 0x4c,
  ge: 0x4e,
  geUnsigned: 0x4f,
  add: 0x6a,
  sub: 0x6b,
  mul: 0x6c,
  divUnsigned: 0x6e,
  remUnsigned: 0x70,
  and: 0x71,
  or: 0x72,
  shiftLeft: 0x74,
  shiftRight: 0x76,
} as const

const I32 = 0x7f
const VOID = 0x40
const END = 0x0b

export const constant = (value: number): Code => [0x41, ...signed(value)]
export const get = (local: number): Code => [0x20, ...unsigned(local)]
export const set = (local: number, value: Code): Code => [value, 0x21, ...unsigned(local)]
export const tee = (local: number, value: Code): Code => [value, 0x22, ...unsigned(local)]
export const binary = (op: number, left: Code, right: Code): Code => [left, right, op]
export const not = (value: Code): Code => [value, OP.eqz]
export const when = (test: Code, then: Code): Code => [test, 0x04, VOID, then, END]
export const either = (test: Code, then: Code, otherwise: Code): Code => [test, 0x04, VOID, then, 0x05, otherwise, END]
/** One of two values, of which both are worked out. */
export const select = (test: Code, then: Code, otherwise: Code): Code => [then, otherwise, test, 0x1b]
/** A block that `leave` goes to the end of; each `when` around the `leave` counts as one more. */
export const block = (body: Code): Code => [0x02, VOID, body, END]
export const leave = (depth: number): Code => [0x0c, ...unsigned(depth)]
/** Repeats while the test at its end holds. */
export const loopWhile = (body: Code, test: Code): Code => [0x03, VOID, body, test, 0x0d, 0x00, END]
export const give = (value: Code): Code => [value, 0x0f]
export const call = (index: number, ...parameters: readonly Code[]): Code => [...parameters, 0x10, ...unsigned(index)]
export const load = (address: Code, offset: number): Code => [address, 0x28, 2, ...unsigned(offset)]
export const store = (address: Code, value: Code, offset: number): Code => [
  address,
  value,
  0x36,
  2,
  ...unsigned(offset),
]
export const loadByte = (address: Code, offset: number): Code => [address, 0x2d, 0, ...unsigned(offset)]
export const storeByte = (address: Code, value: Code, offset: number): Code => [
  address,
  value,
  0x3a,
  0,
  ...unsigned(offset),
]

/** What a function takes and whether it gives a number; all are 32-bit integers. */
export interface Signature {
  readonly parameters: number
  readonly gives: boolean
}

export interface FunctionCode extends Signature {
  readonly exported?: string
  /** Locals besides the parameters. */
  readonly locals: number
  readonly body: Code
}

/**
 * A module that imports `env.memory` and functions of `env`, which come first in the numbering of
 * functions, in their order.
 */
export function moduleBytes(
  imports: readonly (Signature & { readonly name: string })[],
  functions: readonly FunctionCode[],
): Uint8Array<ArrayBuffer> {
  const all = [...imports, ...functions]
  const type = ({ parameters, gives }: Signature): Code => [
    0x60,
    ...unsigned(parameters),
    Array<number>(parameters).fill(I32),
    gives ? [1, I32] : [0],
  ]
  const bodies = functions.map(({ locals, body }): Piece[] => {
    const bytes = flat([locals === 0 ? [0] : [1, ...unsigned(locals), I32], body, END])
    return [unsigned(bytes.length), bytes]
  })
  const pieces: Piece[] = [
    [0x00, 0x61, 0x73, 0x6d, 1, 0, 0, 0],
    ...section(
      1,
      all.map((one) => flat(type(one))),
    ),
    ...section(2, [
      flat([name('env'), name('memory'), 2, 0, 1]),
      ...imports.map((one, index) => flat([name('env'), name(one.name), 0, ...unsigned(index)])),
    ]),
    ...section(
      3,
      functions.map((_, index) => unsigned(imports.length + index)),
    ),
    ...section(
      7,
      functions.flatMap((one, index) =>
        one.exported === undefined ? [] : [flat([name(one.exported), 0, ...unsigned(imports.length + index)])],
      ),
    ),
    ...section(10, bodies.flat(), functions.length),
  ]
  const bytes = new Uint8Array(lengthOf(pieces))
  let at = 0
  for (const piece of pieces) {
    bytes.set(piece, at)
    at += piece.length
  }
  return bytes
}

type Piece = readonly number[] | Uint8Array

/** A section of so many entries, in pieces. */
function section(id: number, entries: readonly Piece[], count = entries.length): Piece[] {
  const counted = unsigned(count)
  return [[id, ...unsigned(counted.length + lengthOf(entries))], counted, ...entries]
}

const lengthOf = (pieces: readonly Piece[]) => pieces.reduce((sum, { length }) => sum + length, 0)

function name(text: string): Code {
  return [...unsigned(text.length), ...Array.from(text, (letter) => letter.charCodeAt(0))]
}

/** The bytes of code, one after another. */
function flat(code: Code): Uint8Array {
  const bytes = new Uint8Array(sizeOf(code))
  write(code, bytes, 0)
  return bytes
}

// code is put together once, so these hardly ever run as fast as they could: no iterators
function sizeOf(code: Code): number {
  let size = 0
  for (let at = 0; at < code.length; at += 1) {
    const part = code[at]!
    size += typeof part === 'number' ? 1 : sizeOf(part)
  }
  return size
}

function write(code: Code, bytes: Uint8Array, from: number): number {
  let to = from
  for (let at = 0; at < code.length; at += 1) {
    const part = code[at]!
    if (typeof part === 'number') {
      bytes[to] = part
      to += 1
    } else to = write(part, bytes, to)
  }
  return to
}

/** LEB128, as the format writes whole numbers. */
function unsigned(value: number): number[] {
  const bytes: number[] = []
  let rest = value
  do {
    const low = rest & 0x7f
    rest >>>= 7
    bytes.push(rest === 0 ? low : low | 0x80)
  } while (rest !== 0)
  return bytes
}

function signed(value: number): number[] {
  const bytes: number[] = []
  let rest = value | 0
  for (;;) {
    const low = rest & 0x7f
    rest >>= 7
    if ((rest === 0 && (low & 0x40) === 0) || (rest === -1 && (low & 0x40) !== 0)) return [...bytes, low]
    bytes.push(low | 0x80)
  }
}
