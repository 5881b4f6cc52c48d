import { randomStory } from '../../../bench/stories/random'
import { seededRandom } from '../base/random'
import { linkStory } from '../story/link'
import type { LinkedStory } from '../story/linked'
import type { Beat, Choice, Entry, Story } from '../story/types'
import { Bearings } from './questions/bearing'
import type { Survey } from './survey'
import { edited, street, widened } from '../../../test/edited'
import { afterEdit, finished, OPTIONS, told } from '../../../test/finished'
import { to } from '../../../test/quay'
import { reshaped } from '../../../test/reshaped'
import { seeds } from '../../../test/seeds'

const SEEDS = 60
const EDITS = 6

function storyOf(seed: number): Story {
  const made = seed % 3 === 1 ? street(5, seededRandom(seed)) : randomStory(seed, seed % 3 === 0 ? 'tiny' : undefined)
  return seed % 5 === 0 ? widened(made) : made
}

function sameBeats({ inOrder: a }: LinkedStory, { inOrder: b }: LinkedStory): boolean {
  return a.length === b.length && a.every(({ address }, at) => address === b[at]!.address)
}

test('a survey that takes over what an edit left as it was says the same as one from the beginning', () => {
  let takenOver = 0
  let played = 0
  let expanded = 0
  let wide = 0
  let across = 0
  let same = 0
  for (const seed of seeds(SEEDS)) {
    const random = seededRandom(seed)
    let story = storyOf(seed)
    const options = OPTIONS[seed % OPTIONS.length]!
    let survey = finished(linkStory(story), options)
    for (let edit = 0; edit < EDITS; edit += 1) {
      const before = survey.story
      story = random.chance(0.5) ? edited(story, random) : reshaped(story, random)
      const { machine, slots, graph } = survey.search
      const after = afterEdit(story, options, survey, { seed, edit })
      survey = after.survey
      const { search, story: linked } = survey
      if (search.machine === machine && search.slots === slots) {
        takenOver += 1
        if (search.graph === graph) same += 1
        played += search.expanded - search.takenOver
        expanded += search.expanded
        if (search.layout.cells > 1) wide += search.takenOver
        if (!sameBeats(before, linked)) across += search.takenOver
      }
      // of what no route comes to there is nothing to be told
      const come = linked.inOrder.filter(({ index }) => survey.search.events.hasReached(index))
      if (come.length === 0) continue
      const { address } = random.pick(come)
      expect({ seed, edit, bearing: new Bearings(survey).of(address) }).toEqual({
        seed,
        edit,
        bearing: new Bearings(after.fresh).of(address),
      })
    }
  }
  expect(takenOver).toBeGreaterThan(SEEDS)
  expect(wide).toBeGreaterThan(0)
  expect(across).toBeGreaterThan(0)
  expect(same).toBeGreaterThan(SEEDS / 4)
  expect(same).toBeLessThan(takenOver / 2)
  // both ways are gone
  expect(played).toBeGreaterThan(expanded / 10)
  expect(played).toBeLessThan((expanded * 9) / 10)
})

test('beats and choices that come, go and are moved leave what a survey from the beginning says', () => {
  let kept = 0
  for (const seed of seeds(240)) {
    const random = seededRandom(seed)
    let story = randomStory(seed, 'tiny')
    let survey = finished(linkStory(story), { hot: Infinity })
    for (let edit = 0; edit < 3; edit += 1) {
      story = reshaped(story, random)
      const { slots } = survey.search
      survey = afterEdit(story, { hot: Infinity }, survey, { seed, edit }).survey
      if (survey.search.slots === slots) kept += 1
    }
  }
  expect(kept).toBeGreaterThan(240)
})

test('an endless run goes by the first of its beats, also where that was moved, or came last', () => {
  const on = (id: string, to: string): Beat => ({ id, onward: [{ to: `quay.${to}` }] })
  const start: Beat = { id: 'start', choices: [{ id: 'go', text: 'Go', to: 'quay.round' }] }
  // beats that stay are the same objects, as after an edit
  const [round, back, further, more] = [
    on('round', 'back'),
    on('back', 'round'),
    on('back', 'more'),
    on('more', 'round'),
  ]
  const orders = [
    [start, round, back],
    [back, start, round],
    [more, further, start, round],
    [further, start, round, more],
  ]
  let story: Story = { ...street(0, seededRandom(1)), start: 'quay.start' }
  let linked: LinkedStory | undefined
  let survey: Survey | undefined
  const named = orders.map((beats) => {
    story = { ...story, scenes: [{ id: 'quay', title: 'Quay', beats }] }
    linked = linkStory(story, linked)
    survey = finished(linked, { hot: Infinity }, survey)
    return survey.result().findings.flatMap(({ kind, key }) => (kind === 'endless-run' ? key : []))
  })
  expect(named).toEqual([['quay.round'], ['quay.back'], ['quay.more'], ['quay.back']])
})

test('where a decision leads to another state that was there before, what can be come to from it is told anew', () => {
  const story = (effects: readonly string[], from?: Story): Story => {
    const hall: Beat = { id: 'hall', choices: [{ ...to('door'), do: [...effects] }] }
    const beats: Beat[] = from?.scenes[0]!.beats.with(1, hall) ?? [
      {
        id: 'start',
        choices: [to('door', { id: 'lamp', do: ['lit = true'] }), to('door', { id: 'dark' }), to('hall')],
      },
      hall,
      { id: 'door', choices: [to('end', { when: 'lit' })] },
      { id: 'end', ending: 'end' },
    ]
    return {
      ...street(0, seededRandom(1)),
      ...from,
      start: 'quay.start',
      scenes: [{ id: 'quay', title: 'Quay', beats }],
    }
  }
  const options = { hot: Infinity }
  const first = story(['lit = true'])
  const linked = linkStory(first)
  const survey = finished(linked, options)
  survey.result()
  const now = linkStory(story([], first), linked)
  const next = finished(now, options, survey)
  expect(next.search.states).toBe(survey.search.states)
  expect(next.search.transitions).toBe(survey.search.transitions)
  expect(next.search.layout).toBe(survey.search.layout)
  expect(next.result()).toEqual(finished(now, options).result())
  expect(next.result().findings).toContainEqual(
    expect.objectContaining({ kind: 'no-way-out', key: ['quay.start.hall'] }),
  )
})

const asking: Beat = { id: 'start', ask: { prompt: 'Who?', into: 'name' }, onward: [{ to: 'quay.stuck' }] }
const naming = (id: string, name: string): Beat => ({ id, lines: [{ text: id, when: `name == '${name}'` }] })
const walk = (keys: Partial<Choice>): Beat => ({
  id: 'start',
  choices: [{ id: 'on', text: 'On', to: 'quay.end', ...keys }],
})
const stuck: Beat = { id: 'stuck' }
const end: Beat = { id: 'end', ending: 'end' }

test.each<[what: string, before: Beat[], after: Beat[], keys: Partial<Story>]>([
  [
    'words are told apart in another order',
    [asking, naming('a', 'Wren'), naming('b', 'Heron'), stuck],
    [asking, naming('b', 'Heron'), naming('a', 'Wren'), stuck],
    {},
  ],
  ['a quest is set where none was', [walk({}), end], [walk({ do: ["quest.dig = 'asked'"] }), end], {}],
  [
    'a promise can be asked that could not',
    [walk({}), end],
    [walk({ to: 'quay.more' }), { id: 'more', onward: [{ to: 'quay.end' }] }, end],
    { promises: [{ id: 'p', kind: 'always', holds: "visits('quay.more') == 0" }] },
  ],
  ['a beat comes that nothing leads to, then a road to it', [walk({}), end], [walk({}), stuck, end], {}],
])('where %s the edit is taken for no less than it is', (_, before, after, keys) => {
  const options = { hot: Infinity }
  const base: Story = { ...street(0, seededRandom(1)), ...keys, start: 'quay.start' }
  const versions = [before, after, [walk({ to: 'quay.stuck' }), ...after.filter(({ id }) => id !== 'start')], before]
  let linked: LinkedStory | undefined
  let survey: Survey | undefined
  for (const beats of versions) {
    const story = { ...base, scenes: [{ id: 'quay', title: 'Quay', beats }] }
    linked = linkStory(story, linked)
    survey = finished(linked, options, survey)
    const fresh = finished(linkStory(story), options)
    expect(told(survey)).toEqual(told(fresh))
  }
})

/** Near the start and farther on the same can be shown, and the edit closes the nearer way. */
test.each<[what: string, near: Partial<Choice>, far?: Partial<Choice>]>([
  ['a stage', { do: ["quest.dig = 'asked'"] }],
  ['an undeclared move', { do: ["quest.dig = 'done'"] }],
  ['an ending', { to: 'quay.shore' }, { to: 'quay.pier' }],
  ['a count out of its range', { to: 'quay.well' }],
  ['a text without a value', { to: 'quay.yard' }],
  ['a dead end', { do: ['lit = true'], to: 'quay.stuck' }, { to: 'quay.stuck' }],
  ['an endless run', { do: ['lit = true'], to: 'quay.round' }, { to: 'quay.round' }],
  ['a gate that is open', { do: ['lit = true', 'coin = 1'], to: 'quay.door' }, { do: ['coin = 1'], to: 'quay.door' }],
])('%s that was first seen on a way that an edit closes is seen on another', (_, near, far = near) => {
  const go = (how: Partial<Choice>): Choice => ({ id: 'go', text: 'Go', to: 'quay.end', ...how })
  const before: Story = {
    ...street(0, seededRandom(1)),
    start: 'quay.start',
    scenes: [
      {
        id: 'quay',
        title: 'Quay',
        beats: [
          { id: 'start', choices: [to('near'), to('steps')] },
          { id: 'near', choices: [go(near), to('end')] },
          { id: 'steps', choices: [to('wall')] },
          { id: 'wall', choices: [to('far')] },
          { id: 'far', choices: [go(far), to('end')] },
          { id: 'well', lines: [{ text: 'Wet.', do: ['coin += 5'] }], onward: [{ to: 'quay.end' }] },
          { id: 'yard', lines: [{ text: 'For {name}.' }], onward: [{ to: 'quay.end' }] },
          { id: 'stuck', choices: [{ ...to('end'), when: 'coin > 0 || (lit && coin > 0)' }] },
          { id: 'round', onward: [{ when: 'lit && coin > 0', to: 'quay.end' }, { to: 'quay.back' }] },
          { id: 'back', onward: [{ to: 'quay.round' }] },
          { id: 'door', choices: [{ ...to('shore'), when: 'coin > 0 || lit' }, to('end')] },
          { id: 'shore', ending: 'sea' },
          { id: 'pier', ending: 'sea' },
          { id: 'end', ending: 'end' },
        ],
      },
    ],
  }
  const [quay] = before.scenes
  const closed: Beat = { id: 'near', choices: [{ ...go(near), when: 'false' }, to('end')] }
  const after = { ...before, scenes: [{ ...quay!, beats: quay!.beats.with(1, closed) }] }
  const options = { hot: Infinity }
  const linked = linkStory(before)
  const now = linkStory(after, linked)
  const survey = finished(now, options, finished(linked, options))
  expect(survey.search.takenOver).toBeGreaterThan(0)
  expect(survey.result()).toEqual(finished(now, options).result())
})

const SUM = 'wide0 + wide1 + wide2 + wide3 > 3'

test.each<[what: string, before: string | undefined, after: string | undefined]>([
  ['nothing any more', 'lit', undefined],
  ['something', undefined, 'lit'],
  ['more than fits into one word', 'lit', SUM],
  ['what fits into one word again', SUM, 'lit'],
])('where states hold %s after an edit, what leads there is packed so', (_, before, after) => {
  const wide = widened(street(0, seededRandom(1)))
  const lamp: Choice = {
    ...to('hall'),
    id: 'lamp',
    do: ['lit = true', ...[0, 1, 2, 3].map((at) => `wide${at} = 2`)],
  }
  const story = (gate: string | undefined, from?: Story): Story => {
    const known = from?.scenes[0]!.beats
    const door: Beat = { id: 'door', choices: [to('pier', gate === undefined ? {} : { when: gate }), to('end')] }
    const beats: Beat[] = known?.with(3, door) ?? [
      { id: 'start', choices: [lamp, to('hall'), to('yard')] },
      { id: 'hall', choices: [to('wall'), to('end')] },
      { id: 'wall', choices: [to('door')] },
      door,
      { id: 'yard', choices: [to('well'), to('end')] },
      { id: 'well', choices: [to('end'), to('yard')] },
      { id: 'pier', ending: 'sea' },
      { id: 'end', ending: 'end' },
    ]
    return { ...wide, ...from, start: 'quay.start', scenes: [{ id: 'quay', title: 'Quay', beats }] }
  }
  const options = { hot: Infinity }
  const first = story(before)
  const linked = linkStory(first)
  const now = linkStory(story(after, first), linked)
  const survey = finished(now, options, finished(linked, options))
  const fresh = finished(now, options)
  expect(survey.result()).toEqual({ ...fresh.result(), figures: survey.result().figures })
  expect(survey.search.states).toBe(fresh.search.states)
})

test('beats that an edit opens after many others were edited find room for what they say', () => {
  const beat = (id: string, lines: number, to: string, when?: string): Beat => ({
    id,
    lines: Array.from({ length: lines }, (_, at) => ({ text: `Line ${at}.` })),
    choices: [{ id: 'on', text: 'On', to, ...(when === undefined ? {} : { when }) }],
  })
  const dark = beat('dark', 12_000, 'quay.end')
  const end: Beat = { id: 'end', ending: 'end' }
  const story = (start: Beat, door: Beat): Story => ({
    paperCompass: 1,
    title: 'The lamp',
    language: 'en',
    start: 'quay.start',
    ledger,
    endings,
    scenes: [{ id: 'quay', title: 'Quay', beats: [start, door, dark, end] }],
  })
  const ledger: Entry[] = [{ id: 'lit', kind: 'flag' }]
  const endings = [{ id: 'end', name: 'End' }]
  const closed = beat('door', 1, 'quay.dark', 'lit')
  const open = beat('door', 1, 'quay.dark', 'lit || !lit')
  const starts = [1, 4000].map((lines) => beat('start', lines, 'quay.door'))
  let linked: LinkedStory | undefined
  let survey: Survey | undefined
  for (const now of [...starts.map((start) => story(start, closed)), story(starts[1]!, open)]) {
    linked = linkStory(now, linked)
    survey = finished(linked, { hot: Infinity }, survey)
    expect(survey.result()).toEqual(finished(linkStory(now), { hot: Infinity }).result())
  }
  expect(survey!.result().reached.endings.end!.decisions).toBe(3)
})
