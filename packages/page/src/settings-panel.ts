import { button, make } from './element'
import type { Kept, Shelf } from './kept'
import { languageName, type Words } from './words'

const SIZES = [85, 100, 115, 135, 160, 200]

/** Text size, and light or dark, on the page. */
export function applyLook({ size = 100, look = 'auto' }: Kept): void {
  document.documentElement.style.fontSize = `${size}%`
  document.documentElement.dataset['look'] = look
}

interface Panel {
  readonly words: Words
  readonly shelf: Shelf
  readonly languages: readonly string[]
  readonly language: string
  speak(language: string): void
  anew(): void
  /** Undefined where nothing is recorded. */
  saveRecord: (() => void) | undefined
  readonly credits: string | undefined
}

/** What a reader sets: size, light, language; and how to begin anew. */
export function settingsPanel({ words, shelf, languages, language, speak, anew, saveRecord, credits }: Panel): Node[] {
  const size = (by: number) => {
    const at = SIZES.indexOf(shelf.all.size ?? 100) + by
    if (SIZES[at] === undefined) return
    shelf.put({ size: SIZES[at] })
    applyLook(shelf.all)
  }
  const looks = make('select', { id: 'look' })
  for (const [value, text] of [
    ['auto', words.auto],
    ['day', words.day],
    ['night', words.night],
  ] as const)
    looks.append(make('option', { value, selected: (shelf.all.look ?? 'auto') === value }, text))
  looks.addEventListener('change', () => {
    shelf.put({ look: looks.value as NonNullable<Kept['look']> })
    applyLook(shelf.all)
  })
  const tongues = make('select', { id: 'language' })
  for (const tag of languages)
    tongues.append(make('option', { value: tag, lang: tag, selected: tag === language }, languageName(tag)))
  tongues.addEventListener('change', () => speak(tongues.value))
  const row = (label: Node, ...more: Node[]) => make('p', { class: 'setting' }, label, ...more)
  return [
    row(
      make('span', {}, words.size),
      button(words.smaller, () => size(-1)),
      button(words.larger, () => size(1)),
    ),
    row(make('label', { for: 'look' }, words.light), looks),
    ...(languages.length > 1 ? [row(make('label', { for: 'language' }, words.language), tongues)] : []),
    ...(saveRecord === undefined ? [] : [make('p', {}, button(words.saveRecord, saveRecord))]),
    make('p', {}, button(words.anew, anew)),
    ...(credits ? [make('h3', {}, words.credits), make('p', { class: 'credits' }, credits)] : []),
  ]
}
