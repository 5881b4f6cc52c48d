import { checkStory } from '../../core/story/read'
import type { Story } from '../../core/story/types'
import { consequence } from '../frame/consequence'
import type { SurveyResult } from '../../core/survey/result'
import { linkStory } from '../../core/story/link'
import { surveyStory } from '../../core/survey/survey'
import { sayAddress } from '../../session/names'
import { insertAt, moveBy, nameChoice, newBeatFor, speakerTyped, withKeys } from '../../core/story/reshape/beat-edits'
import { completions } from '../expression/completions'
import { insertLineAfter, lineName, moveLine, removeLine, updateLine } from './manuscript/edit-beat'

const checked = checkStory({
  paperCompass: 1,
  title: 'Desk',
  language: 'en',
  start: 'quay.here',
  cast: [{ id: 'odile', name: 'Odile Marsh' }],
  ledger: [
    { id: 'tide', kind: 'counter', min: 0, max: 3 },
    { id: 'lantern', kind: 'switch', positions: ['dark', 'lit'] },
  ],
  quests: [{ id: 'sluice', name: 'Mend the sluice', stages: [{ id: 'asked', name: 'Asked' }] }],
  endings: [{ id: 'home', name: 'Home again' }],
  scenes: [
    {
      id: 'quay',
      title: 'Quay',
      beats: [
        {
          id: 'here',
          choices: [
            { id: 'choice', text: '', to: '' },
            { id: 'go_home', text: 'Go', to: 'quay.end' },
          ],
        },
        { id: 'end', ending: 'home' },
      ],
    },
    { id: 'mill', title: 'Mill', ledger: [{ id: 'loft', kind: 'flag' }], beats: [{ id: 'yard' }] },
  ],
})
const story: Story = checked.ok ? checked.value : (undefined as never)
const here = story.scenes[0]!.beats[0]!

test('a name of the cast and a colon make a speaker; anything else is text', () => {
  expect(speakerTyped(story, 'Odile: Mind the rope.')).toEqual({ speaker: 'odile', text: 'Mind the rope.' })
  expect(speakerTyped(story, 'ODILE MARSH:')).toEqual({ speaker: 'odile', text: '' })
  expect(speakerTyped(story, 'Tamsin: Not known.')).toBeUndefined()
  expect(speakerTyped(story, 'It is late. Odile: asleep')).toBeUndefined()
})

test('a destination that does not exist can be made, here or in another scene, old or new', () => {
  expect(newBeatFor(story, 'quay', 'Wet Sand!')).toMatchObject({
    address: 'quay.wet_sand',
    change: { op: 'insert', in: { list: 'beats', scene: 'quay' } },
  })
  expect(newBeatFor(story, 'quay', 'mill.loft')).toMatchObject({
    address: 'mill.loft',
    change: { in: { scene: 'mill' } },
  })
  expect(newBeatFor(story, 'quay', 'flats.edge')).toMatchObject({
    address: 'flats.edge',
    change: { in: { list: 'scenes' }, item: { id: 'flats' } },
  })
  expect(newBeatFor(story, 'quay', 'end')).toBeUndefined()
  // behind the beat that names it and those that it leads to already: the page follows the story
  const longer: Story = {
    ...story,
    scenes: [{ ...story.scenes[0]!, beats: [...story.scenes[0]!.beats, { id: 'later' }] }, ...story.scenes.slice(1)],
  }
  expect(newBeatFor(longer, 'quay', 'pier', 'here')).toMatchObject({ change: { at: 2 } })
  expect(newBeatFor(longer, 'quay', 'pier', 'end')).toMatchObject({ change: { at: 2 } })
  expect(newBeatFor(longer, 'quay', 'pier', 'later')).toMatchObject({ change: { at: 3 } })
  expect(newBeatFor(longer, 'quay', 'pier')).toMatchObject({ change: { at: 3 } })
  // a reserved word becomes an id that is none
  expect(newBeatFor(story, 'quay', 'while')!.address).toBe('quay.beat_while')
})

test('a fresh choice is named by its text, unless something names it already or the name is taken', () => {
  const [fresh] = here.choices!
  const place = { scene: 'quay', index: 0, beat: here }
  expect(nameChoice(story, place, fresh!, 'Pay the toll now').id).toBe('pay_the_toll')
  expect(nameChoice(story, place, fresh!, 'Go home').id).toBe('go_home_2')
  expect(nameChoice(story, place, fresh!, '  ').id).toBe('choice')
  const named = { ...story, promises: [{ id: 'p', kind: 'never' as const, holds: "taken('quay.here.choice')" }] }
  expect(nameChoice(named, place, fresh!, 'Pay').id).toBe('choice')
  expect(nameChoice(story, place, here.choices![1]!, 'Walk').id).toBe('go_home')
  expect(nameChoice(story, place, here.choices![1]!, 'Walk', true).id).toBe('walk')
})

test('lines are edited where they stand, alone or in a variant', () => {
  const beat = { id: 'x', lines: [{ text: 'a' }, { firstOf: [{ lines: [{ text: 'b' }, { text: 'c' }] }] }] }
  expect(lineName({ at: 1, variant: 0, line: 1 })).toBe('line2.variant1.line2')
  const edited = updateLine(beat, { at: 1, variant: 0, line: 1 }, (line) => ({ ...line, text: 'C' }))
  expect(edited.lines).toEqual([{ text: 'a' }, { firstOf: [{ lines: [{ text: 'b' }, { text: 'C' }] }] }])
  expect(insertLineAfter(beat, { at: 0 }, { text: 'new' }).lines?.[1]).toEqual({ text: 'new' })
  expect(removeLine(removeLine(beat, { at: 1 }), { at: 0 })).toEqual({ id: 'x' })
  expect(moveLine(beat, { at: 1, variant: 0, line: 1 }, -1)?.lines?.[1]).toEqual({
    firstOf: [{ lines: [{ text: 'c' }, { text: 'b' }] }],
  })
  expect(moveLine(beat, { at: 0 }, -1)).toBeUndefined()
  expect(beat.lines[0]).toEqual({ text: 'a' })
  const turns = {
    id: 'x',
    lines: [{ inTurn: [{ lines: [{ text: 'a' }] }, { lines: [{ text: 'b' }, { text: 'c' }] }] }],
  }
  const second = { at: 0, turn: 1, line: 1 }
  expect(lineName(second)).toBe('line1.turn2.line2')
  expect(updateLine(turns, second, (line) => ({ ...line, text: 'C' })).lines).toEqual([
    { inTurn: [{ lines: [{ text: 'a' }] }, { lines: [{ text: 'b' }, { text: 'C' }] }] },
  ])
  const held = { id: 'x', lines: [{ firstOf: [{ order: 'last' as const, ...turns.lines[0]! }] }] }
  expect(removeLine(held, { ...second, variant: 0 }).lines).toEqual([
    { firstOf: [{ order: 'last', inTurn: [{ lines: [{ text: 'a' }] }, { lines: [{ text: 'b' }] }] }] },
  ])
})

test('lists and keys are changed without touching what was there', () => {
  const list = ['a', 'b']
  expect(insertAt(list, 1, 'x')).toEqual(['a', 'x', 'b'])
  expect(moveBy(list, 1, 1)).toBeUndefined()
  expect(list).toEqual(['a', 'b'])
  expect(Object.keys(withKeys({ a: 1, b: 2 }, { a: undefined }))).toEqual(['b'])
})

test('an expression is completed by what fits where it stands', () => {
  const offered = (form: 'gate' | 'effect', text: string, scene = 'quay') =>
    completions(story, scene, form, text).map(({ value }) => value)
  expect(offered('gate', 'ti')).toContain('tide')
  expect(offered('gate', 'tide > 1 && lan')).toEqual(['tide > 1 && lantern'])
  expect(offered('gate', "lantern == '")).toEqual(["lantern == 'dark'", "lantern == 'lit'"])
  expect(offered('gate', "quest.sluice == 'a")).toEqual(
    ["quest.sluice == 'unstarted'", "quest.sluice == 'asked'"].filter((value) => value.includes('a')),
  )
  expect(offered('effect', "quest.sluice = '")).toContain("quest.sluice = 'asked'")
  expect(offered('gate', "visits('mi")).toEqual(["visits('mill.yard')"])
  expect(offered('gate', 'lo', 'mill')).toContain('loft')
  expect(offered('gate', 'lo', 'quay')).not.toContain('loft')
  expect(offered('gate', 'tide ')).toEqual([])
})

test('the consequence of an edit names what is lost and what is won', () => {
  const result = (one: Story): SurveyResult => surveyStory(linkStory(one))
  const closed: Story = {
    ...story,
    scenes: [
      {
        ...story.scenes[0]!,
        beats: [{ ...here, choices: [{ ...here.choices![1]!, when: 'tide > 9' }] }, story.scenes[0]!.beats[1]!],
      },
      story.scenes[1]!,
    ],
  }
  const [open, shut] = [result(story), result(closed)]
  expect(consequence(story, open, shut)).toBe('Home again no longer reached')
  expect(consequence(story, shut, open)).toBe('Home again reached now')
  expect(consequence(story, open, open)).toBeUndefined()
})

test('addresses are read as words', () => {
  expect(sayAddress('quay.first_light#line2.variant1')).toBe('quay · first light, line 2, variant 1')
  expect(sayAddress('quay.here.go#2')).toBe('quay · here · go, road 2')
})
