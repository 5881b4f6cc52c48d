import { randomStory } from '../bench/stories/random'
import { applyChange } from '../src/core/story/changes/apply'
import { linkStory } from '../src/core/story/link'
import { rename, type Named } from '../src/core/story/rename/rename'
import type { Story } from '../src/core/story/types'
import { surveyStory } from '../src/core/survey/survey'
import { seeds } from './seeds'

const STATES_MAX = 1000

/** Verdicts by number alone: how many decisions to everything that is reached, and what was found with which route. */
function verdicts(story: Story) {
  const { figures, findings, reached, promises } = surveyStory(linkStory(story), { routes: 'all' })
  return {
    states: figures.states,
    findings: findings.map(({ kind, level, key, route }) => [kind, level, key.length, route?.length]),
    reached: Object.values(reached).map((part) => Object.values(part).map(({ decisions }) => decisions)),
    promises: Object.values(promises).map(({ verdict }) => verdict),
  }
}

function targets(story: Story): Named[] {
  const named: Named[] = [{ of: 'scene', id: story.scenes[0]!.id }]
  const [scene] = story.scenes
  const beat = scene!.beats[0]!
  named.push({ of: 'beat', scene: scene!.id, id: beat.id })
  const choosing = scene!.beats.find(({ choices }) => choices !== undefined)
  if (choosing !== undefined)
    named.push({ of: 'choice', scene: scene!.id, beat: choosing.id, id: choosing.choices![0]!.id })
  for (const entry of [...(story.ledger ?? []), ...story.scenes.flatMap(({ ledger }) => ledger ?? [])])
    named.push({ of: 'entry', id: entry.id })
  for (const entry of story.ledger ?? [])
    if (entry.kind === 'switch') named.push({ of: 'position', entry: entry.id, id: entry.positions.at(-1)! })
  for (const quest of story.quests ?? [])
    named.push({ of: 'quest', id: quest.id }, { of: 'stage', quest: quest.id, id: quest.stages[0]!.id })
  for (const ending of story.endings ?? []) named.push({ of: 'ending', id: ending.id })
  for (const person of story.cast ?? []) named.push({ of: 'person', id: person.id })
  return named
}

test('whatever is renamed, no verdict changes, nothing names it any more, and one step takes it back', () => {
  const kinds = new Set<string>()
  let mentions = 0
  for (const seed of seeds(30)) {
    const story = randomStory(seed, 'tiny')
    const { states, ...before } = verdicts(story)
    // each name is another survey
    if (states > STATES_MAX) continue
    for (const named of targets(story)) {
      const renamed = rename(story, named, 'zebra')
      if (!renamed.ok) throw new Error(renamed.error)
      const applied = applyChange(story, renamed.value.change)
      if (!applied.ok) throw new Error(applied.error)
      expect({ seed, named, ...verdicts(applied.value.story) }).toEqual({ seed, named, states, ...before })
      const back = rename(
        applied.value.story,
        { ...named, id: 'zebra', ...(named.of === 'beat' || named.of === 'choice' ? { scene: named.scene } : {}) },
        named.id,
      )
      expect(back.ok && back.value.mentions).toBe(renamed.value.mentions)
      const undone = applyChange(applied.value.story, applied.value.inverse)
      expect(undone.ok && JSON.parse(JSON.stringify(undone.value.story))).toEqual(JSON.parse(JSON.stringify(story)))
      kinds.add(named.of)
      mentions += renamed.value.mentions
    }
  }
  expect([...kinds].sort()).toEqual([
    'beat',
    'choice',
    'ending',
    'entry',
    'person',
    'position',
    'quest',
    'scene',
    'stage',
  ])
  expect(mentions).toBeGreaterThan(1000)
})

test('texts keep every sign but the name; what is taken or reserved is refused', () => {
  const story = {
    paperCompass: 1,
    title: 'Texts',
    language: 'en',
    start: 'quay.here',
    ledger: [
      { id: 'rope', kind: 'item', max: 3 },
      { id: 'lamp', kind: 'switch', positions: ['dark', 'lit'] },
    ],
    quests: [{ id: 'sluice', name: 'Sluice', stages: [{ id: 'asked', name: 'Asked' }] }],
    scenes: [
      {
        id: 'quay',
        title: 'Quay',
        beats: [
          {
            id: 'here',
            lines: [
              {
                text: "It's '{'rope'}': {rope, plural, one {# rope {rope}} other {ropes}} {lamp, select, lit {rope} other {}} {quest_sluice, select, asked{a} other {}}",
              },
            ],
          },
        ],
      },
    ],
  } as unknown as Story
  const text = (named: Named, to: string) => {
    const renamed = rename(story, named, to)
    if (!renamed.ok) return renamed.error
    const applied = applyChange(story, renamed.value.change)
    return applied.ok ? (applied.value.story.scenes[0]!.beats[0]!.lines![0] as { text: string }).text : applied.error
  }
  expect(text({ of: 'entry', id: 'rope' }, 'cord')).toContain(
    "It's '{'rope'}': {cord, plural, one {# rope {cord}} other {ropes}} {lamp, select, lit {rope}",
  )
  expect(text({ of: 'position', entry: 'lamp', id: 'lit' }, 'bright')).toContain(
    '{lamp, select, bright {rope} other {}}',
  )
  expect(text({ of: 'stage', quest: 'sluice', id: 'asked' }, 'offered')).toContain(
    '{quest_sluice, select, offered{a} other {}}',
  )
  expect(text({ of: 'quest', id: 'sluice' }, 'gate')).toContain('{quest_gate, select, asked{a}')
  expect(text({ of: 'entry', id: 'rope' }, 'lamp')).toContain('is taken')
  expect(text({ of: 'entry', id: 'rope' }, 'while')).toContain('reserved')
})
