import type { Translations } from '../story/changes/types'
import type { TextRow } from './rows'

/** A text as it comes back from whoever worked on it. */
export interface IncomingText {
  readonly key: string
  /** What they translated. */
  readonly source?: string
  readonly text: string
  readonly state?: 'draft' | 'checked'
  /** `markOf` what it was when it went out; undefined: nobody knows. */
  readonly was?: string
}

/**
 * What becomes of a text that comes back. `same`: nothing; `empty`: nothing was written; `conflict`: the source or the
 * translation changed here since it went out; `unknown`: there is no such text any more; `broken`: it would not play.
 */
export type Fate = 'new' | 'changed' | 'same' | 'empty' | 'conflict' | 'unknown' | 'broken'

export interface Judged {
  readonly incoming: IncomingText
  readonly fate: Fate
  readonly row: TextRow | undefined
  /** Of a conflict, and of what is broken. */
  readonly why?: string
}

/** By what a translation is known again when it comes back: 32 bits of FNV-1a (Fowler, Noll, Vo 1991) in hex; of none "0". */
export function markOf(text: string | undefined): string {
  if (text === undefined || text === '') return '0'
  let hash = 0x811c9dc5
  for (let at = 0; at < text.length; at += 1) hash = Math.imul(hash ^ text.charCodeAt(at), 0x01000193) >>> 0
  return hash.toString(16)
}

/** Each text that came, once: of double keys the last counts. `trouble`: why a text would not play. */
export function judge(
  rows: readonly TextRow[],
  incoming: readonly IncomingText[],
  trouble: (key: string, text: string) => string | undefined,
): Judged[] {
  const byKey = new Map(rows.map((row) => [row.key, row]))
  return [...new Map(incoming.map((one) => [one.key, one])).values()].map((one): Judged => {
    const row = byKey.get(one.key)
    if (row === undefined) return { incoming: one, row, fate: 'unknown' }
    if (one.text === '') return { incoming: one, row, fate: 'empty' }
    const isChecked = one.state === 'checked'
    if (one.text === row.text && (row.state === 'checked') === isChecked && row.of === undefined)
      return { incoming: one, row, fate: 'same' }
    const why = trouble(one.key, one.text)
    if (why !== undefined) return { incoming: one, row, fate: 'broken', why }
    if (one.source !== undefined && one.source !== row.source)
      return { incoming: one, row, fate: 'conflict', why: 'the source was changed since' }
    if (one.was !== undefined && one.was !== markOf(row.text) && one.text !== row.text)
      return { incoming: one, row, fate: 'conflict', why: 'it was translated otherwise here since' }
    return { incoming: one, row, fate: row.text === undefined || row.text === '' ? 'new' : 'changed' }
  })
}

/** The translations that go in, of what was judged and chosen. */
export function translationsOf(chosen: readonly Judged[]): Translations {
  return Object.fromEntries(
    chosen.map(({ incoming: { key, text, state, source }, row }) => [
      key,
      { text, of: source ?? row?.source ?? '', ...(state === 'checked' ? { state } : {}) },
    ]),
  )
}
