import { seededRandom } from '../base/random'
import { linkStory } from '../story/link'
import type { Beat, Choice, Story } from '../story/types'
import { retaken, street } from '../../../test/edited'
import { afterEdit, finished, OPTIONS, told } from '../../../test/finished'
import { to } from '../../../test/quay'
import { reshaped } from '../../../test/reshaped'
import { seeds } from '../../../test/seeds'

test('choices that come to be taken once, or asked for, and are so no more leave what a survey from the beginning says', () => {
  let kept = 0
  let all = 0
  for (const seed of seeds(20)) {
    const random = seededRandom(seed)
    let story = street(2, random)
    const options = OPTIONS[seed % OPTIONS.length]!
    let survey = finished(linkStory(story), options)
    for (let edit = 0; edit < 40; edit += 1) {
      story = random.chance(0.9) ? retaken(story, random) : reshaped(story, random)
      const { slots } = survey.search
      survey = afterEdit(story, options, survey, { seed, edit }).survey
      all += 1
      if (survey.search.slots === slots) kept += 1
    }
  }
  // sometimes all are allotted anew
  expect(kept).toBeLessThan(all)
  expect(kept).toBeGreaterThan(all * 0.85)
})

test('one choice after another that is taken once, and again, has states packed as they were all along', () => {
  const end: Beat = { id: 'end', ending: 'end' }
  const from: Story = { ...street(0, seededRandom(1)), start: 'quay.start' }
  const story = (round: number): Story => {
    const go = Array.from({ length: 30 }, (_, at): Choice => {
      const once = at === round >> 1 && round % 2 === 0
      return { id: `go${at}`, text: 'Go', to: 'quay.start', once }
    })
    const start: Beat = { id: 'start', choices: [...go, { id: 'end', text: 'End', to: 'quay.end' }] }
    return { ...from, scenes: [{ id: 'quay', title: 'Quay', beats: [start, end] }] }
  }
  let linked = linkStory(story(1))
  let survey = finished(linked, { hot: Infinity })
  const { slots } = survey.search
  for (let round = 2; round < 60; round += 1) {
    linked = linkStory(story(round), linked)
    survey = finished(linked, { hot: Infinity }, survey)
    expect(survey.search.slots).toBe(slots)
    expect(survey.progress.states).toBe(round % 2 === 0 ? 3 : 2)
  }
})

const back: Choice = { id: 'back', text: 'Back', to: 'return' }

/** The beats of a story, and those that an edit makes others; none without choices. */
const RECKONED: readonly (readonly [string, readonly Beat[], readonly Beat[]])[] = [
  [
    'more visits are told apart',
    [
      { id: 'start', choices: [to('hall'), to('end', { when: "visits('quay.hall') < 2" })] },
      { id: 'hall', choices: [to('start')] },
    ],
    [{ id: 'start', choices: [to('hall'), to('end', { when: "visits('quay.hall') >= 4" })] }],
  ],
  [
    'visits are asked for no more, and the beat is gone',
    [
      { id: 'start', choices: [to('hall'), to('end', { when: "visits('quay.hall') < 2" })] },
      { id: 'hall', choices: [to('start')] },
    ],
    [
      { id: 'start', choices: [to('end')] },
      { id: 'hall', choices: [] },
    ],
  ],
  [
    'a beat is a place no more',
    [
      { id: 'start', place: true, choices: [to('hall'), to('end', { when: 'lit' })] },
      { id: 'hall', place: true, choices: [to('door')] },
      { id: 'door', choices: [{ ...back, do: ['lit = true'] }] },
    ],
    [{ id: 'hall', choices: [to('door')] }],
  ],
  [
    'another beat is a place',
    [
      { id: 'start', place: true, choices: [to('hall')] },
      { id: 'hall', place: true, choices: [to('door'), to('end', { when: 'lit' })] },
      { id: 'door', choices: [{ ...back, do: ['lit = true'] }] },
    ],
    [
      { id: 'hall', choices: [to('door'), to('end', { when: 'lit' })] },
      { id: 'door', place: true, choices: [{ ...back, do: ['lit = true'] }] },
    ],
  ],
]

test.each(RECKONED)('where %s a survey after the edit says what one from the beginning says', (_, beats, edit) => {
  const scene = { id: 'quay', title: 'Quay', beats: [...beats, { id: 'end', ending: 'end' }] }
  const story: Story = { ...street(0, seededRandom(1)), start: 'quay.start', scenes: [scene] }
  const first = linkStory(story)
  const changed = scene.beats
    .map((beat) => edit.find(({ id }) => id === beat.id) ?? beat)
    .filter(({ choices }) => choices?.length !== 0)
  const second = { ...story, scenes: [{ ...scene, beats: changed }] }
  const options = { hot: Infinity }
  const survey = finished(linkStory(second, first), options, finished(first, options))
  expect(told(survey)).toEqual(told(finished(linkStory(second), options)))
  const { all } = survey.search.slots
  expect(all.some((slot) => slot.kind === 'visits' && survey.story.beats[slot.beat] === undefined)).toBe(false)
})
