import type { Slices } from '../../base/slices'
import { BeatWriter } from './run-writer'
import type { LeftRun, WriterParts } from './code-plan'
import { Locals } from './locals'
import {
  binary,
  block,
  call,
  constant,
  either,
  get,
  leave,
  load,
  loopWhile,
  NOTHING,
  OP,
  set,
  store,
  storeByte,
  tee,
  when,
  type FunctionCode,
} from './wasm'

/** Statements of a choice that is played without asking first whether it is open. */
const STRAIGHT_MAX = 12

/**
 * The functions that play every open decision of states resting at a beat. The first takes the
 * index of the first state and one past the last, stops at one that rests elsewhere, and gives
 * the index it came to. Undefined where the beat holds something that is left to the interpreter.
 * `first` is the number the first function will have, `left` gets the runs that are left to the
 * interpreter. Others get their turn after each choice.
 */
export function* writeBeat(
  parts: WriterParts,
  beat: number,
  first: number,
  left: LeftRun[],
): Slices<FunctionCode[] | undefined> {
  const { story, compiler, layout, memory } = parts
  const linked = story.beats[beat]!
  if (linked.ask !== undefined || linked.ending !== -1 || linked.choices.length === 0) return undefined
  const takes: FunctionCode[] = []
  const locals = new Locals(2)
  const main = new BeatWriter(parts, beat, locals, left)
  const [index, end] = [0, 1]
  const [at, from] = [locals.another(), locals.another()]
  const words = Array.from({ length: layout.cells }, () => locals.another())
  const bytes = 4 * layout.cells
  main.standsIn({ index: get(index), pick: constant(-1), at: get(at), words })
  for (const choice of linked.choices) {
    yield
    const open = main.open(choice)
    const offered = main.capture(() => {
      main.event(main.part(choice.address))
      main.shown(choice.text, choice.address)
    })
    const greyed = choice.shownClosed ? main.capture(() => main.shown(choice.text, choice.address)) : NOTHING
    const takeLocals = new Locals(layout.cells + 3)
    const take = new BeatWriter(parts, beat, takeLocals, left)
    const standing = {
      words: words.map((_, word) => word),
      at: get(layout.cells),
      index: get(layout.cells + 1),
      pick: get(layout.cells + 2),
    }
    take.standsIn(standing)
    take.take(choice)
    if (!take.supported) main.supported = false
    if (take.isStraight && take.statements <= STRAIGHT_MAX) {
      // played whether it is open or not, and where it goes is kept if it is: quicker than guessing which are open
      const kept = locals.another()
      main.emit(set(kept, open))
      if (offered.length > 0 || greyed.length > 0) main.branch(either(get(kept), offered, greyed))
      const inline = new BeatWriter(parts, beat, locals, left, main)
      inline.standsIn({ index: get(index), pick: constant(-1), at: get(at), words })
      inline.take(choice)
      main.emit(inline.bare)
      inline.successor.forEach((value, word) => main.emit(store(get(at), value, 4 * word)))
      main.emit(set(at, binary(OP.add, get(at), binary(OP.mul, get(kept), constant(bytes)))))
    } else {
      const pick = binary(OP.divUnsigned, binary(OP.sub, get(at), get(from)), constant(bytes))
      const go = set(at, call(first + 1 + takes.length, ...words.map(get), get(at), get(index), pick))
      takes.push({
        parameters: layout.cells + 3,
        gives: true,
        locals: takeLocals.count,
        body: [take.text(), get(layout.cells)],
      })
      main.emit(greyed.length === 0 ? when(open, [offered, go]) : either(open, [offered, go], greyed))
    }
  }
  main.emit(
    when(
      binary(OP.eq, get(at), get(from)),
      main.capture(() => main.event(compiler.events.number('dead-end', linked.address))),
    ),
  )
  if (!main.supported) return undefined
  const fetch = words.map((word, number) => {
    const held = load(binary(OP.mul, get(index), constant(bytes)), memory.states + 4 * number)
    return set(word, number === 0 ? binary(OP.sub, held, constant(layout.baseOf(beat))) : held)
  })
  const elsewhere = binary(OP.geUnsigned, get(words[0]!), constant(layout.roomOf(beat)))
  const body = [
    set(at, load(constant(0), memory.cursor)),
    block(
      loopWhile(
        [
          fetch,
          when(elsewhere, leave(2)),
          set(from, get(at)),
          main.text(),
          storeByte(
            get(index),
            binary(OP.divUnsigned, binary(OP.sub, get(at), get(from)), constant(bytes)),
            memory.degrees,
          ),
        ],
        binary(OP.lt, tee(index, binary(OP.add, get(index), constant(1))), get(end)),
      ),
    ),
    store(constant(0), get(at), memory.cursor),
    get(index),
  ]
  return [{ exported: `beat${beat}`, parameters: 2, gives: true, locals: locals.count, body }, ...takes]
}
