import { questsAroundHub } from '../bench/stories/families'
import { withPeople } from '../bench/stories/people'
import { randomStory } from '../bench/stories/random'
import { seededRandom } from '../src/core/base/random'
import { inOneGo } from '../src/core/base/slices'
import { replay } from '../src/core/play/replay'
import type { Listener } from '../src/core/play/step'
import { linkStory } from '../src/core/story/link'
import type { LinkedStory } from '../src/core/story/linked'
import type { Line, RouteItem, Story } from '../src/core/story/types'
import { entryValues } from '../src/core/survey/questions/entry-values'
import { pointsOfNoReturn, type NoReturn } from '../src/core/survey/questions/no-return'
import { readingList } from '../src/core/survey/questions/reading-list'
import type { ReadingList } from '../src/core/survey/questions/reading-routes'
import { callSheet, type Axis, type CallSheet, type Cell } from '../src/core/survey/questions/quests/call-sheet'
import { questFacts, type QuestFacts } from '../src/core/survey/questions/quests/quest-facts'
import { spokenValues } from '../src/core/survey/questions/spoken-values'
import { Survey } from '../src/core/survey/survey'
import { hubStory } from './hub-story'
import { withoutWayBack } from './onward-story'
import { purseStory } from './purse-story'
import { seeds } from './seeds'

/** The same survey, decided by single states and by sets of them alone; undefined where sets can't. */
function bothWays(story: Story): { linked: LinkedStory; single: Survey; sets: Survey } | undefined {
  const linked = linkStory(story)
  if (linked.start === -1) return undefined
  const single = new Survey(linked, { explicit: Infinity })
  while (!single.advance());
  const sets = new Survey(linked, { explicit: 0 })
  while (!sets.advance());
  return sets.inSets === undefined ? undefined : { linked, single, sets }
}

let known: { readonly story: Story; readonly both: NonNullable<ReturnType<typeof bothWays>> }[] | undefined
function surveyed() {
  return (known ??= [...stories()].flatMap((story) => {
    const both = bothWays(story)
    return both === undefined ? [] : [{ story, both }]
  }))
}

// hundreds of surveys would stay in the process, and slow what is tested after
afterAll(() => (known = undefined))

function* stories(): Generator<Story> {
  for (const seed of seeds(60)) yield randomStory(seed)
  // counters that are looked at for many values at once
  for (const seed of seeds(30)) yield purseStory(seededRandom(seed), 16)
  for (const seed of seeds(15)) yield withoutWayBack(randomStory(seed))
  for (const seed of seeds(8)) yield hubStory(seededRandom(seed), 2 + (seed % 3))
}

/** What is said of points of no return, and how far each is. */
function pointsSaid(found: NoReturn[] | 'too many') {
  if (found === 'too many') throw new Error('the story is small')
  return found.map(({ route, ...said }) => ({ ...said, decisions: route.filter((item) => !('given' in item)).length }))
}

test('points of no return are the same from sets of states as from single ones', () => {
  let points = 0
  for (const { story, both } of surveyed()) {
    const [single, sets] = [both.single, both.sets].map((survey) => inOneGo(pointsOfNoReturn(survey)))
    expect({ title: story.title, points: pointsSaid(sets!) }).toEqual({
      title: story.title,
      points: pointsSaid(single!),
    })
    for (const { route, address } of sets as NoReturn[]) {
      expect(replay(both.linked, route).refused).toBeUndefined()
      const last = route.at(-1)!
      expect('choice' in last ? last.choice : 'at' in last && last.at).toBe(address)
    }
    points += sets!.length
  }
  expect(points).toBeGreaterThan(20)
})

/** Moves with who makes them and how far that is, and how stages can be finished; in an order. */
function factsSaid(facts: Record<string, QuestFacts> | 'too many') {
  if (facts === 'too many') throw new Error('the story is small')
  return Object.entries(facts).map(([quest, { moves, finish }]) => ({
    quest,
    finish,
    moves: moves
      .flatMap(({ from, to, by }) =>
        by.map(
          ({ owner, route }) =>
            `${from} > ${to} by ${owner} after ${route.filter((item) => !('given' in item)).length}`,
        ),
      )
      .sort(),
  }))
}

test('moves that are really made, and what can still be finished, are the same from sets as from single states', () => {
  let moves = 0
  for (const { story, both } of surveyed()) {
    const [single, sets] = [both.single, both.sets].map((survey) => inOneGo(questFacts(survey)))
    expect({ title: story.title, facts: factsSaid(sets!) }).toEqual({ title: story.title, facts: factsSaid(single!) })
    for (const { moves: made } of Object.values(sets as Record<string, QuestFacts>))
      for (const { by } of made)
        for (const { route } of by) {
          expect(replay(both.linked, route).refused).toBeUndefined()
          moves += 1
        }
  }
  expect(moves).toBeGreaterThan(75)
})

test('the values that entries really take are the same from sets as from single states', () => {
  let inSets = 0
  for (const { story, both } of surveyed()) {
    const never = () => false
    const single = inOneGo(entryValues(both.linked, never, Infinity))
    expect({ title: story.title, values: inOneGo(entryValues(both.linked, never, 0)) }).toEqual({
      title: story.title,
      values: single,
    })
    inSets += Object.values(single!).filter(({ values }) => values.length > 1).length
  }
  expect(inSets).toBeGreaterThan(50)
})

/** What a call sheet says, in an order, with how far each is. */
function sheetSaid(sheet: CallSheet | undefined) {
  if (sheet === undefined) throw new Error('nobody stopped it')
  const { axis, columns, reached, rows, presences, twoPlaces, nowhere } = sheet
  const decisions = (route: readonly RouteItem[]) => route.filter((item) => !('given' in item)).length
  const cell = (one: Cell | undefined) =>
    one && {
      plays: one.plays
        .map(({ encounter, line, beat, route, states }) => `${encounter} ${line} ${beat} ${decisions(route)} ${states}`)
        .sort(),
      // the values of each stand in the order of what plays
      dependsOn: one.dependsOn
        .map(({ of, id, values }) => JSON.stringify([of, id, values.map((some) => JSON.stringify(some)).sort()]))
        .sort(),
      offers: [...one.offers].sort(),
      movesOn: one.movesOn,
    }
  return {
    axis,
    columns,
    reached,
    rows: Object.fromEntries(Object.entries(rows).map(([person, cells]) => [person, cells.map(cell)])),
    presences,
    twoPlaces: twoPlaces.map(({ route, ...one }) => `${JSON.stringify(one)} ${decisions(route)}`).sort(),
    nowhere: nowhere.map(({ route, ...one }) => `${JSON.stringify(one)} ${decisions(route)}`).sort(),
  }
}

test('the call sheet from sets says what that from single states says, and its routes replay', () => {
  const never = () => false
  let [cells, plays, differing, meeting] = [0, 0, 0, 0]
  for (const [at, story] of [...stories()].entries()) {
    if (at % 2 === 1) continue
    const peopled = withPeople(story, at)
    const linked = linkStory(peopled)
    if (linked.start === -1) continue
    const [quest, and] = linked.quests.map(({ id }) => id)
    if (quest === undefined) continue
    const axes: Axis[] = and === undefined || at % 3 > 0 ? [{ quest }] : [{ quest: and }, { quest, and }]
    for (const axis of axes) {
      const [single, sets] = [Infinity, 0].map((states) => inOneGo(callSheet(linked, axis, never, states)))
      expect({ title: story.title, ...sheetSaid(sets) }).toEqual({ title: story.title, ...sheetSaid(single) })
      for (const row of Object.values(sets!.rows))
        for (const one of row)
          for (const { route, encounter } of one?.plays ?? []) {
            expect(replay(linked, route).refused).toBeUndefined()
            expect(route.at(-1)).toEqual({ choice: encounter })
            plays += 1
          }
      for (const { route } of [...sets!.twoPlaces, ...sets!.nowhere]) {
        expect(replay(linked, route).refused).toBeUndefined()
        meeting += 1
      }
      const all = Object.values(sets!.rows).flat()
      cells += all.filter((one) => one !== undefined).length
      differing += all.filter((one) => (one?.dependsOn.length ?? 0) > 0).length
    }
  }
  expect(cells).toBeGreaterThan(50)
  expect(plays).toBeGreaterThan(100)
  expect(differing).toBeGreaterThan(5)
  expect(meeting).toBeGreaterThan(0)
})

test('a call sheet is told where single states are far too many', () => {
  const story = withPeople(questsAroundHub(14), 1)
  const sheet = inOneGo(callSheet(linkStory(story), { quest: story.quests![0]!.id }, () => false, 500))!
  expect(sheet.reached).toEqual(sheet.columns.map(() => true))
  const told = Object.values(sheet.rows).flatMap((row) => row.filter((one) => one !== undefined))
  expect(told.length).toBeGreaterThan(4)
  // 14 quests of several stages each
  expect(Math.max(...told.flatMap(({ plays }) => plays.map(({ states }) => states)))).toBeGreaterThan(1e6)
})

/** The same story with a number of the ledger shown in every line. */
function showingNumbers(story: Story, seed: number): Story {
  const random = seededRandom(seed)
  const numbers = (story.ledger ?? []).filter(({ kind }) => kind === 'counter' || kind === 'item')
  if (numbers.length === 0) return story
  const shown = (line: Line): Line => ('text' in line ? { ...line, text: `{${random.pick(numbers).id}}.` } : line)
  return {
    ...story,
    scenes: story.scenes.map((scene) => ({
      ...scene,
      beats: scene.beats.map((beat) => (beat.lines ? { ...beat, lines: beat.lines.map(shown) } : beat)),
    })),
  }
}

test('what lines show when they are said is the same from sets as from single states', () => {
  let [compared, rows, several] = [0, 0, 0]
  for (const [at, story] of [...stories()].entries()) {
    if (at % 2 === 0) continue
    const linked = linkStory(showingNumbers(story, at))
    const said = [Infinity, -1].map((transitions) => {
      const found = inOneGo(spokenValues(linked, () => false, transitions))
      if (found === 'too many') return found
      return Object.fromEntries([...found].map(([line, all]) => [line, all.map((row) => JSON.stringify(row)).sort()]))
    })
    // some ranges are too wide for sets
    if (said[1] === 'too many') continue
    compared += 1
    expect({ title: story.title, said: said[1] }).toEqual({ title: story.title, said: said[0] })
    for (const all of Object.values(said[1]!)) {
      rows += all.length
      if (all.length > 1) several += 1
    }
  }
  expect(compared).toBeGreaterThan(25)
  expect(rows).toBeGreaterThan(50)
  expect(several).toBeGreaterThan(5)
})

test('values are told where single states are far too many', () => {
  const hub = questsAroundHub(14)
  const [scene] = hub.scenes
  const [start, ...others] = scene!.beats
  const choices = start!.choices!.map((choice) =>
    choice.do?.some((effect) => effect.endsWith("'s0'")) ? { ...choice, do: [...choice.do, 'steps += 1'] } : choice,
  )
  const story: Story = {
    ...hub,
    ledger: [
      { id: 'steps', kind: 'counter', min: 0, max: 9 },
      { id: 'idle', kind: 'flag' },
    ],
    scenes: [{ ...scene!, beats: [{ ...start!, choices }, ...others] }],
  }
  expect(inOneGo(entryValues(linkStory(story), () => false, 500))).toEqual({
    steps: { values: [0, 1, 2, 3, 4, 5, 6, 7, 8, 9], anyWord: false },
    idle: { values: [false], anyWord: false },
  })
})

test('a reading list from sets shows all that one from single states shows, on routes that end where they can', () => {
  let lists = 0
  let [decisions, fewest] = [0, 0]
  for (const [at, { story, both }] of surveyed().entries()) {
    if (at % 2 === 1) continue
    if (story.ledger?.some(({ given }) => given !== undefined)) continue
    const [single, sets] = [both.single, both.sets].map((survey) => inOneGo(readingList(survey)))
    if (single === 'too many' || sets === 'too many') throw new Error('the story is small')
    const shown = new Set(shownBy(both.linked, sets!))
    expect({ title: story.title, missed: shownBy(both.linked, single!).filter((one) => !shown.has(one)) }).toEqual({
      title: story.title,
      missed: [],
    })
    expect({ title: story.title, items: sets!.items }).toEqual({ title: story.title, items: single!.items })
    expect(sets!.routes.every(({ fresh }) => fresh > 0)).toBe(true)
    decisions += sets!.decisions
    fewest += single!.decisions
    lists += 1
  }
  expect(lists).toBeGreaterThan(20)
  // longer, but not by much
  expect(decisions).toBeLessThan(2.5 * fewest)
})

test('a reading list of a story with very many states ends by its ending, once', () => {
  const survey = new Survey(linkStory(questsAroundHub(20)))
  while (!survey.advance());
  const list = inOneGo(readingList(survey))
  expect(list).toMatchObject({ routes: [{ ending: 'end' }], decisions: 81 })
})

/** Everything that the routes of a list show when they are played. */
function shownBy(linked: LinkedStory, { routes }: ReadingList): string[] {
  const shown = new Set<string>()
  const listener: Listener = {
    beat: ({ address }) => void shown.add(address),
    line: ({ address }) => void shown.add(address),
    variant: ({ address }) => void shown.add(address),
  }
  replay(linked, [], listener)
  for (const { decisions, ending } of routes) {
    const { state, refused } = replay(linked, decisions, listener)
    expect(refused).toBeUndefined()
    expect(ending).toBe(state.status === 'ended' ? linked.endings[linked.beats[state.at]!.ending]!.id : undefined)
    for (const item of decisions) if ('choice' in item) shown.add(item.choice)
  }
  return [...shown].sort()
}
