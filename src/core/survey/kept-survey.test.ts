import { readFileSync } from 'node:fs'
import { randomStory } from '../../../bench/stories/random'
import { seeds } from '../../../test/seeds'
import { linkStory } from '../story/link'
import type { Story } from '../story/types'
import { farSurvey } from './far-survey'
import { keptSurvey, keptSurveySchema, recalledSurvey, type KeptSurvey } from './kept-survey'
import { Survey } from './survey'

const sample = JSON.parse(readFileSync('samples/first-draft.story.json', 'utf8')) as Story

function surveyed(story: Story): Survey {
  const survey = new Survey(linkStory(story), { routes: 'none' })
  while (!survey.advance());
  return survey
}

const asJson = (kept: KeptSurvey) => keptSurveySchema.parse(JSON.parse(JSON.stringify(kept)))

test('what was kept says of a story what its survey said, whatever the story, though ids stand twice', () => {
  const [scene] = sample.scenes
  const doubles = { ...sample, scenes: [...sample.scenes, { ...scene!, beats: [...scene!.beats, ...scene!.beats] }] }
  const within = {
    ...sample,
    scenes: [{ ...scene!, beats: scene!.beats.flatMap((beat) => [beat, beat]) }, ...sample.scenes.slice(1)],
  }
  for (const story of [sample, doubles, within, ...[...seeds(60)].map((seed) => randomStory(seed))]) {
    const survey = surveyed(story)
    const far = farSurvey(survey)
    const kept = keptSurvey(survey.brief(), 12, 'this')
    const recalled = recalledSurvey(asJson(kept!), story, 'this')
    expect(recalled).toEqual({ far: JSON.parse(JSON.stringify({ ...far, routes: {} })), took: 12 })
  }
})

test('nothing is kept of a survey that was cut short, nor recalled for another story or by another surveyor', () => {
  const survey = new Survey(linkStory(sample), { routes: 'none' })
  survey.advance(1)
  expect(survey.brief().complete).toBe(false)
  expect(keptSurvey(survey.brief(), 1, 'this')).toBeUndefined()
  while (!survey.advance());
  expect(keptSurvey(survey.brief(), 1, '')).toBeUndefined()
  const kept = keptSurvey(survey.brief(), 1, 'this')!
  expect(recalledSurvey(kept, sample, 'this')).toBeDefined()
  expect(recalledSurvey(kept, sample, 'that')).toBeUndefined()
  expect(recalledSurvey({ ...kept, surveyor: '' }, sample, '')).toBeUndefined()
  for (const other of [null, 7, { surveyor: 'this' }]) expect(recalledSurvey(other, sample, 'this')).toBeUndefined()
  const [scene, ...others] = sample.scenes
  const longer = { ...sample, scenes: [{ ...scene!, beats: [...scene!.beats, { id: 'one_more' }] }, ...others] }
  expect(recalledSurvey(kept, longer, 'this')).toBeUndefined()
})
