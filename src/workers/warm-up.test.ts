import { linkStory } from '../core/story/link'
import { surveyStory } from '../core/survey/survey'
import { warmUp, warmUpStory } from './warm-up'

test('the story to warm up with is sound, small, and makes the survey look at all that stories have', () => {
  const story = linkStory(warmUpStory())
  expect(story.problems).toEqual([])
  const { figures, promises, reached, complete } = surveyStory(story)
  expect(complete).toBe(true)
  expect(figures.states).toBeLessThan(5000)
  expect(Object.keys(reached.beats).length).toBeGreaterThan(story.beats.length / 2)
  expect(Object.keys(promises)).toEqual(['p', 'n'])
})

test('warming up comes to an end, step by step', () => {
  expect([...warmUp()].length).toBeGreaterThan(40)
})
