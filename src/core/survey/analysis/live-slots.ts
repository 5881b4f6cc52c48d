import { each } from './adjacency'
import type { ChunkTransfer } from './chunk-transfer'
import type { FlowGraph } from './flow-graph'
import { Worklist } from './worklist'

/**
 * Where the slots of a chunk are live: the least fixpoint, backward over the roads. What it finds stands in `live` of
 * the transfer functions.
 */
export class LiveSlots {
  private readonly work: Worklist
  private readonly components: Worklist

  constructor(private readonly roads: FlowGraph) {
    this.work = new Worklist(roads.order.toReversed())
    this.components = new Worklist(Int32Array.from(roads.layerOf.keys()).reverse())
  }

  /** From nothing. */
  find(transfer: ChunkTransfer): void {
    const { work } = this
    const { named, inScope } = transfer
    for (let at = 0; at < named.length; at += 1) if (inScope[named[at]!] === 1) work.add(named[at]!)
    if (transfer.watchesAll)
      for (let beat = 0; beat < inScope.length; beat += 1) if (inScope[beat] === 1) work.add(beat)
    this.settle(transfer)
  }

  /**
   * From what was live before an edit, which stands there already, where it did. `edited`: beats whose own steps or roads
   * are others now. What is live in a strongly connected component hangs on nothing but its own beats and on later
   * components, so only those are looked at anew in which a beat was edited, came into scope, or leads to one at which
   * something else is live now. Gives the beats of which that is so.
   */
  findAgain(
    transfer: ChunkTransfer,
    before: { readonly live: Int32Array; readonly inScope: Uint8Array },
    edited: readonly number[],
  ): number[] {
    const { live, inScope } = transfer
    const { components, work } = this
    const { layerOf, membersOf, sources } = this.roads
    for (const beat of edited) if (inScope[beat] === 1) components.add(layerOf[beat]!)
    for (let beat = 0; beat < inScope.length; beat += 1)
      if (inScope[beat] === 1 && before.inScope[beat] === 0) components.add(layerOf[beat]!)
    const moved: number[] = []
    for (let one = components.take(); one !== -1; one = components.take()) {
      each(membersOf, one, (beat) => {
        live[beat] = 0
        if (inScope[beat] === 1) work.add(beat)
      })
      this.settle(transfer, one)
      each(membersOf, one, (beat) => {
        if (live[beat] === before.live[beat]) return
        moved.push(beat)
        each(sources, beat, (source) => {
          if (inScope[source] === 1 && layerOf[source] !== one) components.add(layerOf[source]!)
        })
      })
    }
    return moved
  }

  /** Looks at beats until nothing more comes to be live; only at those of one component, if it is given. */
  private settle(transfer: ChunkTransfer, component = -1): void {
    const { work } = this
    const { sources, layerOf } = this.roads
    const { live, inScope } = transfer
    for (let beat = work.take(); beat !== -1; beat = work.take()) {
      const now = live[beat]! | transfer.before(beat)
      if (now === live[beat]) continue
      live[beat] = now
      for (let at = sources.first[beat]!; at < sources.first[beat + 1]!; at += 1) {
        const source = sources.beats[at]!
        if (inScope[source] === 1 && (component === -1 || layerOf[source] === component)) work.add(source)
      }
    }
  }
}
