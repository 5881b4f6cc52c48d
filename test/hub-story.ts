import type { Random } from '../src/core/base/random'
import type { Choice, Story } from '../src/core/story/types'

/**
 * A story around a hub: quests open at once with gates on each other, a purse that everything draws on, things done once, a
 * yard with choices of its own, a way on when nothing is left to do. Much of it goes wrong somewhere. With `abreast` a quest
 * begins only after the one so many before it came to its last stage: many quests, and still not too many single states.
 */
export function hubStory(random: Random, quests: number, abreast = quests): Story {
  const stages = 2 + random.below(2)
  const names = Array.from({ length: quests }, (_, at) => `q${at}`)
  const stage = (at: number) => `s${at}`
  const more = (own: number): string => {
    const other = names[random.below(quests)]!
    switch (random.below(7)) {
      case 0:
        return ` && coins >= ${1 + random.below(3)}`
      case 1:
        return own > 0 ? ` && atLeast(quest.${names[own - 1]!}, '${stage(random.below(stages))}')` : ''
      case 2:
        return ` && quest.${other} != '${stage(stages - 1)}'`
      case 3:
        return ` && (lit || before(quest.${other}, '${stage(1)}'))`
      default:
        return ''
    }
  }
  const after = (own: number) => (own < 0 ? '' : ` && quest.${names[own]!} == '${stage(stages - 1)}'`)
  const costs = (): string[] => (random.chance(0.4) ? [`coins -= ${1 + random.below(2)}`] : [])
  const steps = names.flatMap((quest, own) =>
    Array.from({ length: stages }, (_, at): Choice => {
      const before = at === 0 ? 'unstarted' : stage(at - 1)
      return {
        id: `${quest}_${at}`,
        text: 'On',
        when: `quest.${quest} == '${before}'${at === 0 ? after(own - abreast) : ''}${more(own)}`,
        do: [`quest.${quest} = '${stage(at)}'`, ...costs()],
        to: random.chance(0.2) ? 'hub.yard' : 'hub.start',
      }
    }),
  )
  const extras: Choice[] = [
    { id: 'lamp', text: 'Light it', once: true, do: ['lit = true', ...costs()], to: 'hub.start' },
    { id: 'out', text: 'Out', once: true, when: 'coins >= 1', to: 'hub.yard' },
    { id: 'drop', text: 'Drop it', once: true, do: [`quest.${names[0]!} = 'unstarted'`], to: 'hub.start' },
    {
      id: 'finish',
      text: 'Finish',
      when: names.map((quest) => `quest.${quest} == '${stage(stages - 1)}'`).join(random.chance(0.5) ? ' && ' : ' || '),
      to: [{ when: 'lit', to: 'hub.end' }, { to: 'hub.dark' }],
    },
  ]
  const choices = [...steps, ...extras.filter(() => random.chance(0.7))]
  const onward = random.chance(0.6) ? [{ when: random.chance(0.5) ? 'coins == 0' : 'true', to: 'hub.dusk' }] : []
  return {
    paperCompass: 1,
    title: 'Around a hub',
    language: 'en',
    start: 'hub.start',
    ledger: [
      { id: 'coins', kind: 'counter', min: 0, max: 5, initial: 2 + random.below(4) },
      { id: 'lit', kind: 'flag' },
    ],
    quests: names.map((id) => ({
      id,
      name: id,
      stages: Array.from({ length: stages }, (_, at) => ({
        id: stage(at),
        name: stage(at),
        ...(at === stages - 1 && random.chance(0.8) ? { outcome: 'success' as const } : {}),
      })),
    })),
    endings: [
      { id: 'good', name: 'Good' },
      { id: 'dark', name: 'Dark' },
    ],
    scenes: [
      {
        id: 'hub',
        title: 'Hub',
        beats: [
          { id: 'start', place: true, lines: [{ text: 'Lit.', when: 'lit && coins < 2' }], choices, onward },
          {
            id: 'yard',
            choices: [
              { id: 'earn', text: 'Earn', once: random.chance(0.8), do: ['coins += 2'], to: 'hub.start' },
              { id: 'back', text: 'Back', when: random.chance(0.5) ? 'coins <= 3' : 'lit', to: 'return' },
            ],
            onward: random.chance(0.5) ? [{ to: 'hub.start' }] : [],
          },
          { id: 'dusk', onward: [{ when: 'lit', to: 'hub.end' }, { to: 'hub.dark' }] },
          { id: 'dark', ending: 'dark' },
          { id: 'end', ending: 'good' },
        ],
      },
    ],
    promises: [
      { id: 'kept', kind: 'never', holds: `quest.${names[0]!} == '${stage(1)}' && coins == 0` },
      { id: 'can', kind: 'stillPossible', holds: "ended('good')", while: 'lit' },
      { id: 'order', kind: 'inOrder', first: 'lit', then: `quest.${names.at(-1)!} == '${stage(stages - 1)}'` },
    ],
  }
}
