import { TYPE, type MessageFormatElement } from '@formatjs/icu-messageformat-parser'
import { declareStory, type DeclaredStory } from './declare'
import type { LinkedBeat, LinkedStory, LinkedText, Problem } from './linked'
import { eachLine } from './linked-parts'
import { scopeOf } from './scope'
import { argumentsIn, formatTrouble, parseText, textArguments } from './text'
import type { Story, Translation } from './types'

/** What a key stands for: a text with the scene in which it is shown, or a name, which shows nothing of the story. */
export type Source =
  | { readonly kind: 'text'; readonly text: LinkedText; readonly scene: number }
  | { readonly kind: 'name'; readonly source: string }

/**
 * Everything in a story that can be translated and spoken, by its key: `line/SCENE.BEAT/ID`, `choice/SCENE.BEAT.CHOICE`,
 * `prompt/SCENE.BEAT`, `suggest/SCENE.BEAT/N`, `person/ID`, `ending/ID`, `quest/ID`, `stage/QUEST.STAGE`, `journal/QUEST.STAGE`; `term/ID` of the glossary can be translated.
 */
export function sourcesOf(
  declared: Pick<DeclaredStory, 'people' | 'endings' | 'quests' | 'terms'>,
  beats: readonly LinkedBeat[],
  journals: ReadonlyMap<string, LinkedText>,
): Map<string, Source> {
  const sources = new Map<string, Source>()
  const name = (key: string, source: string) => sources.set(key, { kind: 'name', source })
  for (const [id, person] of declared.people) name(`person/${id}`, person.name)
  for (const ending of declared.endings) name(`ending/${ending.id}`, ending.name)
  for (const quest of declared.quests) {
    name(`quest/${quest.id}`, quest.name)
    quest.stages.forEach((stage, at) => at > 0 && name(`stage/${quest.id}.${stage}`, quest.names[at]!))
  }
  for (const term of declared.terms) name(`term/${term.id}`, term.name)
  for (const [stage, text] of journals) sources.set(`journal/${stage}`, { kind: 'text', text, scene: -1 })
  for (const beat of beats) {
    const { address, scene, choices, ask } = beat
    eachLine(beat, ({ id, text }) => {
      if (id !== undefined) sources.set(`line/${address}/${id}`, { kind: 'text', text, scene })
    })
    for (const { address: own, text } of choices) sources.set(`choice/${own}`, { kind: 'text', text, scene })
    if (ask === undefined) continue
    sources.set(`prompt/${address}`, { kind: 'text', text: ask.prompt, scene })
    ask.suggest.forEach((word, at) => name(`suggest/${address}/${at + 1}`, word))
  }
  return sources
}

/** What is wrong with translations; one whose source is gone or has a problem itself is not judged. */
export function translationProblems(
  doc: Story,
  declared: DeclaredStory,
  beats: readonly LinkedBeat[],
  journals: ReadonlyMap<string, LinkedText>,
): Problem[] {
  if (doc.languages === undefined) return []
  const sources = sourcesOf(declared, beats, journals)
  const problems: Problem[] = []
  for (const [language, { texts }] of Object.entries(doc.languages)) {
    for (const [key, translation] of Object.entries(texts)) {
      const source = sources.get(key)
      const message = source && troubleOf(translation, source, declared)
      if (message !== undefined) problems.push({ address: key, part: language, message })
    }
  }
  return problems
}

/** The texts of a language that are shown, by key: those that can be, of what there is. */
export function soundTranslations(
  story: Pick<LinkedStory, 'doc' | 'inOrder' | 'journals'>,
  language: string,
): ReadonlyMap<string, readonly MessageFormatElement[]> {
  const found = new Map<string, readonly MessageFormatElement[]>()
  const declared = declareStory(story.doc)
  const sources = sourcesOf(declared, story.inOrder, story.journals)
  for (const [key, translation] of Object.entries(story.doc.languages?.[language]?.texts ?? {})) {
    const source = sources.get(key)
    if (source === undefined || troubleOf(translation, source, declared) !== undefined) continue
    if (source.kind === 'text' && source.text.parsed === undefined) continue
    const parsed = parseText(translation.text)
    if (parsed.ok) found.set(key, parsed.value)
  }
  return found
}

/** Why texts of a language, each by its key, would not play: asked for one after another, also before they are kept. */
export function translationTrouble(
  story: Pick<LinkedStory, 'doc' | 'inOrder' | 'journals'>,
): (key: string, text: string) => string | undefined {
  const declared = declareStory(story.doc)
  const sources = sourcesOf(declared, story.inOrder, story.journals)
  return (key, text) => {
    const source = sources.get(key)
    return source && troubleOf({ text }, source, declared)
  }
}

/** Why a translation can't be shown; then its source is. */
function troubleOf({ text }: Translation, source: Source, declared: DeclaredStory): string | undefined {
  if (source.kind === 'text' && !source.text.isPlain && source.text.parsed === undefined) return undefined
  const parsed = parseText(text)
  if (!parsed.ok) return parsed.error
  // a name is shown without being formatted, so a brace in it would be a slip
  if (source.kind === 'name' && parsed.value.some((part) => part.type === TYPE.literal && /[{}]/.test(part.value)))
    return 'a name has no braces'
  const found = textArguments(parsed.value, scopeOf(declared, source.kind === 'text' ? source.scene : -1))
  const allowed = new Set(
    source.kind === 'text' && source.text.parsed !== undefined
      ? argumentsIn(source.text.parsed).map(({ of, id }) => `${of} ${id}`)
      : [],
  )
  const foreign = argumentsIn(parsed.value).find(({ of, id }) => !allowed.has(`${of} ${id}`))
  if (foreign !== undefined) {
    const shown = foreign.of === 'quest' ? `quest_${foreign.id}` : foreign.id
    return source.kind === 'name'
      ? `a name is words alone, and this shows "${shown}"`
      : `this shows "${shown}", and what it translates does not`
  }
  return found.ok ? formatTrouble(parsed.value) : found.error
}
