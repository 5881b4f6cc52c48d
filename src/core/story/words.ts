import type { MessageFormatElement } from '@formatjs/icu-messageformat-parser'
import { countWords } from '../base/count-words'
import { isPlain, parseText } from './text'
import { linesOf, type Beat, type Scene, type Story } from './types'

/** The words of a text as it is read: of forms the longest, and one for what is filled in; 0 where it can't be read. */
export function wordsOfText(source: string, language: string): number {
  if (isPlain(source)) return countWords(source, language)
  const parsed = parseText(source)
  return parsed.ok ? wordsOfParts(parsed.value, language) : 0
}

function wordsOfParts(parts: readonly MessageFormatElement[], language: string): number {
  let words = 0
  for (const part of parts) {
    if (part.type === 0) words += countWords(part.value, language)
    else if ('options' in part)
      words += Math.max(0, ...Object.values(part.options).map(({ value }) => wordsOfParts(value, language)))
    else if ('children' in part) words += wordsOfParts(part.children, language)
    else words += 1
  }
  return words
}

interface Known {
  readonly language: string
  readonly words: number
}
const counted = new WeakMap<Beat | Scene, Known>()

function countedOnce(part: Beat | Scene, language: string, count: () => number): number {
  const known = counted.get(part)
  if (known?.language === language) return known.words
  const words = count()
  counted.set(part, { language, words })
  return words
}

/** The words of a beat's lines, choices and question. */
export function wordsOfBeat(beat: Beat, language: string): number {
  return countedOnce(beat, language, () => {
    const texts = [...linesOf(beat), ...(beat.choices ?? [])].map(({ text }) => text)
    if (beat.ask !== undefined) texts.push(beat.ask.prompt)
    return texts.reduce((sum, text) => sum + wordsOfText(text, language), 0)
  })
}

function wordsOfScene(scene: Scene, language: string): number {
  return countedOnce(scene, language, () => scene.beats.reduce((sum, beat) => sum + wordsOfBeat(beat, language), 0))
}

/** A note that begins so is something to be done. */
export function isTodo(note: string | undefined): boolean {
  return note !== undefined && /^\s*to-?do\b/i.test(note)
}

const todosOf = new WeakMap<object, number>()

/** How many notes anywhere in a part of a story say that something is to be done. */
function todosIn(part: unknown): number {
  if (typeof part !== 'object' || part === null) return 0
  const known = todosOf.get(part)
  if (known !== undefined) return known
  const { notes } = part as { notes?: unknown }
  let todos = typeof notes === 'string' && isTodo(notes) ? 1 : 0
  for (const inner of Object.values(part)) todos += todosIn(inner)
  todosOf.set(part, todos)
  return todos
}

/** What there is to tell of the writing of a whole story. */
export interface WritingFacts {
  readonly words: number
  readonly todos: number
  /** Its own language, and those that it is being told in. */
  readonly languages: readonly string[]
}

export function writingFacts(story: Story): WritingFacts {
  const { language, scenes, languages = {} } = story
  const words = scenes.reduce((sum, scene) => sum + wordsOfScene(scene, language), 0)
  return { words, todos: todosIn({ ...story, languages: undefined }), languages: [language, ...Object.keys(languages)] }
}
