import type { Change } from '../story/changes/types'
import type { LinkedStory } from '../story/linked'
import { withPlainLines, type Ask, type Beat, type Story } from '../story/types'
import { textRows, type TextRow } from './rows'

/** The story's own texts, as rows that a proof-reader changes: each says what it says now. */
export function ownRows(story: LinkedStory): TextRow[] {
  return textRows(story, story.doc.language).map((row) => {
    const { of: outdated, ...rest } = row
    void outdated
    return { ...rest, text: row.source, state: 'draft' }
  })
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
    list: 'cast' | 'endings',
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
