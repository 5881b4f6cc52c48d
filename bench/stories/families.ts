import type { Beat, Choice, Scene, Story } from '../../src/core/story/types'
import { seededRandom } from '../../src/core/base/random'

/** Stories of known shape at growing sizes, to see how the survey grows with them. */

function story(title: string, parts: Partial<Story>, start = 'hub.start'): Story {
  return { paperCompass: 1, title, language: 'en', start, scenes: [], endings: [{ id: 'end', name: 'End' }], ...parts }
}

const range = <T>(count: number, make: (at: number) => T): T[] => Array.from({ length: count }, (_, at) => make(at))

/** Quests that have nothing to do with one another, worked on from a hub in any order. */
export function questsAroundHub(count: number, stages = 4): Story {
  const quests = range(count, (q) => ({
    id: `q${q}`,
    name: `Quest ${q}`,
    stages: range(stages, (s) => ({
      id: `s${s}`,
      name: `Stage ${s}`,
      ...(s === stages - 1 ? { outcome: 'success' as const } : {}),
    })),
  }))
  const steps = quests.flatMap((quest, q): Choice[] =>
    quest.stages.map((stage, s) => ({
      id: `do_${q}_${s}`,
      text: `Step ${s}`,
      when: `quest.${quest.id} == '${s === 0 ? 'unstarted' : quest.stages[s - 1]!.id}'`,
      do: [`quest.${quest.id} = '${stage.id}'`],
      to: 'hub.start',
    })),
  )
  const done = quests.map((quest) => `quest.${quest.id} == 's${stages - 1}'`).join(' && ')
  return story(`${count} quests around a hub`, {
    quests,
    scenes: [
      {
        id: 'hub',
        title: 'Hub',
        beats: [
          {
            id: 'start',
            place: true,
            choices: [...steps, { id: 'finish', text: 'Finish', when: done, to: 'hub.end' }],
          },
          { id: 'end', ending: 'end' },
        ],
      },
    ],
  })
}

/** Quests around a hub of which each goes on only when the one so far before it has begun. */
export function gatesAcross(count: number, before: number): Story {
  const open = questsAroundHub(count)
  const [hub] = open.scenes
  const [start, ...others] = hub!.beats
  const gated = start!.choices!.map((choice): Choice => {
    const [, quest, stage] = /^do_(\d+)_(\d+)$/.exec(choice.id) ?? []
    const other = Number(quest) - before
    return stage === '1' && other >= 0
      ? { ...choice, when: `${choice.when!} && atLeast(quest.q${other}, 's0')` }
      : choice
  })
  return {
    ...open,
    title: `${count} quests with gates across`,
    scenes: [{ ...hub!, beats: [{ ...start!, choices: gated }, ...others] }],
  }
}

/** A budget spent in uneven amounts on things that can be had once each. */
export function unevenBudget(things: number, budget: number): Story {
  const costs = range(things, (at) => [2, 3, 5, 7][at % 4]!)
  const choices = costs.map((cost, at): Choice => ({
    id: `buy${at}`,
    text: `Buy ${at}`,
    once: true,
    when: `coins >= ${cost}`,
    do: [`coins -= ${cost}`, `have${at} += 1`],
    to: 'hub.start',
  }))
  return story(`a budget of ${budget} for ${things} things`, {
    ledger: [
      { id: 'coins', kind: 'counter', min: 0, max: budget, initial: budget },
      ...range(things, (at) => ({ id: `have${at}`, kind: 'item' as const, max: 1 })),
    ],
    scenes: [
      {
        id: 'hub',
        title: 'Market',
        beats: [
          {
            id: 'start',
            choices: [
              ...choices,
              {
                id: 'leave',
                text: 'Leave',
                when: range(Math.min(3, things), (at) => `have${at} >= 1`).join(' && '),
                to: 'hub.end',
              },
            ],
            onward: [{ to: 'hub.home' }],
          },
          { id: 'home', lines: [{ text: 'Home.' }], onward: [{ to: 'hub.end' }] },
          { id: 'end', ending: 'end' },
        ],
      },
    ],
  })
}

/** A long corridor of branching beats; some branches set a flag that is read once, a while later. */
export function corridor(beats: number, flags: number, ahead = 12): Story {
  const perFlag = Math.max(1, Math.floor(beats / flags))
  const list = range(beats, (at): Beat => {
    const next = `hub.b${at + 1}`
    const sets = at % perFlag === 0 && at / perFlag < flags ? at / perFlag : -1
    const readAt = at - ahead
    const reads = readAt >= 0 && readAt % perFlag === 0 && readAt / perFlag < flags ? readAt / perFlag : -1
    const choices: Choice[] = [
      { id: 'left', text: 'Left', ...(sets >= 0 ? { do: [`f${sets} = true`] } : {}), to: next },
      { id: 'right', text: 'Right', to: next },
    ]
    if (reads >= 0) choices.push({ id: 'known', text: 'Known', when: `f${reads}`, to: next })
    return { id: at === 0 ? 'start' : `b${at}`, lines: [{ text: `Corridor ${at}.` }], choices }
  })
  const last = `b${beats}`
  const scenes: Scene[] = [{ id: 'hub', title: 'Corridor', beats: [...list, { id: last, ending: 'end' }] }]
  return story(`a corridor of ${beats + 1} beats with ${flags} flags`, {
    ledger: range(flags, (at) => ({ id: `f${at}`, kind: 'flag' as const })),
    scenes,
  })
}

/** Pairs of quests of which each can fail the other. */
export function rivals(pairs: number): Story {
  const quests = range(pairs * 2, (q) => ({
    id: `q${q}`,
    name: `Quest ${q}`,
    stages: [
      { id: 'begun', name: 'Begun' },
      { id: 'won', name: 'Won', outcome: 'success' as const },
      { id: 'lost', name: 'Lost', outcome: 'failure' as const },
    ],
    moves: [
      ['unstarted', 'begun'],
      ['begun', 'won'],
      ['begun', 'lost'],
      ['unstarted', 'lost'],
    ] as [string, string][],
  }))
  const choices = quests.flatMap(({ id }, q): Choice[] => {
    const rival = `q${q % 2 === 0 ? q + 1 : q - 1}`
    return [
      {
        id: `begin${q}`,
        text: 'Begin',
        when: `quest.${id} == 'unstarted'`,
        do: [`quest.${id} = 'begun'`],
        to: 'hub.start',
      },
      {
        id: `win${q}`,
        text: 'Win',
        when: `quest.${id} == 'begun' && quest.${rival} != 'won'`,
        do: [`quest.${id} = 'won'`, `quest.${rival} = 'lost'`],
        to: 'hub.start',
      },
    ]
  })
  const settled = range(pairs, (p) => `(quest.q${2 * p} == 'won' || quest.q${2 * p + 1} == 'won')`).join(' && ')
  return story(`${pairs} pairs of rival quests`, {
    quests,
    scenes: [
      {
        id: 'hub',
        title: 'Hub',
        beats: [
          { id: 'start', choices: [...choices, { id: 'finish', text: 'Finish', when: settled, to: 'hub.end' }] },
          { id: 'end', ending: 'end' },
        ],
      },
    ],
    promises: [
      {
        id: 'one_each',
        kind: 'never',
        holds: range(pairs, (p) => `(quest.q${2 * p} == 'won' && quest.q${2 * p + 1} == 'won')`).join(' || '),
      },
    ],
  })
}

/** A story of ordinary shape: scenes with a place each, talk, some flags and a quest read nearby, a way on to the next scene. */
export function ordinary(beats: number, seed = 1, perScene = 25): Story {
  const random = seededRandom(seed)
  const sceneCount = Math.ceil(beats / perScene)
  const scenes = range(sceneCount, (s): Scene => {
    const talk = range(perScene - 2, (b): Beat => ({
      id: `talk${b}`,
      lines: [
        { speaker: 'odile', text: `Line ${b} of scene ${s}, {name}.` },
        {
          firstOf: [
            { when: `met${s}_${b % 3}`, lines: [{ text: 'You again.' }] },
            { lines: [{ text: 'A new face.' }] },
          ],
        },
      ],
      choices: [
        {
          id: 'ask',
          text: 'Ask',
          when: `!met${s}_${b % 3}`,
          do: [`met${s}_${b % 3} = true`],
          to: `s${s}.talk${random.below(perScene - 2)}`,
        },
        { id: 'back', text: 'Back', to: 'return' },
      ],
    }))
    const next = s + 1 < sceneCount ? `s${s + 1}.start` : 'last.end'
    const start: Beat = {
      id: 'start',
      place: true,
      lines: [{ text: `Scene ${s}.` }],
      choices: [
        ...range(4, (c): Choice => ({ id: `go${c}`, text: 'Go', to: `s${s}.talk${random.below(perScene - 2)}` })),
        {
          id: 'begin',
          text: 'Begin',
          when: `quest.q${s} == 'unstarted'`,
          do: [`quest.q${s} = 'begun'`],
          to: `s${s}.talk0`,
        },
        {
          id: 'finish',
          text: 'Finish',
          when: `quest.q${s} == 'begun' && met${s}_0`,
          do: [`quest.q${s} = 'won'`],
          to: `s${s}.start`,
        },
        { id: 'on', text: 'On', when: `quest.q${s} == 'won'`, to: next },
      ],
    }
    const hall: Beat = { id: 'hall', lines: [{ text: 'A hall.' }], onward: [{ to: `s${s}.start` }] }
    return { id: `s${s}`, title: `Scene ${s}`, beats: [start, hall, ...talk] }
  })
  return {
    paperCompass: 1,
    title: `an ordinary story of ${beats} beats`,
    language: 'en',
    start: 's0.start',
    cast: [{ id: 'odile', name: 'Odile' }],
    ledger: [
      { id: 'name', kind: 'text', initial: 'Wren' },
      ...range(sceneCount, (s) => range(3, (f) => ({ id: `met${s}_${f}`, kind: 'flag' as const }))).flat(),
    ],
    quests: range(sceneCount, (s) => ({
      id: `q${s}`,
      name: `Quest ${s}`,
      stages: [
        { id: 'begun', name: 'Begun' },
        { id: 'won', name: 'Won', outcome: 'success' as const },
      ],
    })),
    endings: [{ id: 'end', name: 'End' }],
    scenes: [
      ...scenes,
      { id: 'last', title: 'Last', beats: [{ id: 'end', lines: [{ text: 'The end.' }], ending: 'end' }] },
    ],
  }
}

/** Scenes with a quest each that may be left alone, begun or done; from each the story can end at once, in the same ending. */
export function sideQuests(count: number): Story {
  const scenes = range(count, (s): Scene => {
    const quest = `quest.q${s}`
    const next = s + 1 < count ? `s${s + 1}.start` : 'last.end'
    return {
      id: `s${s}`,
      title: `Scene ${s}`,
      beats: [
        {
          id: 'start',
          place: true,
          choices: [
            {
              id: 'begin',
              text: 'Begin',
              when: `${quest} == 'unstarted'`,
              do: [`${quest} = 'begun'`],
              to: `s${s}.talk`,
            },
            {
              id: 'finish',
              text: 'Finish',
              when: `${quest} == 'begun' && met${s}`,
              do: [`${quest} = 'won'`],
              to: 'return',
            },
            { id: 'on', text: 'On', to: next },
            { id: 'give_up', text: 'Give up', to: 'last.end' },
          ],
        },
        {
          id: 'talk',
          lines: [{ text: 'Good day.', do: [`met${s} = true`] }],
          choices: [{ id: 'back', text: 'Back', to: 'return' }],
        },
      ],
    }
  })
  return {
    ...story(`${count} side quests and an ending for all`, {
      ledger: range(count, (s) => ({ id: `met${s}`, kind: 'flag' as const })),
      quests: range(count, (s) => ({
        id: `q${s}`,
        name: `Quest ${s}`,
        stages: [
          { id: 'begun', name: 'Begun' },
          { id: 'won', name: 'Won', outcome: 'success' as const },
        ],
      })),
      scenes: [...scenes, { id: 'last', title: 'Last', beats: [{ id: 'end', ending: 'end' }] }],
    }),
    start: 's0.start',
  }
}

/** A production: 60 quests of 5 stages, 300 entries, 150 people, each approached at a place and saying something else at each stage. */
export function production(beats: number, seed = 1): Story {
  const random = seededRandom(seed)
  const sceneCount = 60
  const perScene = Math.ceil(beats / sceneCount)
  const stages = ['asked', 'sought', 'found', 'carried', 'brought']
  const people = range(150, (p) => ({ id: `p${p}`, name: `Person ${p}` }))
  const scenes = range(sceneCount, (s): Scene => {
    const stage = (at: number) => `quest.q${s} == '${['unstarted', ...stages][at]!}'`
    const who = (b: number) => people[(s * 5 + b) % people.length]!.id
    const talk = range(perScene - 1, (b): Beat => ({
      id: `talk${b}`,
      lines: [
        { speaker: who(b), text: `Line ${b} of scene ${s}.` },
        {
          firstOf: [
            { when: `met${s}_${b % 5}`, lines: [{ speaker: who(b), text: 'You again.' }] },
            { lines: [{ speaker: who(b), text: 'A new face.' }] },
          ],
        },
      ],
      choices: [
        {
          id: 'ask',
          text: 'Ask',
          when: `${stage(b % 5)} && !met${s}_${b % 5}`,
          do: [`met${s}_${b % 5} = true`],
          to: `s${s}.talk${random.below(perScene - 1)}`,
        },
        { id: 'next', text: 'Go on', to: b + 2 < perScene ? `s${s}.talk${b + 1}` : `s${s}.start` },
        { id: 'back', text: 'Back', to: 'return' },
      ],
    }))
    const start: Beat = {
      id: 'start',
      place: true,
      lines: [{ text: `Scene ${s}.` }],
      choices: [
        ...range(5, (p): Choice => ({
          id: `meet${p}`,
          who: who(p),
          text: 'Talk',
          to: [
            ...stages.map((_, at) => ({ when: stage(at + 1), to: `s${s}.talk${(p * 7 + at) % (perScene - 1)}` })),
            { to: `s${s}.talk${p}` },
          ],
        })),
        ...range(4, (c): Choice => ({ id: `go${c}`, text: 'Go', to: `s${s}.talk${random.below(perScene - 1)}` })),
        ...stages.map((name, at): Choice => ({
          id: `step${at}`,
          text: 'On',
          when: `${stage(at)} && met${s}_${at}`,
          do: [`quest.q${s} = '${name}'`],
          to: `s${s}.start`,
        })),
        { id: 'on', text: 'On', when: stage(5), to: s + 1 < sceneCount ? `s${s + 1}.start` : 'last.end' },
      ],
    }
    return { id: `s${s}`, title: `Scene ${s}`, beats: [start, ...talk] }
  })
  return {
    paperCompass: 1,
    title: `a production of ${beats} beats`,
    language: 'en',
    start: 's0.start',
    cast: people,
    ledger: range(sceneCount, (s) =>
      range(5, (f) => ({ id: `met${s}_${f}`, kind: 'flag' as const, group: `scene ${s}` })),
    ).flat(),
    quests: range(sceneCount, (s) => ({
      id: `q${s}`,
      name: `Quest ${s}`,
      stages: stages.map((id, at) => ({
        id,
        name: `Stage ${id}`,
        ...(at === stages.length - 1 ? { outcome: 'success' as const } : {}),
      })),
      moves: stages.map((id, at): [string, string] => [at === 0 ? 'unstarted' : stages[at - 1]!, id]),
    })),
    endings: [{ id: 'end', name: 'End' }],
    scenes: [
      ...scenes,
      { id: 'last', title: 'Last', beats: [{ id: 'end', lines: [{ text: 'The end.' }], ending: 'end' }] },
    ],
  }
}
