import { withPeople } from '../bench/stories/people'
import { seededRandom } from '../src/core/base/random'
import { inOneGo } from '../src/core/base/slices'
import { replay } from '../src/core/play/replay'
import { formatText } from '../src/core/play/text'
import { linkStory } from '../src/core/story/link'
import type { LinkedStory } from '../src/core/story/linked'
import { checkStory } from '../src/core/story/read'
import { callSheet } from '../src/core/survey/questions/quests/call-sheet'
import { questFacts } from '../src/core/survey/questions/quests/quest-facts'
import { readingList } from '../src/core/survey/questions/reading-list'
import { spokenValues } from '../src/core/survey/questions/spoken-values'
import { Survey } from '../src/core/survey/survey'
import { spokenForms } from '../src/core/voices/spoken-forms'
import { IN_SETS } from './agree'
import { everyWay, givenStory } from './given-story'
import { quay } from './quay'
import { seeds } from './seeds'

const SEEDS = 36

/** Small stories that lean on what the game gives, each with its survey over single states. */
function* stories(): Generator<{ seed: number; story: LinkedStory; survey: Survey }> {
  for (const seed of seeds(SEEDS)) {
    const checked = checkStory(givenStory(seededRandom(seed)))
    if (!checked.ok) throw new Error(JSON.stringify(checked.error))
    const story = linkStory(checked.value)
    const survey = new Survey(story, { explicit: Infinity })
    while (!survey.advance());
    yield { seed, story, survey }
  }
}

test('moves of quests are those that playing in every way makes, whatever the game gives', () => {
  let moves = 0
  for (const { seed, story, survey } of stories()) {
    const made = new Set<string>()
    everyWay(story, {
      change: (owner, __, change) => {
        if (change.of === 'quest' && change.from !== change.to)
          made.add(`${String(change.from)} ${String(change.to)} ${owner}`)
      },
    })
    const facts = inOneGo(questFacts(survey))
    if (facts === 'too many') throw new Error('the story is small')
    const told = facts['boat']!.moves.flatMap(({ from, to, by }) =>
      by.map(({ owner, route }) => {
        expect({ seed, refused: replay(story, route).refused }).toEqual({ seed, refused: undefined })
        return `${from} ${to} ${owner}`
      }),
    )
    expect({ seed, moves: told.sort() }).toEqual({ seed, moves: [...made].sort() })
    moves += told.length
  }
  expect(moves).toBeGreaterThan(36)
})

test('texts are spoken in the forms that playing in every way shows, whatever the game gives', () => {
  let forms = 0
  for (const { seed, story } of stories()) {
    const said = new Map<string, Set<string>>()
    everyWay(story, {
      line: (line, now) => {
        if (line.text.parsed === undefined || line.text.isPlain) return
        said.set(line.address, (said.get(line.address) ?? new Set()).add(formatText(story, now, line.text)))
      },
    })
    // state by state, and in sets
    for (const single of [undefined, 0]) {
      const values = inOneGo(spokenValues(story, undefined, single))
      expect({ seed, single, values: typeof values }).toEqual({ seed, single, values: 'object' })
      for (const beat of story.inOrder)
        for (const line of beat.lines) {
          if (line.kind !== 'line' || line.text.isPlain) continue
          const told = spokenForms(story, line, values).map(({ text }) => text)
          if (!said.has(line.address)) continue
          expect({ seed, single, line: line.address, told: told.sort() }).toEqual({
            seed,
            single,
            line: line.address,
            told: [...said.get(line.address)!].sort(),
          })
          forms += told.length
        }
    }
  }
  expect(forms).toBeGreaterThan(108)
})

test('a reading list shows all that is shown when playing in every way, whatever the game gives', () => {
  let routes = 0
  for (const { seed, story, survey } of stories()) {
    const collect = (into: Set<string>) => ({
      line: ({ address }: { address: string }) => void into.add(address),
      beat: ({ address, ending }: { address: string; ending: number }) =>
        void (ending !== -1 && into.add(`ending at ${address}`)),
    })
    const all = new Set<string>()
    everyWay(story, collect(all), ({ item }) => 'choice' in item && all.add(item.choice))
    const sets = new Survey(story, IN_SETS)
    while (!sets.advance());
    for (const one of sets.isInSets ? [survey, sets] : [survey]) {
      const list = inOneGo(readingList(one))
      if (list === 'too many') throw new Error('the story is small')
      const shown = new Set<string>()
      for (const { decisions } of list.routes) {
        expect({ seed, refused: replay(story, decisions, collect(shown)).refused }).toEqual({
          seed,
          refused: undefined,
        })
        for (const item of decisions) if ('choice' in item) shown.add(item.choice)
        routes += 1
      }
      // what any playthrough shows before its first decision needs no route
      if (list.routes.length === 0) replay(story, [], collect(shown))
      const missed = [...all].filter((name) => !shown.has(name))
      expect({ seed, inSets: one.isInSets, missed }).toEqual({ seed, inSets: one.isInSets, missed: [] })
    }
  }
  expect(routes).toBeGreaterThan(72)
})

test('a call sheet tells who says what at which stage as playing in every way does, whatever the game gives', () => {
  let calls = 0
  for (const seed of seeds(SEEDS)) {
    const story = linkStory(withPeople(givenStory(seededRandom(seed)), seed))
    const said = new Set<string>()
    let approached: string | undefined
    everyWay(
      story,
      {
        line: ({ address }) => {
          if (approached !== undefined) said.add(`${approached} ${address}`)
          // what comes after the first line is not what is said on being approached
          approached = undefined
        },
      },
      ({ from, item }) => {
        const choice = 'choice' in item ? story.choices[story.choiceOf.get(item.choice)!] : undefined
        const stage = story.quests[0]!.stages[from?.stages[0] ?? 0]!
        approached = choice?.who === undefined ? undefined : `${choice.who} ${stage} ${choice.address}`
      },
    )
    for (const single of [undefined, 0]) {
      const sheet = inOneGo(callSheet(story, { quest: 'boat' }, () => false, single))!
      const told = Object.entries(sheet.rows).flatMap(([person, row]) =>
        row.flatMap((cell, at) =>
          (cell?.plays ?? []).flatMap(({ encounter, line, route }) => {
            expect({ seed, single, refused: replay(story, route).refused }).toEqual({
              seed,
              single,
              refused: undefined,
            })
            return line === undefined ? [] : [`${person} ${sheet.columns[at]![0]!} ${encounter} ${line}`]
          }),
        ),
      )
      expect({ seed, single, told: told.sort() }).toEqual({ seed, single, told: [...said].sort() })
      calls += told.length
    }
  }
  expect(calls).toBeGreaterThan(48)
})

test('of what the game gives the call sheet says that it makes the difference', () => {
  const story = linkStory({
    paperCompass: 1,
    title: 'The gauge',
    language: 'en',
    start: 'quay.steps',
    cast: [{ id: 'odile', name: 'Odile' }],
    ledger: [
      { id: 'tide', kind: 'flag', given: 'rest' },
      { id: 'wind', kind: 'switch', positions: ['calm', 'west'], given: 'rest' },
    ],
    quests: [{ id: 'boat', name: 'Boat', stages: [{ id: 'out', name: 'Out' }] }],
    endings: [],
    scenes: [
      {
        id: 'quay',
        title: 'Quay',
        beats: [
          { id: 'steps', place: true, choices: [{ id: 'ask', text: 'Ask', who: 'odile', to: 'quay.talk' }] },
          {
            id: 'talk',
            lines: [
              { text: 'It comes in.', when: 'tide' },
              { text: 'It goes out.', when: '!tide' },
            ],
            onward: [{ to: 'quay.steps' }],
          },
        ],
      },
    ],
  })
  const { plays, dependsOn } = inOneGo(callSheet(story, { quest: 'boat' }, () => false))!.rows.odile![0]!
  expect(plays.map(({ line }) => line).sort()).toEqual(['quay.talk#line1', 'quay.talk#line2'])
  expect(dependsOn).toMatchObject([{ of: 'entry', id: 'tide' }])
  expect(dependsOn[0]!.values.map((some) => some.length)).toEqual([1, 1])
})

test('where no road asks for what the game gives, a change of it moves nobody on', () => {
  const story = linkStory(
    quay(
      [
        {
          id: 'here',
          arrive: [{ do: ["lamp = 'lost'"] }],
          onward: [{ when: "before(lamp, 'lit')", to: 'quay.there' }],
        },
        { id: 'there', ending: 'sea' },
      ],
      {
        ledger: [
          { id: 'lamp', kind: 'switch', positions: ['dark', 'lit', 'lost'] },
          { id: 'tide', kind: 'counter', min: 0, max: 3, given: 'rest' },
        ],
        endings: [{ id: 'sea', name: 'Out at sea' }],
        promises: [{ id: 'high', kind: 'stillPossible', holds: 'tide == 3', while: 'tide > 0' }],
      },
    ),
  )
  for (const options of [{ explicit: Infinity }, IN_SETS]) {
    const survey = new Survey(story, options)
    while (!survey.advance());
    const { reached, findings } = survey.result()
    expect(reached.endings).toEqual({})
    expect(findings.map(({ kind, key }) => [kind, ...key].join(' '))).toEqual(
      expect.arrayContaining(['dead-end quay.here', 'no-way-out start']),
    )
  }
})
