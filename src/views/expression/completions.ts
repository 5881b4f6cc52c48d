import { quote } from '../../core/expression/print'
import type { Entry, Story } from '../../core/story/types'
import type { CodeOption } from '../../ui/code-line'

const ENOUGH = 8

/** What the word at the end of an expression could become; each option is the whole text then. */
export function completions(
  story: Story,
  scene: string,
  form: 'gate' | 'effect',
  text: string,
  promise = false,
): CodeOption[] {
  const inString = /(['"])([^'"]*)$/.exec(text)
  if (inString !== null && isOpen(text)) {
    const before = text.slice(0, inString.index)
    return stringsFor(story, before)
      .filter((value) => value.toLowerCase().includes(inString[2]!.toLowerCase()))
      .slice(0, ENOUGH)
      .map((value) => ({ value: `${before}${quote(value)}${/\(\s*$|,\s*$/.test(before) ? ')' : ''}`, label: value }))
  }
  const word = /[A-Za-z_][\w.]*$/.exec(text)?.[0] ?? ''
  if (word === '' && text.trim() !== '' && !/[=(&|!<>+\-*,[]\s*$/.test(text)) return []
  const before = text.slice(0, text.length - word.length)
  const start = before.trim() === ''
  return namesOf(story, scene, form, start, promise)
    .filter(({ value }) => value.toLowerCase().includes(word.toLowerCase()) && value !== word)
    .slice(0, ENOUGH)
    .map((option) => ({ ...option, value: before + option.value }))
}

/** Whether the text ends inside a string. */
function isOpen(text: string): boolean {
  let quoteSign: string | undefined
  for (const sign of text) {
    if (quoteSign === undefined && (sign === "'" || sign === '"')) quoteSign = sign
    else if (sign === quoteSign) quoteSign = undefined
  }
  return quoteSign !== undefined
}

/** What the gates and effects of a scene can name. */
export function entriesIn(story: Story, scene: string): readonly Entry[] {
  return [...(story.ledger ?? []), ...(story.scenes.find(({ id }) => id === scene)?.ledger ?? [])]
}

function namesOf(story: Story, scene: string, form: 'gate' | 'effect', start: boolean, promise: boolean): CodeOption[] {
  const entries = entriesIn(story, scene).map(({ id, kind }) => ({ value: id, label: id, hint: kind }))
  const quests = (story.quests ?? []).map(({ id, name }) => ({
    value: `quest.${id}`,
    label: `quest.${id}`,
    hint: name,
  }))
  if (form === 'effect' && start) return [...entries, ...quests]
  const functions = [
    { value: "visits('", label: "visits('…')", hint: 'how often a beat was visited' },
    { value: "taken('", label: "taken('…')", hint: 'whether a choice was taken' },
    { value: 'atLeast(', label: "atLeast(…, '…')", hint: 'that position or a later one' },
    { value: 'before(', label: "before(…, '…')", hint: 'an earlier position' },
    ...(promise
      ? [
          { value: "at('", label: "at('…')", hint: 'where the story rests' },
          { value: "ended('", label: "ended('…')", hint: 'how it has ended' },
        ]
      : []),
  ]
  return [...entries, ...quests, ...functions]
}

/** The strings that make sense after what stands before them. */
function stringsFor(story: Story, before: string): readonly string[] {
  if (/ended\(\s*$/.test(before)) return (story.endings ?? []).map(({ id }) => id)
  if (/(visits|at)\(\s*$/.test(before))
    return story.scenes.flatMap((scene) => scene.beats.map((beat) => `${scene.id}.${beat.id}`))
  if (/taken\(\s*$/.test(before)) {
    return story.scenes.flatMap((scene) =>
      scene.beats.flatMap((beat) => (beat.choices ?? []).map((choice) => `${scene.id}.${beat.id}.${choice.id}`)),
    )
  }
  const subject = /([A-Za-z_][\w.]*)\s*(?:==|!=|=|,|in\s*\[[^\]]*)\s*$/.exec(before)?.[1]
  if (subject === undefined) return []
  if (subject.startsWith('quest.')) {
    const quest = story.quests?.find(({ id }) => id === subject.slice('quest.'.length))
    return quest === undefined ? [] : ['unstarted', ...quest.stages.map(({ id }) => id)]
  }
  const all = [...(story.ledger ?? []), ...story.scenes.flatMap((scene) => scene.ledger ?? [])]
  const entry = all.find(({ id }) => id === subject)
  return entry?.kind === 'switch' ? entry.positions : []
}
