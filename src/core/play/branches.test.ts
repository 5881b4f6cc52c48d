import { randomStory } from '../../../bench/stories/random'
import { seededRandom } from '../base/random'
import { linkStory } from '../story/link'
import type { RouteItem } from '../story/types'
import { branchesTried, type Branch } from './branches'
import { openness } from './choices'
import { replay } from './replay'
import { begin, beginWith, decide } from './step'

function all(branch: Branch): Branch[] {
  return [branch, ...branch.next.flatMap(all)]
}

test('the tree holds every run once, and counts what is open and was not tried', () => {
  for (let seed = 1; seed <= 60; seed += 1) {
    const story = linkStory(randomStory(seed))
    const random = seededRandom(seed)
    const runs: RouteItem[][] = []
    for (let run = 0; run < 6; run += 1) {
      let state = begin(story)
      const decisions: RouteItem[] = []
      while (decisions.length < 8 && (state.status === 'choice' || state.status === 'word')) {
        const beat = story.beats[state.at]!
        const open = beat.choices.filter((choice) => openness(story, state, choice).open)
        const decision: RouteItem =
          state.status === 'word'
            ? { at: beat.address, word: `w${random.below(2)}` }
            : { choice: random.pick(open).address }
        const next = decide(story, state, decision)
        if (!next.ok) throw new Error(next.error)
        state = next.value
        decisions.push(decision)
        runs.push(decisions.slice())
      }
    }
    const tree = branchesTried(story, runs)
    const branches = all(tree)
    const names = branches.map(({ run }) => JSON.stringify(run))
    expect(new Set(names)).toEqual(new Set(['[]', ...runs.map((run) => JSON.stringify(run))]))
    expect(names.length).toBe(new Set(names).size)
    for (const branch of branches) {
      const { state } = replay(story, branch.run)
      expect(branch.status).toBe(state.status)
      if (state.status !== 'choice') continue
      const open = story.beats[state.at]!.choices.filter((choice) => openness(story, state, choice).open).length
      expect(branch.untried + branch.next.length).toBe(open)
    }
  }
})

test('a run that an edit closed is left out from where it closed', () => {
  const story = (gate: string) =>
    linkStory({
      paperCompass: 1,
      title: 'T',
      language: 'en',
      start: 's.a',
      scenes: [
        {
          id: 's',
          title: 'S',
          beats: [
            {
              id: 'a',
              choices: [
                { id: 'x', text: 'X', to: 's.a' },
                { id: 'y', text: 'Y', when: gate, to: 's.a' },
              ],
            },
          ],
        },
      ],
    })
  const runs = [[{ choice: 's.a.x' }], [{ choice: 's.a.x' }, { choice: 's.a.y' }]]
  expect(all(branchesTried(story('true'), runs))).toHaveLength(3)
  expect(all(branchesTried(story('false'), runs))).toHaveLength(2)
})

test('values set by hand are there as the beat is come to, also those of its scene; unknown ones are passed over', () => {
  const story = linkStory({
    paperCompass: 1,
    title: 'T',
    language: 'en',
    start: 's.a',
    ledger: [{ id: 'tide', kind: 'counter', min: 0, max: 9 }],
    quests: [{ id: 'sluice', name: 'Sluice', stages: [{ id: 'asked', name: 'Asked' }] }],
    scenes: [
      {
        id: 's',
        title: 'S',
        ledger: [{ id: 'here', kind: 'flag' }],
        beats: [
          { id: 'a', place: true, choices: [{ id: 'on', text: 'On', to: 's.b' }] },
          { id: 'b', arrive: [{ do: ['tide += 1'] }], choices: [{ id: 'back', text: 'Back', to: 'return' }] },
        ],
      },
    ],
  })
  const state = beginWith(story, {
    beat: 's.b',
    place: 's.a',
    ledger: { tide: 4, here: true, gone: 3 },
    stages: { sluice: 'asked', lost: 'x' },
  })
  expect(state).toMatchObject({ status: 'choice', entries: [5, true], stages: [1] })
  expect(decide(story, state, { choice: 's.b.back' }).ok).toBe(true)
  expect(beginWith(story, { beat: 's.gone', ledger: {}, stages: {} }).status).toBe('nowhere')
})
