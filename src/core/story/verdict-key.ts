import type { Beat, Story } from './types'

/**
 * A fingerprint of what verdicts depend on in a beat: all but notes and the wording of plain
 * text. Two beats of one key are surveyed alike.
 */
const keys = new WeakMap<Beat, string>()

export function beatVerdictKey(beat: Beat): string {
  const known = keys.get(beat)
  if (known !== undefined) return known
  const key = JSON.stringify(beat, (name, value: unknown) => {
    if (name === 'notes' || name === 'manner' || name === 'suggest') return undefined
    // text with arguments can be a problem or show an unset entry
    if ((name === 'text' || name === 'prompt') && typeof value === 'string' && !/[{}']/.test(value)) return ''
    return value
  })
  keys.set(beat, key)
  return key
}

/** Whether no verdict can differ between two stories. */
export function sameVerdicts(a: Story, b: Story): boolean {
  if (a === b) return true
  for (const key of [
    'start',
    'language',
    'cast',
    'ledger',
    'quests',
    'endings',
    'promises',
    'routes',
    'languages',
  ] as const) {
    if (a[key] !== b[key]) return false
  }
  if (a.scenes === b.scenes) return true
  return (
    a.scenes.length === b.scenes.length &&
    a.scenes.every((scene, index) => {
      const other = b.scenes[index]!
      if (scene === other) return true
      if (scene.id !== other.id || scene.ledger !== other.ledger || scene.beats.length !== other.beats.length)
        return false
      return scene.beats.every(
        (beat, at) => beat === other.beats[at] || beatVerdictKey(beat) === beatVerdictKey(other.beats[at]!),
      )
    })
  )
}
