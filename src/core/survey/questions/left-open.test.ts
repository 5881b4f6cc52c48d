import { replay } from '../../play/replay'
import { linkStory } from '../../story/link'
import { checkStory } from '../../story/read'
import type { Beat, Story } from '../../story/types'
import { Survey } from '../survey'
import type { SurveyOptions } from '../searches'

const steps = (names: readonly string[], scene: string, last: string): Beat[] =>
  names.map((id, at) => ({
    id,
    choices: [{ id: 'on', text: 'On', to: at === names.length - 1 ? last : `${scene}.${names[at + 1]}` }],
  }))

/** A quest begun in the first scene, and an ending three decisions later in the second; nothing else is remembered. */
const story: Story = {
  paperCompass: 1,
  title: 'Left open',
  language: 'en',
  start: 'quay.here',
  quests: [
    {
      id: 'sluice',
      name: 'Mend the sluice',
      stages: [
        { id: 'asked', name: 'Asked' },
        { id: 'done', name: 'Done', outcome: 'success' },
      ],
    },
  ],
  endings: [{ id: 'home', name: 'Home' }],
  scenes: [
    {
      id: 'quay',
      title: 'Quay',
      beats: [
        {
          id: 'here',
          choices: [
            { id: 'ask', text: 'Ask', do: ["quest.sluice = 'asked'"], to: 'quay.there' },
            { id: 'pass', text: 'Pass by', to: 'flats.one' },
          ],
        },
        {
          id: 'there',
          choices: [
            { id: 'mend', text: 'Mend it', do: ["quest.sluice = 'done'"], to: 'flats.one' },
            { id: 'leave', text: 'Leave it', to: 'flats.one' },
          ],
        },
      ],
    },
    {
      id: 'flats',
      title: 'Flats',
      beats: [...steps(['one', 'two', 'three'], 'flats', 'flats.end'), { id: 'end', ending: 'home' }],
    },
  ],
}

const WAYS: readonly SurveyOptions[] = [
  {},
  { hot: 0 },
  { liveness: false },
  { explicit: 0 },
  { limits: { backward: { listedMax: -1, sweeps: 1, sweepsOne: 1 } } },
]

test('the only quest of a story, left open, is found with the whole route to the end, in every way', () => {
  const checked = checkStory(story)
  if (!checked.ok) throw new Error(JSON.stringify(checked.error))
  const linked = linkStory(checked.value)
  for (const options of WAYS) {
    const survey = new Survey(linked, options)
    while (!survey.advance());
    const found = survey.result().findings.find(({ kind }) => kind === 'left-open')
    expect({ options, key: found?.key }).toEqual({ options, key: ['sluice', 'asked'] })
    const { state, refused } = replay(linked, found!.route!)
    expect({ options, refused, status: state.status, length: found!.route!.length }).toEqual({
      options,
      refused: undefined,
      status: 'ended',
      length: 5,
    })
    expect(linked.quests[0]!.stages[state.stages[0]!]).toBe('asked')
  }
})

test('a route to whatever is reached has the length that was told, and none is made up', () => {
  const linked = linkStory(story)
  for (const options of WAYS) {
    const survey = new Survey(linked, { routes: 'none', ...options })
    while (!survey.advance());
    const { reached } = survey.result()
    for (const what of ['beats', 'choices', 'endings', 'stages'] as const) {
      for (const [address, { decisions }] of Object.entries(reached[what])) {
        const route = survey.routeTo(what, address)!
        expect({ what, address, length: route.length, refused: replay(linked, route).refused }).toEqual({
          what,
          address,
          length: decisions,
          refused: undefined,
        })
      }
      expect(survey.routeTo(what, 'nobody.knows')).toBeUndefined()
    }
    expect(survey.routeOf('left-open', ['sluice', 'asked'])).toHaveLength(5)
    expect(survey.routeOf('left-open', ['sluice', 'done'])).toBeUndefined()
    expect(survey.routeOf('dead-end', ['sluice', 'asked'])).toBeUndefined()
  }
})
