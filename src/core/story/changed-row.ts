import { isSame } from '../base/same'
import { isPlain, type Beat, type Line, type Story } from './types'

/** The address of the first row at which a beat of one story differs from the same beat of another; undefined where no beat does. */
export function changedRow(before: Story, after: Story): string | undefined {
  for (const { id: scene, beats } of after.scenes) {
    const old = before.scenes.find(({ id }) => id === scene)?.beats
    if (old === beats) continue
    const known = new Map(old?.map((beat) => [beat.id, beat]))
    for (const beat of beats) {
      const was = known.get(beat.id)
      if (was !== beat && (was === undefined || !isSame(was, beat)))
        return `${scene}.${beat.id}${was === undefined ? '' : rowOf(was, beat)}`
    }
    // one is gone: whatever stands there now
    const gone = old?.findIndex(({ id }) => !beats.some((beat) => beat.id === id)) ?? -1
    if (gone !== -1 && beats.length > 0) return `${scene}.${beats[Math.min(gone, beats.length - 1)]!.id}`
  }
  return undefined
}

function rowOf(was: Beat, now: Beat): string {
  const line = lineOf(was.lines ?? [], now.lines ?? [])
  if (line !== undefined) return `#line${line}`
  const choices = now.choices ?? []
  const choice = choices.find((one) => !was.choices?.some((other) => isSame(one, other))) ?? choices.at(-1)
  if (!isSame(was.choices ?? [], choices)) return choice === undefined ? '' : `.${choice.id}`
  for (const kind of ['redirects', 'arrive', 'onward'] as const) {
    const at = firstDifferent(was[kind] ?? [], now[kind] ?? [])
    if (at !== undefined) return `#${kind === 'redirects' ? 'redirect' : kind}${at + 1}`
  }
  return isSame(was.ask, now.ask) ? ':name' : ':prompt'
}

function lineOf(was: readonly Line[], now: readonly Line[]): string | undefined {
  const at = firstDifferent(was, now)
  if (at === undefined) return undefined
  const [a, b] = [was[at], now[at]]
  const name = `${at + 1}`
  if (a === undefined || b === undefined || isPlain(a) || isPlain(b)) return name
  const [one, other] = [a, b].map((group) => ('firstOf' in group ? group.firstOf : group.inTurn))
  const inner = firstDifferent<object>(one!, other!)
  if (inner === undefined) return name
  const variant = `${name}.${'firstOf' in b ? 'variant' : 'turn'}${inner + 1}`
  const lines = [one, other].map(
    (list) => (list?.[inner] as { readonly lines?: readonly Line[] } | undefined)?.lines ?? [],
  )
  const deepest = firstDifferent(lines[0]!, lines[1]!)
  return deepest === undefined ? variant : `${variant}.line${deepest + 1}`
}

/** The place at which two lists differ first, in the second one; undefined where they do not. */
function firstDifferent<T>(was: readonly T[], now: readonly T[]): number | undefined {
  const at = now.findIndex((one, index) => !isSame(one, was[index]))
  if (at !== -1) return at
  return was.length > now.length ? Math.max(0, now.length - 1) : undefined
}
