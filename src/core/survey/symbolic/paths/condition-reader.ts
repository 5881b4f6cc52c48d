import type { Expr } from '../../../expression/ast'
import type { LinkedStory } from '../../../story/linked'
import type { Search } from '../../explicit/search'
import { variablesOf, variablesRead } from '../../summaries/variables'
import { partsOf, type Decided } from './demand'
import type { WatchedCompiler } from './watched-compiler'

/** Parts of a condition that are looked at one by one, at most. */
const PARTS_MOST = 16

/** What conditions read, and how they turn out; each is looked at once. */
export class ConditionReader {
  private readonly tests = new Map<Expr, () => boolean>()
  private readonly partsOfTrue = new Map<Expr, readonly Decided[]>()
  private readonly partsOfFalse = new Map<Expr, readonly Decided[]>()
  private readonly slotsOf = new Map<Expr, readonly number[]>()

  constructor(
    private readonly story: LinkedStory,
    private readonly search: Search,
    private readonly compiler: WatchedCompiler,
  ) {}

  /** What asks a condition of the values. */
  testOf(expr: Expr): () => boolean {
    const known = this.tests.get(expr) ?? this.compiler.bareTest(expr)
    this.tests.set(expr, known)
    return known
  }

  /** The parts of a condition; of a long row that row. */
  partsOf(condition: Decided): readonly Decided[] {
    const [expr, outcome] = condition
    const all = outcome ? this.partsOfTrue : this.partsOfFalse
    let parts = all.get(expr)
    if (parts === undefined) {
      const each = partsOf(condition)
      all.set(expr, (parts = each.length > PARTS_MOST ? [condition] : each))
    }
    return parts
  }

  /** The slots that a condition reads; -1 for what is not followed. */
  slotsIn(expr: Expr): readonly number[] {
    const known = this.slotsOf.get(expr)
    if (known !== undefined) return known
    const { story, search } = this
    const slots = [
      ...new Set(variablesRead(story, variablesOf(story), expr).map((variable) => search.slots.ofVariable[variable]!)),
    ]
    this.slotsOf.set(expr, slots)
    return slots
  }
}
