import { inOneGo } from '../../base/slices'
import { readFileSync } from 'node:fs'
import { questsAroundHub } from '../../../../bench/stories/families'
import { randomStory } from '../../../../bench/stories/random'
import { begin, decide, type Listener } from '../../play/step'
import { linkStory } from '../../story/link'
import type { LinkedStory } from '../../story/linked'
import { decisionsIn, type RouteItem, type Story } from '../../story/types'
import { readingList } from './reading-list'
import type { ReadingList } from './reading-routes'
import { Survey } from '../survey'
import { seeds } from '../../../../test/seeds'

function listOf(story: LinkedStory): { survey: Survey; list: ReadingList } {
  const survey = new Survey(story)
  while (!survey.advance());
  const list = inOneGo(readingList(survey))
  if (list === 'too many') throw new Error('too many transitions')
  return { survey, list }
}

/** Everything that routes show when they are played by the rehearsal's rules. */
function shownBy(story: LinkedStory, routes: readonly (readonly RouteItem[])[]): Set<string> {
  const shown = new Set<string>()
  const listener: Listener = {
    beat: ({ address, ending }) => {
      shown.add(address)
      if (ending !== -1) shown.add(`ending ${story.endings[ending]!.id}`)
    },
    line: ({ address }) => shown.add(address),
    variant: ({ address }) => shown.add(address),
  }
  begin(story, listener)
  for (const route of routes) {
    let state = begin(story)
    for (const decision of route) {
      const next = decide(story, state, decision, listener)
      if (!next.ok) throw new Error(next.error)
      state = next.value
      shown.add('choice' in decision ? decision.choice : `word ${'given' in decision ? 'given' : decision.at}`)
    }
  }
  return shown
}

test('the routes replay, and together show all that is reached', () => {
  let routes = 0
  let turns = 0
  for (const seed of seeds(100)) {
    const story = linkStory(randomStory(seed))
    // one playthrough begins in one way
    if (story.entries.some(({ given }) => given !== undefined)) continue
    const { survey, list } = listOf(story)
    const { reached, findings } = survey.result()
    const shown = shownBy(
      story,
      list.routes.map(({ decisions }) => decisions),
    )
    const wanted = [...Object.keys(reached.choices), ...Object.keys(reached.endings).map((id) => `ending ${id}`)]
    // a beat that is only redirected from shows nothing
    const missed = new Set(findings.flatMap(({ kind, key }) => (kind === 'unreached' ? [key[0]!] : [])))
    for (const beat of story.inOrder) {
      if (!(beat.address in reached.beats) || survey.search.events.witnessOfPart(beat.address) === undefined) continue
      for (const line of beat.lines) {
        if (line.kind === 'turns') {
          // which of them a group of any order shows is the game's to say
          if (line.order === 'any') continue
          for (const turn of line.turns)
            for (const { address } of turn.lines)
              if (!missed.has(address) && !missed.has(turn.address)) wanted.push(address)
          turns += line.turns.length
        } else if (line.kind === 'line') {
          if (!missed.has(line.address)) wanted.push(line.address)
        } else for (const variant of line.variants) if (!missed.has(variant.address)) wanted.push(variant.address)
      }
    }
    expect(wanted.filter((one) => !shown.has(one) && survey.search.events.witnessOfPart(one) !== undefined)).toEqual([])
    expect(Object.keys(reached.choices).filter((one) => !shown.has(one))).toEqual([])
    expect(wanted.filter((one) => one.startsWith('ending') && !shown.has(one))).toEqual([])
    routes += list.routes.length
  }
  expect(routes).toBeGreaterThan(40)
  expect(turns).toBeGreaterThan(10)
})

test('no route of the list is needless', () => {
  const story = linkStory(questsAroundHub(3))
  const { list } = listOf(story)
  const all = shownBy(
    story,
    list.routes.map(({ decisions }) => decisions),
  ).size
  for (const left of list.routes)
    expect(
      shownBy(
        story,
        list.routes.filter((route) => route !== left).map(({ decisions }) => decisions),
      ).size,
    ).toBeLessThan(all)
})

test('the sample is read whole in a few playthroughs, each to an ending', () => {
  const story = linkStory(JSON.parse(readFileSync('samples/causeway.story.json', 'utf8')) as Story)
  const { list, survey } = listOf(story)
  expect(list.routes.every(({ ending }) => ending !== undefined)).toBe(true)
  expect(list.decisions).toBe(list.routes.reduce((sum, { decisions }) => sum + decisionsIn(decisions), 0))
  const { endings } = survey.result().reached
  expect(list.routes.length).toBeGreaterThanOrEqual(Object.keys(endings).length)
})
