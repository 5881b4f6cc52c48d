import { seededRandom } from '../../base/random'
import {
  binary,
  block,
  call,
  constant,
  either,
  get,
  give,
  leave,
  load,
  loadByte,
  loopWhile,
  moduleBytes,
  not,
  NOTHING,
  OP,
  set,
  store,
  storeByte,
  tee,
  when,
  type Code,
  type FunctionCode,
} from './wasm'

type Run = (...numbers: readonly number[]) => number

/** Runs functions of two numbers, each exported as f0, f1, …; `hear` gets what they tell. */
function compiled(
  bodies: readonly Code[],
  hear: (told: number) => void = () => undefined,
): { readonly run: Run[]; readonly memory: WebAssembly.Memory } {
  const memory = new WebAssembly.Memory({ initial: 1 })
  const functions = bodies.map((body, index): FunctionCode => ({
    exported: `f${index}`,
    parameters: 2,
    gives: true,
    locals: 1,
    body,
  }))
  const made = new WebAssembly.Instance(
    new WebAssembly.Module(moduleBytes([{ name: 'hear', parameters: 1, gives: false }], functions)),
    { env: { memory, hear } },
  )
  return { run: bodies.map((_, index) => made.exports[`f${index}`] as Run), memory }
}

test('whole numbers of every length are written as they are', () => {
  const edges = [0, 1, -1, 63, 64, -64, -65, 127, 128, 8191, 8192, -8193, 2 ** 20, 2 ** 27, 2 ** 31 - 1, -(2 ** 31)]
  const random = seededRandom(5)
  const numbers = [...edges, ...Array.from({ length: 200 }, () => (random.below(2 ** 32) | 0) >> random.below(32))]
  const { run } = compiled(numbers.map((number) => constant(number)))
  expect(run.map((one) => one(0, 0))).toEqual(numbers)
})

test('arithmetic and comparisons are those of 32-bit numbers', () => {
  const random = seededRandom(6)
  const operations: readonly (readonly [number, (a: number, b: number) => number])[] = [
    [OP.add, (a, b) => (a + b) | 0],
    [OP.sub, (a, b) => (a - b) | 0],
    [OP.mul, Math.imul],
    [OP.and, (a, b) => a & b],
    [OP.or, (a, b) => a | b],
    [OP.shiftLeft, (a, b) => a << b],
    [OP.shiftRight, (a, b) => (a >>> b) | 0],
    [OP.divUnsigned, (a, b) => ((a >>> 0) / (b >>> 0)) | 0],
    [OP.remUnsigned, (a, b) => ((a >>> 0) % (b >>> 0)) | 0],
    [OP.eq, (a, b) => Number(a === b)],
    [OP.ne, (a, b) => Number(a !== b)],
    [OP.lt, (a, b) => Number(a < b)],
    [OP.gt, (a, b) => Number(a > b)],
    [OP.le, (a, b) => Number(a <= b)],
    [OP.ge, (a, b) => Number(a >= b)],
    [OP.geUnsigned, (a, b) => Number(a >>> 0 >= b >>> 0)],
  ]
  const { run } = compiled(operations.map(([op]) => binary(op, get(0), get(1))))
  for (let round = 0; round < 300; round += 1) {
    const a = (random.below(2 ** 32) | 0) >> random.below(32)
    const b = round % 5 === 0 && a !== 0 ? a : (random.below(2 ** 32) | 0) >> random.below(32) || 1
    operations.forEach(([op, means], at) => {
      expect({ op, a, b, gives: run[at]!(a, b) }).toEqual({ op, a, b, gives: means(a, b) })
    })
  }
})

test('branches, loops, memory and calls do what they say', () => {
  const told: number[] = []
  const [a, b, local] = [get(0), get(1), get(2)]
  const { run, memory } = compiled(
    [
      // the larger of two numbers
      [either(binary(OP.gt, a, b), set(2, a), set(2, b)), local],
      // the sum of the numbers below the first
      [
        when(not(a), give(constant(0))),
        loopWhile(set(2, binary(OP.add, local, a)), tee(0, binary(OP.sub, a, constant(1)))),
        local,
      ],
      // leaves two blocks at once
      [block([block([when(a, leave(2)), set(2, constant(7))]), set(2, binary(OP.add, local, constant(1)))]), local],
      // a word and a byte, at an address and beside it
      [store(a, b, 300), storeByte(a, b, 200), binary(OP.add, load(a, 300), loadByte(a, 200))],
      [call(0, a), call(0, b), NOTHING, constant(1)],
    ],
    (number) => told.push(number),
  )
  expect([run[0]!(3, 9), run[0]!(9, 3)]).toEqual([9, 9])
  expect([run[1]!(4, 0), run[1]!(0, 0)]).toEqual([10, 0])
  expect([run[2]!(0, 0), run[2]!(1, 0)]).toEqual([8, 0])
  expect(run[3]!(1000, 70_000)).toBe(70_000 + (70_000 & 255))
  expect(new Int32Array(memory.buffer)[1300 / 4]).toBe(70_000)
  run[4]!(5, 6)
  expect(told).toEqual([5, 6])
})
