import { beatOf } from '../base/address'
import { remarksOf, type Talk } from '../story/talk'
import { parseTopic } from '../story/topic'
import type { Block, ReadingCopy } from './copy'

/** A copy with what is still talked about in a beat below its title. */
export function withComments(copy: ReadingCopy, threads: readonly Talk[]): ReadingCopy {
  const of = new Map<string, Block[]>()
  for (const talk of threads) {
    const parsed = parseTopic(talk.topic)
    const beat = parsed?.of === 'at' ? beatOf(parsed.names[0]!) : undefined
    if (beat === undefined || talk.done !== null) continue
    const says = remarksOf(talk).map((text, at): Block => ({ of: 'remark', text, depth: at === 0 ? 0 : 1 }))
    of.set(beat, [...(of.get(beat) ?? []), ...says])
  }
  const blocks = copy.blocks.flatMap((block) =>
    block.of === 'beat' ? [block, ...(of.get(block.address) ?? [])] : [block],
  )
  return { ...copy, blocks }
}
