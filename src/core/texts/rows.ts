import { sayCondition } from '../expression/words'
import { beatName } from '../story/beat-at'
import { sourcesOf } from '../story/languages'
import { declareStory } from '../story/declare'
import { isTodo } from '../story/words'
import type { Condition, LinkedBeat, LinkedLine, LinkedStory } from '../story/linked'
import { eachLine } from '../story/linked-parts'
import { linkedNames } from '../story/linked-names'
import { linesOf, type Story, type Translation } from '../story/types'

/** How far a text is in a language. `outdated`: what it translates was changed since. */
export type TextState = 'missing' | 'draft' | 'checked' | 'outdated'

export const TEXT_STATES: readonly TextState[] = ['missing', 'draft', 'checked', 'outdated']

/** A text that can be translated, with what one has to know for that. */
export interface TextRow {
  readonly key: string
  readonly source: string
  /** Of a name or suggestion, which shows nothing of the story. */
  readonly isName: boolean
  /** Scene and beat, or what kind of name it is. */
  readonly where: string
  readonly beat?: string
  readonly who?: string
  /** What was said just before. */
  readonly before?: string
  /** When it is said, in words. */
  readonly gate?: string
  readonly notes?: string
  readonly text?: string
  /** What the text is a translation of, where that was other. */
  readonly of?: string
  readonly state: TextState
}

type Context = Pick<TextRow, 'where' | 'beat' | 'who' | 'before' | 'gate'>

const KINDS: Readonly<Record<string, string>> = {
  person: 'name of a person',
  ending: 'name of an ending',
  quest: 'name of a quest',
  stage: 'name of a stage',
  journal: 'journal',
  term: 'term of the glossary',
}

/** Every text of a story in the order of the manuscript, as far as it is in a language. */
export function textRows(story: LinkedStory, language: string): TextRow[] {
  const contexts = contextsOf(story)
  const notes = notesOf(story.doc)
  const texts = story.doc.languages?.[language]?.texts ?? {}
  return [...sourcesOf(declareStory(story.doc), story.inOrder, story.journals)].map(([key, source]) => {
    const written = source.kind === 'name' ? source.source : source.text.source
    const there = Object.hasOwn(texts, key) ? texts[key] : undefined
    return {
      key,
      source: written,
      isName: source.kind === 'name',
      ...(contexts.get(key) ?? { where: KINDS[key.slice(0, key.indexOf('/'))] ?? '' }),
      ...(notes.has(key) ? { notes: notes.get(key)! } : {}),
      ...(there === undefined ? {} : { text: there.text }),
      ...(there?.of !== undefined && there.of !== written ? { of: there.of } : {}),
      state: stateOf(there, written),
    }
  })
}

/** Of the rows those that stand in a scene; all where none is named. */
export function rowsOfScene(rows: TextRow[], scene: string | undefined): TextRow[] {
  return scene === undefined ? rows : rows.filter(({ beat }) => beat?.startsWith(`${scene}.`) === true)
}

/** What is noted on what has a key; to-dos are not for those who translate. */
function notesOf(doc: Story): Map<string, string> {
  const notes = new Map<string, string>()
  const note = (key: string, { notes: text }: { readonly notes?: string | undefined }) => {
    // of doubles the first counts
    if (text !== undefined && text.trim() !== '' && !isTodo(text) && !notes.has(key)) notes.set(key, text)
  }
  for (const person of doc.cast ?? []) note(`person/${person.id}`, person)
  for (const ending of doc.endings ?? []) note(`ending/${ending.id}`, ending)
  for (const term of doc.terms ?? []) note(`term/${term.id}`, term)
  for (const quest of doc.quests ?? []) {
    note(`quest/${quest.id}`, quest)
    for (const stage of quest.stages) {
      note(`stage/${quest.id}.${stage.id}`, stage)
      note(`journal/${quest.id}.${stage.id}`, stage)
    }
  }
  for (const scene of doc.scenes)
    for (const beat of scene.beats) {
      const address = `${scene.id}.${beat.id}`
      for (const line of linesOf(beat)) if (line.id !== undefined) note(`line/${address}/${line.id}`, line)
      for (const choice of beat.choices ?? []) note(`choice/${address}.${choice.id}`, choice)
      if (beat.ask !== undefined) note(`prompt/${address}`, beat.ask)
    }
  return notes
}

function stateOf(there: Translation | undefined, source: string): TextState {
  if (there === undefined || there.text === '') return 'missing'
  if (there.of !== undefined && there.of !== source) return 'outdated'
  return there.state ?? 'draft'
}

function contextsOf(story: LinkedStory): Map<string, Context> {
  const names = linkedNames(story)
  const contexts = new Map<string, Context>()
  const gateOf = (when: Condition | undefined) =>
    when?.expr === undefined ? {} : { gate: `when ${sayCondition(when.expr, names)}` }
  const person = (id: string | undefined) => (id === undefined ? {} : { who: story.people.get(id)?.name ?? id })
  for (const beat of story.inOrder) {
    const where = whereOf(story, beat)
    let before: string | undefined
    const hear = (line: LinkedLine) => {
      const { id, when, speaker, text } = line
      if (id !== undefined)
        contexts.set(`line/${beat.address}/${id}`, {
          where,
          beat: beat.address,
          ...person(speaker),
          ...(before === undefined ? {} : { before }),
          ...gateOf(when),
        })
      const said = speaker === undefined ? '' : `${story.people.get(speaker)?.name ?? speaker}: `
      before = `${said}${text.source}`
    }
    eachLine(beat, hear)
    const last = before === undefined ? {} : { before }
    for (const choice of beat.choices)
      contexts.set(`choice/${choice.address}`, {
        where: `${where}, choice`,
        beat: beat.address,
        ...person(choice.who),
        ...last,
        ...gateOf(choice.when),
      })
    contexts.set(`prompt/${beat.address}`, { where: `${where}, question`, beat: beat.address, ...last })
    beat.ask?.suggest.forEach((_, at) =>
      contexts.set(`suggest/${beat.address}/${at + 1}`, { where: `${where}, suggestion`, beat: beat.address }),
    )
  }
  return contexts
}

function whereOf(story: LinkedStory, beat: LinkedBeat): string {
  return `${story.scenes[beat.scene]!.title} · ${beatName(story.doc, beat.address)}`
}

/** How many texts are in each state. */
export function countStates(rows: readonly TextRow[]): Record<TextState, number> {
  const counts: Record<TextState, number> = { missing: 0, draft: 0, checked: 0, outdated: 0 }
  for (const { state } of rows) counts[state] += 1
  return counts
}
