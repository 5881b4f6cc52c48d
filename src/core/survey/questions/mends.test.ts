import { inOneGo } from '../../base/slices'
import { readFileSync } from 'node:fs'
import { randomStory } from '../../../../bench/stories/random'
import { applyChange } from '../../story/changes/apply'
import { linkStory } from '../../story/link'
import type { Story } from '../../story/types'
import { mendsOf, provenMend } from './mends'
import type { SurveyResult } from '../result'
import { Survey, surveyInSlices, surveyStory } from '../survey'
import { seeds } from '../../../../test/seeds'

const name = (finding: { readonly kind: string; readonly key: readonly string[] }) =>
  `${finding.kind} ${finding.key.join(' ')}`

const lengths = ({ reached }: SurveyResult) =>
  Object.entries(reached.endings).map(([id, { decisions }]) => `${id} ${decisions}`)

/** What is offered for each finding of a story, each shown to settle it and to be taken back whole. */
function mendAll(story: Story): { offered: string[]; says: string[] } {
  const survey = new Survey(linkStory(story))
  while (!survey.advance());
  const before = survey.result()
  const offered: string[] = []
  const says: string[] = []
  for (const finding of before.findings) {
    const mend = inOneGo(provenMend(story, finding, survey, before, (other) => surveyInSlices(linkStory(other))))
    if (mend === undefined) continue
    offered.push(name(finding))
    says.push(mend.says)
    const applied = applyChange(story, mend.change)
    if (!applied.ok) throw new Error(applied.error)
    expect(surveyStory(linkStory(applied.value.story)).findings.map(name)).not.toContain(name(finding))
    const undone = applyChange(applied.value.story, applied.value.inverse)
    expect(undone.ok && JSON.stringify(undone.value.story)).toBe(JSON.stringify(story))
  }
  return { offered, says }
}

test('what is sure in the draft is mended', () => {
  const { offered, says } = mendAll(JSON.parse(readFileSync('samples/first-draft.story.json', 'utf8')) as Story)
  expect(offered).toEqual([
    'problem quay.morning.signal when',
    'unreached quay.morning#line1.variant2',
    'unreached quay.morning.stay',
    'dead-end mill.tamsin',
    'overrun rope quay.morning.rope',
    'always-open mill.yard.back when',
  ])
  expect(says).toEqual([
    'write lantern for lantren',
    'put the variant that always holds last',
    'ask for tide <= 1: it steps over 0',
    'let it go on to mill · yard otherwise',
    'let it be taken once',
    'take the gate away',
  ])
})

test('a move that an effect makes and the quest does not have is added to it', () => {
  const story: Story = {
    paperCompass: 1,
    title: 'Moves',
    language: 'en',
    start: 'quay.here',
    quests: [
      {
        id: 'sluice',
        name: 'Sluice',
        stages: [
          { id: 'asked', name: 'Asked' },
          { id: 'mended', name: 'Mended', outcome: 'success' },
        ],
        moves: [['unstarted', 'asked']],
      },
    ],
    endings: [{ id: 'out', name: 'Out' }],
    scenes: [
      {
        id: 'quay',
        title: 'Quay',
        beats: [
          { id: 'here', choices: [{ id: 'ask', text: 'Ask', do: ["quest.sluice = 'asked'"], to: 'quay.mend' }] },
          { id: 'mend', choices: [{ id: 'mend', text: 'Mend', do: ["quest.sluice = 'mended'"], to: 'quay.out' }] },
          { id: 'out', ending: 'out' },
        ],
      },
    ],
  }
  expect(mendAll(story)).toEqual({
    offered: ['undeclared-move sluice asked mended'],
    says: ['let the quest have this move'],
  })
})

test('a gate that is always open can go without changing anything else', () => {
  let tried = 0
  for (const seed of seeds(110)) {
    const story = randomStory(seed, 'tiny')
    const before = surveyStory(linkStory(story))
    for (const finding of before.findings) {
      if (finding.kind !== 'always-open') continue
      const [mend] = mendsOf(story, finding)
      if (mend === undefined) continue
      tried += 1
      const applied = applyChange(story, mend.change)
      if (!applied.ok) throw new Error(applied.error)
      const after = surveyStory(linkStory(applied.value.story))
      expect(after.findings.map(name)).not.toContain(name(finding))
      // unread and unwritten may come, as the gate no longer reads; what is reached stays
      expect({ seed, key: finding.key, reached: lengths(after) }).toEqual({
        seed,
        key: finding.key,
        reached: lengths(before),
      })
      expect(Object.keys(after.reached.beats)).toEqual(Object.keys(before.reached.beats))
    }
  }
  expect(tried).toBeGreaterThan(50)
})

test('a count that steps over the number it is compared with is asked for by its direction', () => {
  const story: Story = {
    paperCompass: 1,
    title: 'Steps',
    language: 'en',
    start: 'quay.here',
    ledger: [{ id: 'tide', kind: 'counter', min: -9, max: 9, initial: 5 }],
    endings: [{ id: 'out', name: 'Out' }],
    scenes: [
      {
        id: 'quay',
        title: 'Quay',
        beats: [
          {
            id: 'here',
            choices: [
              { id: 'wait', text: 'Wait', do: ['tide -= 2'], to: 'quay.here' },
              { id: 'go', text: 'Go', when: 'tide == 0 && true', to: 'quay.out' },
            ],
          },
          { id: 'out', ending: 'out' },
        ],
      },
    ],
  }
  expect(mendAll(story).says).toContain('ask for tide <= 0: it steps over 0')
})
