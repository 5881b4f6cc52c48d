import { readPlayRecord } from '../formats/playtest/read'
import { linkStory } from '../story/link'
import type { RouteItem, Story } from '../story/types'
import { figuresOf, replayRecord } from './playtests'

const story: Story = {
  paperCompass: 1,
  title: 'A quay',
  language: 'en',
  start: 'quay.here',
  ledger: [{ id: 'rope', kind: 'item', max: 3 }],
  endings: [{ id: 'across', name: 'Across' }],
  scenes: [
    {
      id: 'quay',
      title: 'Quay',
      beats: [
        {
          id: 'here',
          place: true,
          choices: [
            { id: 'rope', text: 'Rope', once: true, do: ['rope += 1'], to: 'return' },
            { id: 'go', text: 'Go', when: 'rope >= 1', to: 'quay.end' },
          ],
        },
        { id: 'end', ending: 'across' },
      ],
    },
  ],
}
const linked = linkStory(story)
const played = (choices: readonly string[], seconds = 30) =>
  replayRecord(linked, {
    steps: choices.map((choice) => ({ item: { choice: `quay.here.${choice}` } as RouteItem, seconds })),
    lastSeconds: 6,
  })

test('a record is replayed in the story as it is now, and says where it parts from it', () => {
  expect(played(['rope', 'go'])).toMatchObject({
    played: 2,
    parts: undefined,
    ending: 'across',
    at: 'quay.end',
    seconds: 66,
  })
  expect(played(['rope'])).toMatchObject({ played: 1, ending: undefined, at: 'quay.here', seconds: 36 })
  // what was open in another version is not any more: up to there it counts
  expect(played(['go', 'rope'])).toMatchObject({ played: 0, parts: '"quay.here.go" is closed here', seconds: 0 })
  expect(played(['rope', 'rope', 'go'])).toMatchObject({
    played: 1,
    parts: '"quay.here.rope" is closed here',
    seconds: 30,
  })
})

test('records are counted: shares, where people stopped, how long it took', () => {
  const figures = figuresOf([played(['rope', 'go']), played(['rope', 'go'], 120), played(['rope']), played(['go'])])
  expect(figures).toMatchObject({
    plays: 4,
    endings: { across: { plays: 2, share: 0.5 } },
    stopped: [{ beat: 'quay.here', plays: 2 }],
    beats: { 'quay.here': { share: 1 }, 'quay.end': { share: 0.5 } },
    choices: { 'quay.here.rope': { plays: 3 }, 'quay.here.go': { plays: 2 } },
    parted: 1,
    minutes: { least: 0, most: 4.1 },
  })
  expect(figuresOf([])).toMatchObject({ plays: 0, minutes: undefined })
})

test('a file that is no record is refused with what is wrong in it', () => {
  const sound = {
    paperCompassPlaytest: 1,
    story: 'x',
    version: '1',
    title: 'A quay',
    language: 'en',
    steps: [{ item: { choice: 'quay.here.go' }, at: 'quay.here', seconds: 1.5 }],
    stopped: { at: 'quay.end', status: 'ended', ending: 'across', seconds: 2 },
  }
  const said = (text: string) => {
    const read = readPlayRecord(text)
    return read.ok ? 'read' : read.error
  }
  expect(said(JSON.stringify(sound))).toBe('read')
  expect(said(`\uFEFF${JSON.stringify(sound)}`)).toBe('read')
  expect(said('{')).toMatch(/^this is no record of a playtest: it is not JSON/)
  expect(said(JSON.stringify({ ...sound, paperCompassPlaytest: 2 }))).toMatch(/expected "paperCompassPlaytest": 1/)
  expect(said(JSON.stringify({ ...sound, steps: [{ item: { fly: 1 }, at: 'x', seconds: 1 }] }))).toMatch(
    /steps\[0\]\.item/,
  )
  expect(said(JSON.stringify({ ...sound, steps: [{ ...sound.steps[0], seconds: -1 }] }))).toMatch(/steps\[0\]\.seconds/)
  expect(said('['.repeat(5000) + ']'.repeat(5000))).toMatch(/nested too deep/)
})
