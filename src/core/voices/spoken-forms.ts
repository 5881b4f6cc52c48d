import { plainId } from '../base/ids'
import { formatText } from '../play/text'
import { freshState } from '../play/state'
import type { LinkedLine, LinkedStory } from '../story/linked'
import { argumentsIn } from '../story/text'
import { readableText } from '../story/readable'
import { stageOf, type SpokenValues } from '../survey/questions/spoken-values'

/** A wording of a line, and what it stands for. */
export interface SpokenForm {
  readonly text: string
  /** What the story holds when it is said so, in words; "" where it is always said so. */
  readonly when: string
  /** Part of a file's name that tells it from the line's other forms; "" where there is one. */
  readonly tag: string
}

/** The wordings in which a line can really be said; one that no route comes to, or whose values are not known, as it is written. */
export function spokenForms(
  story: LinkedStory,
  { address, text: shown }: LinkedLine,
  values: ReadonlyMap<string, SpokenValues> | 'too many',
): SpokenForm[] {
  const rows = values === 'too many' ? undefined : values.get(address)
  const { parsed, source } = shown
  const shows = parsed === undefined ? [] : argumentsIn(parsed)
  if (shows.length === 0)
    return [{ text: parsed === undefined ? source : formatText(story, freshState(story), shown), when: '', tag: '' }]
  const changing = shows.some(({ of }) => of !== 'person')
  if (changing && rows === undefined) return [{ text: readableText(source), when: '', tag: '' }]
  const people = [...new Set(shows.filter(({ of }) => of === 'person').map(({ id }) => id))]
  const forms = new Map<string, { rows: SpokenValues[number][] }>()
  for (const { row, called } of namedWays(story, changing ? rows! : [{}], people)) {
    const state = freshState(story)
    for (const { id, index } of story.entries) if (row[id] !== undefined) state.entries[index] = row[id]
    for (const { id, index, stages } of story.quests) {
      const stage = row[stageOf(id)]
      if (typeof stage === 'string') state.stages[index] = stages.indexOf(stage)
    }
    const text = formatText(called, state, shown)
    const form = forms.get(text) ?? { rows: [] }
    form.rows.push(row)
    forms.set(text, form)
  }
  const isOne = forms.size === 1
  return [...forms].map(([text, { rows: all }]) => {
    const said = Object.keys(all[0]!).map((name) => ({
      name: plainId(name.replace(/^quest /, '')),
      values: [...new Set(all.map((row) => String(row[name])))],
    }))
    return {
      text,
      when: isOne ? '' : said.map(({ name, values: some }) => `${name} ${some.map(plainId).join(' or ')}`).join(', '),
      tag: isOne
        ? ''
        : said.map(({ name, values: some }) => `${name}-${some[0]!}`.replaceAll(/[^\p{L}\p{N}-]+/gu, '-')).join('.'),
    }
  })
}

/** Each row with every name that each of the people can be called by; which of them go together is not asked. */
function namedWays(
  story: LinkedStory,
  rows: SpokenValues,
  people: readonly string[],
): { readonly row: SpokenValues[number]; readonly called: LinkedStory }[] {
  let ways = rows.map((row) => ({ row, called: story }))
  for (const id of people) {
    const person = story.people.get(id)
    if (person === undefined) continue
    const names = [...new Set([person.name, ...person.called.map(({ name }) => name)])]
    ways = ways.flatMap(({ row, called }) =>
      names.map((name) => ({
        row: { ...row, [`name of ${id}`]: name },
        called: { ...called, people: new Map(called.people).set(id, { ...person, name, called: [] }) },
      })),
    )
  }
  return ways
}
