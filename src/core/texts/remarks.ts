import { beatOf, ownerOf, parseAddress } from '../base/address'
import { remarksOf, type Talk } from '../story/talk'
import { parseTopic, partAt } from '../story/topic'
import type { Story } from '../story/types'
import type { TextRow } from './rows'

/**
 * Rows with what is still talked about among their notes: what is said of a text beside it, of anything else in a beat beside
 * the first text there. What is about no text (an entry, a finding) stands nowhere.
 */
export function rowsWithComments(rows: readonly TextRow[], story: Story, threads: readonly Talk[]): TextRow[] {
  const keys = new Set(rows.map(({ key }) => key))
  const firsts = new Map<string, string>()
  for (const { beat, key } of rows) if (beat !== undefined && !firsts.has(beat)) firsts.set(beat, key)
  const said = new Map<string, string[]>()
  for (const talk of threads) {
    if (talk.done !== null) continue
    const own = keyOf(story, talk.topic)
    const key = own !== undefined && keys.has(own) ? own : firsts.get(beatOf(talk.topic.slice(3)) ?? '')
    if (key !== undefined) said.set(key, [...(said.get(key) ?? []), ...remarksOf(talk)])
  }
  return rows.map((row) => {
    const remarks = said.get(row.key)
    if (remarks === undefined) return row
    return { ...row, notes: [...(row.notes === undefined ? [] : [row.notes]), ...remarks].join('\n') }
  })
}

/** The key of the text that a topic names, if it names one. */
function keyOf(story: Story, text: string): string | undefined {
  const topic = parseTopic(text)
  if (topic === undefined) return undefined
  const [name] = topic.names
  if (topic.of !== 'at') return `${topic.of}/${name!}`
  const { choice, steps } = parseAddress(name!)!
  if (choice !== undefined) return `choice/${ownerOf(name!)}`
  if (steps.length === 0) return undefined
  const id = partAt(story, text)?.id
  return id === undefined ? undefined : `line/${beatOf(name!)!}/${id}`
}
