import { linkStory } from '../story/link'
import type { Story } from '../story/types'
import { figuresOf, replayRecord } from './playtests'
import { quay } from '../../../test/quay'

const story: Story = quay(
  [
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
  { ledger: [{ id: 'rope', kind: 'item', max: 3 }] },
)
const linked = linkStory(story)
const played = (choices: readonly string[], seconds = 30) =>
  replayRecord(linked, {
    steps: choices.map((choice) => ({ item: { choice: `quay.here.${choice}` }, seconds })),
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
