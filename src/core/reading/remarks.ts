import { beatOf } from '../base/address'
import { parseTopic } from '../story/topic'
import type { Block, ReadingCopy } from './copy'

/** What people say to each other about something in a story (`core/story/topic.ts`); with what they talked of, as it read. */
export interface Talk {
  readonly topic: string
  readonly quote: string
  /** None while it is open. */
  readonly done: object | null
  readonly comments: readonly { readonly by: { readonly name: string }; readonly text: string }[]
}

/** A copy with what is still talked about in a beat below its title: who said what, and about which words. */
export function withComments(copy: ReadingCopy, threads: readonly Talk[]): ReadingCopy {
  const of = new Map<string, Block[]>()
  for (const { topic, quote, comments, done } of threads) {
    const parsed = parseTopic(topic)
    const beat = parsed?.of === 'at' ? beatOf(parsed.names[0]!) : undefined
    if (beat === undefined || done !== null) continue
    const about = quote === '' ? '' : ` on “${quote}”`
    const says = comments.map((one, at): Block => ({
      of: 'remark',
      text: `${at === 0 ? 'Comment' : 'Answer'} by ${one.by.name}${at === 0 ? about : ''}: ${one.text}`,
      depth: at === 0 ? 0 : 1,
    }))
    of.set(beat, [...(of.get(beat) ?? []), ...says])
  }
  const blocks = copy.blocks.flatMap((block) =>
    block.of === 'beat' ? [block, ...(of.get(block.address) ?? [])] : [block],
  )
  return { ...copy, blocks }
}
