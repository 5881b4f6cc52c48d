import { phaseAfter } from '../../../story/turns'
import { inOneGo } from '../../../base/slices'
import { readFileSync } from 'node:fs'
import { withPeople } from '../../../../../bench/stories/people'
import { randomStory } from '../../../../../bench/stories/random'
import { openness } from '../../../play/choices'
import { begin, decide, type Listener } from '../../../play/step'
import type { PlayState } from '../../../play/state'
import { applyChange } from '../../../story/changes/apply'
import { linkStory } from '../../../story/link'
import type { LinkedStory } from '../../../story/linked'
import { makeRivals } from '../../../story/quests/make-rivals'
import { stageBetween } from '../../../story/quests/stage-between'
import { writeCell } from '../../../story/quests/write-cell'
import type { Story } from '../../../story/types'
import { Survey } from '../../survey'
import { callSheet } from './call-sheet'
import { meetings } from './meetings'
import { questFacts } from './quest-facts'
import { questLinks, rivalsOf } from './quest-sites'
import { seeds } from '../../../../../test/seeds'

function surveyed(story: LinkedStory): Survey {
  const survey = new Survey(story)
  while (!survey.advance());
  return survey
}

interface Seen {
  readonly moves: Set<string>
  /** `person stage line-or-beat` */
  readonly calls: Set<string>
  readonly rests: Set<string>
}

/** All that playing every branch shows, told apart by the whole state; undefined when there are too many. */
function playAll(story: LinkedStory, quest: number, max: number): Seen | undefined {
  const seen: Seen = { moves: new Set(), calls: new Set(), rests: new Set() }
  const name = (state: PlayState) =>
    JSON.stringify([
      state.at,
      state.status,
      state.entries,
      state.stages,
      [...state.visits],
      [...state.taken],
      state.place,
      story.turnGroups.map((group, at) => phaseAfter(group, state.turns[at]!)),
    ])
  let first: string | undefined
  let beat: string | undefined
  const listener: Listener = {
    beat: ({ address }) => (beat ??= address),
    line: ({ address }) => (first ??= address),
    change: (owner, _, change) => {
      if (change.of === 'quest' && change.from !== change.to)
        seen.moves.add(`${story.quests[change.index]!.id} ${String(change.from)} ${String(change.to)} ${owner}`)
    },
  }
  const start = begin(story, listener)
  const nodes = new Map([[name(start), start]])
  for (const state of nodes.values()) {
    const stage = story.quests[quest]!.stages[state.stages[quest]!]!
    if (state.status !== 'endless') seen.rests.add(stage)
    if (state.status !== 'choice') continue
    for (const choice of story.beats[state.at]!.choices) {
      if (!openness(story, state, choice).open) continue
      first = beat = undefined
      const next = decide(story, state, { choice: choice.address }, listener)
      if (!next.ok) throw new Error(next.error)
      if (choice.who !== undefined) seen.calls.add(`${choice.who} ${stage} ${choice.address} ${first ?? beat ?? ''}`)
      if (!nodes.has(name(next.value))) nodes.set(name(next.value), next.value)
      if (nodes.size > max) return undefined
    }
  }
  return seen
}

test('moves, and what is said at each stage, are what playing every branch shows', () => {
  let compared = 0
  let calls = 0
  for (const seed of seeds(500)) {
    const story = linkStory(withPeople(randomStory(seed, 'tiny'), seed))
    // plain play here takes decisions alone
    if (story.entries.some(({ given }) => given !== undefined)) continue
    if (story.quests.length === 0 || story.start === -1 || story.inOrder.some(({ ask }) => ask !== undefined)) continue
    const seen = playAll(story, 0, 400)
    if (seen === undefined) continue
    compared += 1
    const facts = inOneGo(questFacts(surveyed(story)))
    if (facts === 'too many') throw new Error('too many')
    // moves are followed where the quest declares some; else a stage may be forgotten before it is set anew
    const checked = new Set(story.quests.filter(({ moves }) => moves !== undefined).map(({ id }) => id))
    const made = new Set(
      Object.entries(facts).flatMap(([quest, { moves }]) =>
        moves.flatMap(({ from, to, by }) => by.map(({ owner }) => `${quest} ${from} ${to} ${owner}`)),
      ),
    )
    const of = (all: ReadonlySet<string>) => [...all].filter((move) => checked.has(move.split(' ')[0]!)).sort()
    expect({ seed, moves: of(made) }).toEqual({ seed, moves: of(seen.moves) })
    const { id, stages } = story.quests[0]!
    const sheet = inOneGo(callSheet(story, { quest: id }, () => false))!
    expect({ seed, rests: stages.filter((_, at) => sheet.reached[at]) }).toEqual({
      seed,
      rests: stages.filter((stage) => seen.rests.has(stage)),
    })
    const told = new Set(
      Object.entries(sheet.rows).flatMap(([person, row]) =>
        row.flatMap((cell, at) =>
          (cell?.plays ?? []).map(
            ({ encounter, line, beat }) => `${person} ${stages[at]!} ${encounter} ${line ?? beat}`,
          ),
        ),
      ),
    )
    const plain = [...seen.calls].filter((call) => !call.endsWith(' '))
    expect({ seed, missing: plain.filter((call) => !told.has(call)) }).toEqual({ seed, missing: [] })
    expect({ seed, more: [...told].filter((call) => call.includes('#') && !seen.calls.has(call)) }).toEqual({
      seed,
      more: [],
    })
    calls += plain.length
  }
  expect(compared).toBeGreaterThan(30)
  expect(calls).toBeGreaterThan(50)
})

const sample = (): Story => JSON.parse(readFileSync('samples/causeway.story.json', 'utf8')) as Story

/** What the game gives makes each state many, and does not matter here. */
const givenNothing = (story: Story): Story => {
  for (const entry of story.ledger ?? []) delete entry.given
  return story
}

test('the sample: what each says when, what it depends on, who offers what, who can be where', () => {
  const story = linkStory(sample())
  const sheet = inOneGo(callSheet(story, { quest: 'sluice' }, () => false))!
  const odile = sheet.rows.odile!
  expect(sheet.columns).toEqual([['unstarted'], ['asked'], ['mended'], ['refused']])
  expect(odile[0]).toMatchObject({
    offers: ['sluice'],
    movesOn: false,
    dependsOn: [{ of: 'visits', id: 'quay.odile' }],
  })
  expect(odile[1]).toMatchObject({ offers: [], movesOn: true, plays: [{ line: 'quay.odile#line1.variant3.line1' }] })
  expect(odile[2]!.dependsOn).toMatchObject([{ of: 'entry', id: 'toll_paid' }])
  expect(sheet.presences.find(({ person }) => person === 'aske')).toMatchObject({
    place: 'orchard.gate',
    always: [0, 1, 2, 3],
    sometimes: [],
  })
  const met = inOneGo(meetings(givenNothing(sample()), () => false))!
  expect(met.rows.odile![0]!.plays.map(({ line }) => line)).toEqual(['quay.odile#line1.variant2.line1'])
  expect(met.rows.odile![1]!.plays).toHaveLength(3)
  const both = inOneGo(callSheet(story, { quest: 'swarm', and: 'claim' }, () => false))!
  expect(both.columns).toHaveLength(16)
  // rivals: never both
  expect(both.reached[both.columns.findIndex(([swarm, claim]) => swarm === 'hived' && claim === 'upheld')]).toBe(false)
  expect(rivalsOf(story).map(({ quests }) => quests)).toEqual([['swarm', 'claim']])
  expect(inOneGo(callSheet(story, { quest: 'sluice' }, () => true))).toBeUndefined()
})

const market = (): Story => ({
  paperCompass: 1,
  title: 'Market',
  language: 'en',
  start: 'square.stalls',
  cast: [{ id: 'ann', name: 'Ann' }],
  quests: [
    {
      id: 'wool',
      name: 'Wool',
      stages: [
        { id: 'fetched', name: 'Taken' },
        { id: 'sold', name: 'Sold', outcome: 'success' },
      ],
      moves: [
        ['unstarted', 'fetched'],
        ['fetched', 'sold'],
      ],
    },
    {
      id: 'salt',
      name: 'Salt',
      stages: [
        { id: 'fetched', name: 'Taken' },
        { id: 'sold', name: 'Sold', outcome: 'success' },
      ],
    },
  ],
  endings: [{ id: 'home', name: 'Home' }],
  promises: [],
  scenes: [
    {
      id: 'square',
      title: 'Square',
      beats: [
        {
          id: 'stalls',
          place: true,
          choices: [
            {
              id: 'wool',
              text: 'Take the wool',
              when: "quest.wool == 'unstarted' || quest.wool == 'sold'",
              do: ["quest.wool = 'fetched'"],
              to: 'square.stalls',
            },
            { id: 'salt', text: 'Take the salt', do: ["quest.salt = 'fetched'"], to: 'square.stalls' },
            { id: 'ann', who: 'ann', text: 'Ann', when: "quest.wool == 'unstarted'", to: 'square.ann' },
            { id: 'lane', text: 'Lane', to: 'square.lane' },
            { id: 'go', text: 'Go home', to: 'square.home' },
          ],
        },
        {
          id: 'lane',
          place: true,
          choices: [
            { id: 'ann', who: 'ann', text: 'Ann', when: "quest.salt == 'unstarted'", to: 'square.ann' },
            { id: 'back', text: 'Back', to: 'square.stalls' },
          ],
        },
        {
          id: 'ann',
          choices: [
            {
              id: 'sell',
              text: 'Sell her the wool',
              when: "quest.wool == 'fetched'",
              do: ["quest.wool = 'sold'"],
              to: 'return',
            },
            {
              id: 'salt',
              text: 'Sell her the salt',
              when: "quest.salt == 'fetched' && quest.wool != 'fetched'",
              do: ["quest.salt = 'sold'"],
              to: 'return',
            },
            { id: 'bye', text: 'Bye', to: 'return' },
          ],
        },
        { id: 'home', ending: 'home' },
      ],
    },
  ],
})

function applied(story: Story, made: ReturnType<typeof makeRivals>): Story {
  if (!made.ok) throw new Error(made.error)
  const next = applyChange(story, made.value)
  if (!next.ok) throw new Error(next.error)
  const undone = applyChange(next.value.story, next.value.inverse)
  expect(undone.ok && undone.value.story).toEqual(story)
  return next.value.story
}

test('somebody at two places at once, and nowhere when a quest needs them', () => {
  const sheet = inOneGo(callSheet(linkStory(market()), { quest: 'wool' }, () => false))!
  expect(sheet.twoPlaces).toMatchObject([{ person: 'ann', places: ['square.stalls', 'square.lane'], route: [] }])
  // with the wool taken she is in the lane only, and not even there once the salt is
  expect(sheet.nowhere).toMatchObject([{ person: 'ann', column: 1 }])
  expect(sheet.nowhere[0]!.route).toHaveLength(2)
  expect([...questLinks(linkStory(market()))].sort((a, b) => (a.owner < b.owner ? -1 : 1))).toMatchObject([
    { from: 'wool', stages: ['fetched'], to: 'salt', sets: 'sold', owner: 'square.ann.salt' },
    // by the encounters that lead there
    { from: 'salt', stages: ['unstarted'], to: 'wool', sets: 'sold', owner: 'square.lane.ann' },
    { from: 'wool', stages: ['unstarted'], to: 'salt', sets: 'sold', owner: 'square.stalls.ann' },
  ])
})

test.each(['fails', 'closes'] as const)('rivals of which accepting one %s the other: not both can succeed', (kind) => {
  const story = applied(market(), makeRivals(market(), ['wool', 'salt'], kind))
  const linked = linkStory(story)
  expect(linked.problems).toEqual([])
  const result = surveyed(linked).result()
  expect(result.promises.not_both).toEqual({ verdict: 'kept' })
  // no move that the market did not make before
  const moves = ({ findings }: typeof result) =>
    findings.filter(({ kind: found }) => found === 'undeclared-move').map(({ key }) => key.join(' '))
  expect(moves(surveyed(linkStory(market())).result())).toEqual(expect.arrayContaining(moves(result)))
  // an or in the gate that was there stays together
  expect(story.scenes[0]!.beats[0]!.choices![0]!.when).toBe(
    `(quest.wool == 'unstarted' || quest.wool == 'sold') && quest.salt ${kind === 'closes' ? "== 'unstarted'" : "!= 'sold'"}`,
  )
  if (kind === 'closes') {
    // nothing happens to the other one
    expect(story.quests).toEqual(market().quests)
    expect(result.reached.stages['salt.declined']).toBeUndefined()
  } else {
    expect(rivalsOf(linked).map(({ quests }) => quests)).toEqual([['wool', 'salt']])
    // also when it was accepted before
    const made = surveyed(
      linkStory({
        ...story,
        promises: [{ id: 'p', kind: 'never', holds: "quest.wool == 'fetched' && quest.salt == 'fetched'" }],
      }),
    )
    expect(made.result().promises.p).toEqual({ verdict: 'kept' })
    expect(Object.keys(result.reached.stages)).toEqual(
      expect.arrayContaining(['wool.declined', 'salt.declined', 'wool.fetched', 'salt.fetched']),
    )
  }
  const none = makeRivals({ ...market(), scenes: [] }, ['wool', 'salt'], kind)
  expect(!none.ok && none.error).toContain('nothing in the story accepts')
})

test('a stage between two others takes over what made the old move', () => {
  const story = applied(
    market(),
    stageBetween(market(), {
      quest: 'wool',
      from: 'fetched',
      to: 'sold',
      stage: { id: 'weighed', name: 'Weighed' },
      repoint: ['square.ann.sell'],
    }),
  )
  expect(story.quests![0]).toMatchObject({
    stages: [{ id: 'fetched' }, { id: 'weighed' }, { id: 'sold' }],
    moves: [
      ['unstarted', 'fetched'],
      ['fetched', 'weighed'],
      ['weighed', 'sold'],
    ],
  })
  const { reached, unreached } = surveyed(linkStory(story)).result()
  expect(Object.keys(reached.stages)).toContain('wool.weighed')
  expect(unreached.stages).toEqual(['wool.sold'])
})

test('a cell is written, or copied from another stage, and plays there', () => {
  const story = sample()
  const made = writeCell(story, {
    encounter: 'quay.morning.talk_odile',
    quest: 'sluice',
    stage: 'refused',
    like: 'quay.paid',
  })
  if (!made.ok) throw new Error(made.error)
  const next = applied(story, { ok: true, value: made.value.change })
  const cell = inOneGo(callSheet(linkStory(next), { quest: 'sluice' }, () => false))!.rows.odile![3]!
  expect(cell.plays).toMatchObject([{ beat: made.value.beat, line: `${made.value.beat}#line1` }])
  expect(writeCell(story, { encounter: 'quay.gone.talk', quest: 'sluice', stage: 'asked' }).ok).toBe(false)
})
