import { operandsOf, type Expr } from '../../../expression/ast'
import type { LinkedStory } from '../../../story/linked'
import type { Search } from '../../explicit/search'
import { variablesOf, variablesRead } from '../../summaries/variables'
import type { Decided } from './demand'
import type { WatchedCompiler } from './watched-compiler'

/** Parts of a condition that are looked at one by one, at most. */
const PARTS_MOST = 16

/** What conditions read, and how they turn out; each is looked at once. */
export class ConditionReader {
  private readonly tests = new Map<Expr, () => boolean>()
  /** What has to hold for a condition to, and what must not for it not to. */
  private readonly whole = new Map<Expr, readonly Decided[]>()
  private readonly none = new Map<Expr, readonly Decided[]>()
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

  /** Conditions that all have to turn out so for one to do; of a long row that row. */
  partsOf(condition: Decided): readonly Decided[] {
    const [expr, outcome] = condition
    const known = (outcome ? this.whole : this.none).get(expr)
    if (known !== undefined) return known
    const operands = operandsOf(expr, outcome ? 'and' : 'or')
    const parts = operands.length > PARTS_MOST ? [condition] : operands.map((part): Decided => [part, outcome])
    ;(outcome ? this.whole : this.none).set(expr, parts)
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
