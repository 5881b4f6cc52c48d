import { randomStory } from '../bench/stories/random'
import { playThrough } from '../src/core/play/transcript'
import { surveyStory } from '../src/core/survey/survey'
import { pseudoTexts } from '../src/core/texts/pseudo'
import { textRows } from '../src/core/texts/rows'
import { applyChange } from '../src/core/story/changes/apply'
import { inLanguage } from '../src/core/story/in-language'
import { linkStory } from '../src/core/story/link'
import { seeds } from './seeds'

test('a story plays the same in every language, and speaks it where a text is there', () => {
  let heard = 0
  for (const seed of seeds(110)) {
    const doc = randomStory(seed)
    // not names of people: a text can choose its form by them
    const rows = textRows(linkStory(doc), 'en-x-pseudo').filter(({ key }) => !key.startsWith('person/'))
    const values = pseudoTexts(rows)
    const applied = applyChange(doc, { op: 'set-texts', language: 'en-x-pseudo', values })
    if (!applied.ok) throw new Error(applied.error)
    const story = linkStory(applied.value.story)
    const other = inLanguage(story, 'en-x-pseudo')
    expect(inLanguage(story, story.doc.language)).toBe(story)
    const { reached } = surveyStory(story, { routes: 'all' })
    for (const { route } of Object.values(reached.beats).slice(0, 6)) {
      const [own, spoken] = [playThrough(story, route!), playThrough(other, route!)]
      const told = ({ steps }: typeof own) =>
        steps.map(({ beats, changes, lines, state: { status } }) => ({
          beats,
          changes,
          status,
          lines: lines.map(({ address }) => address),
        }))
      expect(told(spoken)).toEqual(told(own))
      for (const [step, { lines }] of spoken.steps.entries())
        for (const [at, { text, address }] of lines.entries()) {
          const before = own.steps[step]!.lines[at]!.text
          const id = lineIds(story, address)
          if (id === undefined || !Object.hasOwn(values, id) || text === before)
            expect({ seed, text }).toEqual({ seed, text: before })
          else {
            heard += 1
            expect(text).toMatch(/^⟦[^]*⟧$/)
          }
        }
    }
  }
  expect(heard).toBeGreaterThan(100)
})

/** The key of a line, where it has a name. */
function lineIds(story: ReturnType<typeof linkStory>, address: string): string | undefined {
  const beat = address.slice(0, address.indexOf('#'))
  for (const line of story.beats[story.beatOf.get(beat)!]!.lines) {
    const all =
      line.kind === 'line'
        ? [line]
        : line.kind === 'turns'
          ? line.turns.flatMap(({ lines }) => lines)
          : line.variants.flatMap((variant) => [
              ...variant.lines,
              ...(variant.turns?.turns.flatMap(({ lines }) => lines) ?? []),
            ])
    const found = all.find((one) => one.address === address)
    if (found?.id !== undefined) return `line/${beat}/${found.id}`
  }
  return undefined
}
