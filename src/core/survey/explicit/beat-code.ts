import { BeatWriter } from './beat-writer'
import { OPEN, type LeftRun, type WriterParts } from './code-plan'
import { binary, block, call, constant, either, get, leave, load, loopWhile, not, NOTHING, OP, set, store, storeByte, tee, when, type FunctionCode } from './wasm'

/**
 * The function that notes a successor of one word: takes it and where it goes, gives where the
 * next goes. What is new gets its bit and is put where new states go.
 */
export function writeAdd({ memory }: WriterParts): FunctionCode {
  const [state, at, word, bits, bit] = [0, 1, 2, 3, 4]
  const page = binary(OP.shiftRight, get(state), constant(memory.pageBits))
  const inPage = binary(OP.and, binary(OP.shiftRight, get(state), constant(5)), constant(2 ** (memory.pageBits - 5) - 1))
  const fresh = load(constant(0), memory.cursors + 4)
  const found = [
    set(word, load(binary(OP.shiftLeft, page, constant(2)), memory.pages)),
    when(not(get(word)), set(word, call(OPEN, page))),
    set(word, binary(OP.shiftLeft, binary(OP.add, get(word), inPage), constant(2))),
    set(bits, load(get(word), memory.bits)),
    set(bit, binary(OP.shiftLeft, constant(1), get(state))),
    when(not(binary(OP.and, get(bits), get(bit))), [
      store(get(word), binary(OP.or, get(bits), get(bit)), memory.bits),
      store(fresh, get(state), 0),
      store(constant(0), binary(OP.add, fresh, constant(4)), memory.cursors + 4),
    ]),
  ]
  // below 0 stands for an endless run
  const body = [store(get(at), get(state), 0), when(binary(OP.ge, get(state), constant(0)), found), binary(OP.add, get(at), constant(4))]
  return { parameters: 2, gives: true, locals: 3, body }
}

/**
 * The functions that play every open decision of states resting at a beat. The first takes the
 * index of the first state and one past the last, stops at one that rests elsewhere, and gives
 * the index it came to. Undefined where the beat holds something that is left to the interpreter.
 * `first` is the number the first function will have, `left` gets the runs that are left to the
 * interpreter.
 */
export function writeBeat(parts: WriterParts, beat: number, first: number, left: LeftRun[]): FunctionCode[] | undefined {
  const { story, compiler, layout, memory } = parts
  const linked = story.beats[beat]!
  if (linked.ask !== undefined || linked.ending !== -1 || linked.choices.length === 0) return undefined
  const takes: FunctionCode[] = []
  const main = new BeatWriter(parts, beat, 2, left)
  const [index, end] = [0, 1]
  const [at, from, pick] = [main.local(), main.local(), main.local()]
  const words = Array.from({ length: layout.words }, () => main.local())
  main.standsIn({ index: get(index), pick: constant(-1), at: get(at), words })
  linked.choices.forEach((choice, number) => {
    const take = new BeatWriter(parts, beat, layout.words + 3, left)
    take.standsIn({ words: words.map((_, word) => word), at: get(layout.words), index: get(layout.words + 1), pick: get(layout.words + 2) })
    take.take(choice)
    takes.push({ parameters: layout.words + 3, gives: true, locals: take.locals, body: [take.text(), get(layout.words)] })
    if (!take.supported) main.supported = false
    const open = main.open(choice)
    const offered = main.capture(() => {
      main.mark(main.part(choice.address))
      main.shown(choice.text, choice.address)
      main.emit(set(at, call(first + 1 + number, ...words.map(get), get(at), get(index), get(pick))))
      main.emit(set(pick, binary(OP.add, get(pick), constant(1))))
    })
    const greyed = choice.shownClosed ? main.capture(() => main.shown(choice.text, choice.address)) : NOTHING
    main.emit(greyed.length === 0 ? when(open, offered) : either(open, offered, greyed))
  })
  main.emit(when(not(get(pick)), main.capture(() => main.mark(compiler.marks.number('dead-end', linked.address)))))
  if (!main.supported) return undefined
  const fetch = words.map((word, number) => {
    const held = load(binary(OP.mul, get(index), constant(4 * layout.words)), memory.states + 4 * number)
    return set(word, number === 0 ? binary(OP.sub, held, constant(layout.baseOf(beat))) : held)
  })
  const elsewhere = binary(OP.geUnsigned, get(words[0]!), constant(layout.baseOf(beat + 1) - layout.baseOf(beat)))
  const body = [
    set(at, load(constant(0), memory.cursors)),
    block(
      loopWhile(
        [
          fetch,
          when(elsewhere, leave(2)),
          set(from, get(at)),
          set(pick, constant(0)),
          main.text(),
          storeByte(get(index), binary(OP.divUnsigned, binary(OP.sub, get(at), get(from)), constant(4 * layout.words)), memory.degrees),
        ],
        binary(OP.lt, tee(index, binary(OP.add, get(index), constant(1))), get(end)),
      ),
    ),
    store(constant(0), get(at), memory.cursors),
    get(index),
  ]
  return [{ exported: `beat${beat}`, parameters: 2, gives: true, locals: main.locals, body }, ...takes]
}
