import { randomStory } from '../../../bench/stories/random'
import { seededRandom, type Random } from '../base/random'
import { linkStory } from '../story/link'
import type { LinkedStory } from '../story/linked'
import type { Beat, Entry, Story } from '../story/types'
import { Survey } from './survey'
import { seeds } from '../../../test/seeds'

const SEEDS = 60
const EDITS = 6

/** An edit as writers make them: a gate or effects from elsewhere, a gate gone, a road turned, a line said only sometimes. */
function edited(story: Story, random: Random): Story {
  const beats = story.scenes.flatMap((scene) => scene.beats)
  const choices = beats.flatMap((beat) => beat.choices ?? [])
  const gates = choices.flatMap(({ when }) => when ?? [])
  const effects = choices.flatMap((choice) => choice.do ?? [])
  const target = beats[random.below(beats.length)]!
  const gate = gates.length === 0 ? 'true' : gates[random.below(gates.length)]!
  const change = (beat: Beat): Beat => {
    const list = beat.choices ?? []
    const at = random.below(Math.max(1, list.length))
    const choice = list[at]
    const put = (keys: object): Beat => ({
      ...beat,
      choices: list.map((one, index) => (index === at ? { ...one, ...keys } : one)),
    })
    switch (random.below(choice === undefined ? 1 : 6)) {
      case 0:
        return {
          ...beat,
          lines: [...(beat.lines ?? []), { text: 'Said now.', when: gate, do: effects.slice(0, random.below(3)) }],
        }
      case 1:
        return { ...beat, place: beat.place !== true }
      case 2:
        return put({ when: gate })
      case 3:
        return put({ when: undefined })
      case 4:
        return put({ do: effects.length === 0 ? [] : [effects[random.below(effects.length)]!] })
      default:
        return put({ to: 'return' })
    }
  }
  return {
    ...story,
    scenes: story.scenes.map((scene) => ({
      ...scene,
      beats: scene.beats.map((beat) => (beat === target ? change(beat) : beat)),
    })),
  }
}

function finished(story: LinkedStory, options: { readonly hot: number }, before?: Survey): Survey {
  const survey = new Survey(story, { routes: 'all', ...options }, before)
  for (let round = 0; !survey.advance(1009) && round < 3; round += 1);
  return survey
}

test('a survey that takes over what an edit left as it was says the same as one from the beginning', () => {
  let takenOver = 0
  for (const seed of seeds(SEEDS)) {
    const random = seededRandom(seed)
    let story = randomStory(seed, seed % 3 === 0 ? 'tiny' : undefined)
    let linked = linkStory(story)
    let survey = finished(linked, { hot: seed % 2 === 0 ? 0 : Infinity })
    for (let edit = 0; edit < EDITS; edit += 1) {
      story = edited(story, random)
      linked = linkStory(story, linked)
      const { machine, slots } = survey.search
      survey = finished(linked, { hot: seed % 2 === 0 ? 0 : Infinity }, survey)
      if (survey.search.machine === machine && survey.search.slots === slots) takenOver += 1
      const fresh = finished(linkStory(story), { hot: Infinity })
      expect({ seed, edit, ...survey.result(), figures: survey.progress.states }).toEqual({
        seed,
        edit,
        ...fresh.result(),
        figures: fresh.progress.states,
      })
    }
  }
  expect(takenOver).toBeGreaterThan(SEEDS)
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
