import type { Change } from '../story/changes/types'
import type { LinkedStory } from '../story/linked'
import { withPlainLines, type Ask, type Beat, type Story } from '../story/types'
import { translationTrouble } from '../story/languages'
import { judge, translationsOf, type IncomingText, type Judged } from './incoming'
import { rowsOfScene, textRows, type TextRow } from './rows'

/** The story's own texts, as rows that a proof-reader changes: each says what it says now. */
export function ownRows(story: LinkedStory): TextRow[] {
  return textRows(story, story.doc.language).map((row) => {
    const { of: outdated, ...rest } = row
    void outdated
    return { ...rest, text: row.source, state: 'draft' }
  })
}

/** The texts that somebody works at in a language, in the story's own to proof-read them; of a scene only what stands there. */
export function rowsToWorkAt(story: LinkedStory, language: string, scene?: string): TextRow[] {
  const rows = language === story.doc.language ? ownRows(story) : textRows(story, language)
  return rowsOfScene(rows, scene)
}

/** What becomes of texts that come back in a language. */
export function judgeTexts(
  story: LinkedStory,
  language: string,
  rows: readonly TextRow[],
  texts: readonly IncomingText[],
): Judged[] {
  // a proof-reader's state is none of the story's
  const incoming = language === story.doc.language ? texts.map((one) => ({ ...one, state: 'draft' as const })) : texts
  return judge(rows, incoming, translationTrouble(story))
}

/** The edit that puts what was chosen of texts that came back into the story; undefined where nothing is other than it was. */
export function changeOfTexts(story: Story, language: string, chosen: readonly Judged[]): Change | undefined {
  return language === story.language
    ? proofChange(story, new Map(chosen.map(({ incoming: { key, text } }) => [key, text])))
    : { op: 'set-texts', language, values: translationsOf(chosen) }
}

/** One edit that puts proof-read texts in their places, by key; undefined where none is other than it was. */
export function proofChange(story: Story, texts: ReadonlyMap<string, string>): Change | undefined {
  const changes: Change[] = []
  const said = <T extends string | undefined>(key: string, now: T): T | string => texts.get(key) ?? now
  for (const { id: scene, beats } of story.scenes)
    beats.forEach((beat, at) => {
      const item = withTexts(beat, `${scene}.${beat.id}`, said)
      if (item !== beat) changes.push({ op: 'replace', in: { list: 'beats', scene }, id: beat.id, at, item })
    })
  const named = <T extends { id: string; name: string }>(
    list: 'cast' | 'endings' | 'terms',
    items: T[] | undefined,
    kind: string,
  ) =>
    items?.forEach((item, at) => {
      const name = said(`${kind}/${item.id}`, item.name)
      if (name !== item.name)
        changes.push({ op: 'replace', in: { list }, id: item.id, at, item: { ...item, name } as never })
    })
  named('cast', story.cast, 'person')
  named('endings', story.endings, 'ending')
  named('terms', story.terms, 'term')
  story.quests?.forEach((quest, at) => {
    const stages = quest.stages.map((stage) => {
      const key = `${quest.id}.${stage.id}`
      const [name, journal] = [said(`stage/${key}`, stage.name), said(`journal/${key}`, stage.journal)]
      return name === stage.name && journal === stage.journal
        ? stage
        : { ...stage, name, ...(journal === undefined ? {} : { journal }) }
    })
    const name = said(`quest/${quest.id}`, quest.name)
    if (name !== quest.name || stages.some((stage, index) => stage !== quest.stages[index]))
      changes.push({ op: 'replace', in: { list: 'quests' }, id: quest.id, at, item: { ...quest, name, stages } })
  })
  return changes.length === 0 ? undefined : { op: 'batch', changes }
}

/** The beat with the texts that are said of it; the same one where none is other. */
function withTexts(beat: Beat, address: string, said: (key: string, now: string) => string): Beat {
  let isChanged = false
  const put = (key: string, now: string) => {
    const next = said(key, now)
    isChanged ||= next !== now
    return next
  }
  const seen = new Set<string>()
  const lines = beat.lines?.map((line) =>
    withPlainLines(line, (plain) => {
      // of a doubled name the first line has it
      if (plain.id === undefined || seen.has(plain.id)) return plain
      seen.add(plain.id)
      return { ...plain, text: put(`line/${address}/${plain.id}`, plain.text) }
    }),
  )
  const choices = beat.choices?.map((choice) => ({
    ...choice,
    text: put(`choice/${address}.${choice.id}`, choice.text),
  }))
  const ask: Ask | undefined = beat.ask && {
    ...beat.ask,
    prompt: put(`prompt/${address}`, beat.ask.prompt),
    ...(beat.ask.suggest && { suggest: beat.ask.suggest.map((word, at) => put(`suggest/${address}/${at + 1}`, word)) }),
  }
  return isChanged ? { ...beat, ...(lines && { lines }), ...(choices && { choices }), ...(ask && { ask }) } : beat
}
