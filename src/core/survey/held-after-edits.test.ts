import { randomStory } from '../../../bench/stories/random'
import { edited, scattered, street, widened } from '../../../test/edited'
import { quay, to } from '../../../test/quay'
import { reshaped } from '../../../test/reshaped'
import { seeds } from '../../../test/seeds'
import { seededRandom } from '../base/random'
import { linkStory } from '../story/link'
import type { Beat, Quest, Story } from '../story/types'
import type { Preparation } from './states/preparation'
import { Survey } from './survey'
import { analyseLiveness, type Liveness } from './analysis/liveness'

const SEEDS = 150
const EDITS = 8

/** Slots by beat, of those that some road comes to. */
function held({ story, roads }: Preparation, liveness: Liveness) {
  const reached = story.inOrder.filter(({ index }) => roads.placesBefore.row(index).some((word) => word !== 0))
  return reached.map(({ index, address }) => [
    address,
    liveness.atRest.slots(index),
    liveness.stuck.slots(index),
    liveness.afterLines(index),
  ])
}

/** What is held after an edit, and what is by an analysis from the beginning; undefined where all was prepared anew, or nothing. */
function compared({ prepared: before }: Survey['search'], { prepared }: Survey['search']) {
  const { story, slots, roads, horizon, observed, liveness } = prepared
  if (slots !== before.slots || liveness.analysis === before.liveness.analysis) return undefined
  const anew = analyseLiveness(story, slots, roads, horizon, observed)
  return { held: held(prepared, liveness), expected: held(prepared, anew) }
}

test('after an edit states hold what an analysis from the beginning says', () => {
  let updated = 0
  let turned = 0
  let taken = 0
  for (const seed of seeds(SEEDS)) {
    const random = seededRandom(seed)
    let story = seed % 3 === 1 ? street(6, random) : randomStory(seed, seed % 3 === 0 ? 'tiny' : undefined)
    if (seed % 5 === 0) story = widened(story)
    if (seed % 4 === 0) story = scattered(story)
    let linked = linkStory(story)
    let survey = new Survey(linked)
    for (let edit = 0; edit < EDITS; edit += 1) {
      story = random.chance(0.5) ? edited(story, random) : reshaped(story, random)
      linked = linkStory(story, linked)
      const before = survey.search
      survey = new Survey(linked, {}, survey)
      const both = compared(before, survey.search)
      if (both === undefined) continue
      updated += 1
      if (survey.search.prepared.roads.layerOf !== before.prepared.roads.layerOf) turned += 1
      expect({ seed, edit, held: both.held }).toEqual({ seed, edit, held: both.expected })
      if (!before.liveness.analysis.reachesAcross && !survey.search.liveness.analysis.reachesAcross) taken += 1
    }
  }
  expect(turned).toBeGreaterThan(SEEDS)
  expect(updated - turned).toBeGreaterThan(SEEDS / 4)
  // where slots in different chunks hang on one another all is analysed anew
  expect(taken).toBeGreaterThan(updated / 4)
})

const dig: Quest = {
  id: 'dig',
  name: 'Dig',
  stages: [
    { id: 'asked', name: 'Asked' },
    { id: 'done', name: 'Done', outcome: 'success' },
  ],
}

/** A story of some beats, in which hardly two entries share a chunk of slots. */
function scatteredQuay(beats: readonly Beat[]): Story {
  const declared: Partial<Story> = {
    ledger: [
      { id: 'rope', kind: 'counter', min: 0, max: 3 },
      { id: 'line', kind: 'counter', min: 0, max: 3 },
      { id: 'tide', kind: 'flag', given: 'rest' },
      { id: 'name', kind: 'text' },
    ],
    quests: [dig],
    endings: [{ id: 'end', name: 'End' }],
  }
  return scattered(quay([...beats, { id: 'end', ending: 'end' }], { ...declared, start: 'quay.start' }))
}

/** The beats of a story, and one of them after an edit. */
const EDITED: readonly (readonly [string, readonly Beat[], Beat])[] = [
  [
    'an entry comes to be read far from where it is set',
    [
      { id: 'start', choices: [to('hall', { do: ['rope = 2'] })] },
      { id: 'hall', choices: [to('door')] },
      { id: 'door', choices: [to('end')] },
    ],
    { id: 'door', choices: [to('end', { when: 'rope > 1' }), to('end', { id: 'out' })] },
  ],
  [
    'a beat that asks for a word comes to read what the game gives',
    [
      { id: 'start', choices: [to('hall', { do: ['rope = 2'] }), to('hall', { id: 'past' })] },
      {
        id: 'hall',
        ask: { into: 'name', prompt: 'Who?' },
        onward: [{ when: 'rope > 1', to: 'quay.start' }, { to: 'quay.end' }],
      },
    ],
    {
      id: 'hall',
      lines: [{ text: 'The boats are afloat.', when: 'tide' }],
      ask: { into: 'name', prompt: 'Who?' },
      onward: [{ when: 'rope > 1', to: 'quay.start' }, { to: 'quay.end' }],
    },
  ],
  [
    'a road back does not lead to a place any more',
    [
      { id: 'start', choices: [to('pier', { do: ['rope = 2'] }), to('mill', { do: ['rope = 2'] })] },
      { id: 'pier', place: true, choices: [to('door')] },
      { id: 'mill', place: true, choices: [to('path'), to('end', { when: 'rope > 1' })] },
      { id: 'path', choices: [to('door')] },
      { id: 'door', choices: [{ id: 'back', text: 'Back', to: 'return' }, to('end')] },
    ],
    { id: 'path', choices: [to('end')] },
  ],
  [
    'an entry comes to be read whose value was taken from another',
    [
      { id: 'start', choices: [to('hall', { do: ['rope = 2'] }), to('end')] },
      { id: 'hall', choices: [to('door', { do: ['line = rope'] }), to('end')] },
      { id: 'door', choices: [to('end')] },
    ],
    { id: 'door', choices: [to('end', { when: 'line > 1' }), to('start')] },
  ],
  [
    'an entry is read no more whose value was taken from another',
    [
      { id: 'start', choices: [to('hall', { do: ['rope = 2'] }), to('end')] },
      { id: 'hall', choices: [to('door', { do: ['line = rope'] }), to('end')] },
      { id: 'door', choices: [to('end', { when: 'line > 1' }), to('end', { id: 'back' })] },
    ],
    { id: 'door', ending: 'end' },
  ],
  [
    'a quest is not set any more before a beat that shows it',
    [
      { id: 'start', choices: [to('hall', { do: ["quest.dig = 'asked'"] }), to('hall', { id: 'past' })] },
      { id: 'hall', choices: [to('door', { do: ["quest.dig = 'done'"] }), to('door', { id: 'past' })] },
      { id: 'door', lines: [{ text: 'You dug.', when: "quest.dig == 'asked'" }], choices: [to('end')] },
    ],
    { id: 'hall', choices: [to('door', { id: 'past' })] },
  ],
  [
    'a quest is not set any more on another road from the one before a beat',
    [
      { id: 'start', choices: [to('hall', { do: ["quest.dig = 'asked'"] }), to('yard')] },
      { id: 'hall', choices: [to('door'), to('field')] },
      { id: 'field', choices: [to('end', { do: ["quest.dig = 'done'"] })] },
      { id: 'yard', choices: [to('door'), to('pit')] },
      { id: 'pit', choices: [to('end', { do: ["quest.dig = 'done'"] })] },
      { id: 'door', choices: [to('end')] },
    ],
    { id: 'field', choices: [to('end')] },
  ],
]

test.each(EDITED)('so they do where %s', (_, beats, edit) => {
  const story = scatteredQuay(beats)
  const first = linkStory(story)
  const before = new Survey(first)
  const { search } = before
  const [scene] = story.scenes
  const changed = scene!.beats.map((beat) => (beat.id === edit.id ? edit : beat))
  const second = linkStory({ ...story, scenes: [{ ...scene!, beats: changed }] }, first)
  const both = compared(search, new Survey(second, {}, before).search)!
  expect(both.held).toEqual(both.expected)
})
