import { beatAt } from '../beat-at'
import { linesOf, type Choice, type Story } from '../types'

/** Whom a choice most likely approaches: the one person named in its text, else who speaks first where it leads. */
export function personMeant(story: Story, { text, to }: Choice): string | undefined {
  const words = new Set(wordsOf(text))
  const named = (story.cast ?? []).filter(({ name }) => wordsOf(name).some((word) => words.has(word)))
  if (named.length === 1) return named[0]!.id
  const target = typeof to === 'string' ? to : to.at(-1)?.to
  const beat = target === undefined ? undefined : beatAt(story, target)
  const speakers = beat === undefined ? [] : linesOf(beat).flatMap(({ speaker }) => speaker ?? [])
  const among = named.length > 1 ? speakers.find((id) => named.some((person) => person.id === id)) : speakers[0]
  return story.cast?.some(({ id }) => id === among) ? among : undefined
}

function wordsOf(text: string): string[] {
  return text.toLowerCase().match(/[\p{L}\p{N}]{2,}/gu) ?? []
}
