import { readableText } from '../story/readable'
import type { TextRow } from './rows'

/** Signs of a text as a reader counts them. */
export function signsOf(text: string): number {
  return [...readableText(text)].length
}

/** Whether a text of a beat has more signs than fit; names, and what the journal reads, are shown elsewhere. */
export function isTooLong({ beat }: Pick<TextRow, 'beat'>, text: string, limit: number | undefined): boolean {
  return limit !== undefined && beat !== undefined && signsOf(text) > limit
}
