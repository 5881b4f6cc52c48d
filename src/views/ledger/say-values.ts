import { valuesOf } from '../../core/story/rename/change-kind'
import type { Entry } from '../../core/story/types'
import type { TakenValues } from '../../core/survey/questions/entry-values'
import { sayValue } from '../../session/names'

/** "0 to 6", "1, 3, 5", "dark, lit": numbers that follow one another are told as a range. */
export function sayValues(values: readonly (boolean | number | string)[]): string {
  const parts: string[] = []
  for (let at = 0; at < values.length; at += 1) {
    let end = at
    while (typeof values[end] === 'number' && values[end + 1] === Number(values[end]) + 1) end += 1
    if (end - at >= 2) {
      parts.push(`${sayValue(values[at])} to ${sayValue(values[end])}`)
      at = end
    } else parts.push(sayValue(values[at]))
  }
  return parts.join(', ')
}

/** Values that were declared and that the entry never has where the story rests. */
export function neverTaken(entry: Entry, taken: TakenValues): readonly (boolean | number | string)[] {
  return (valuesOf(entry) ?? []).filter((value) => !taken.values.includes(value))
}
