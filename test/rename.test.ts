import { randomStory } from '../bench/stories/random'
import { applyChange } from '../src/core/story/changes/apply'
import { linkStory } from '../src/core/story/link'
import { renameBeat } from '../src/core/story/rename-beat'
import { surveyStory } from '../src/core/survey/survey'

test('renaming a beat changes every name of it and no verdict', () => {
  for (let seed = 1; seed <= 120; seed += 1) {
    const story = randomStory(seed, 'tiny')
    const change = renameBeat(story, 's0', 'b0', 'renamed')
    if (!change.ok) throw new Error(change.error)
    const applied = applyChange(story, change.value)
    if (!applied.ok) throw new Error(applied.error)
    expect(JSON.stringify(applied.value.story)).not.toMatch(/s0\.b0\b/)
    const said = (one: typeof story) => {
      const { findings, reached, promises } = surveyStory(linkStory(one), { everyRoute: true })
      return JSON.parse(JSON.stringify({ findings: findings.map(({ kind, key, route }) => ({ kind, key, route: route?.length })), reached, promises }).replaceAll('s0.b0', 's0.renamed')) as unknown
    }
    expect(said(applied.value.story)).toEqual(said(story))
  }
  expect(renameBeat(randomStory(1), 's0', 'b0', 'while')).toMatchObject({ ok: false, error: expect.stringContaining('reserved') })
})
