import { randomStory } from '../../../bench/stories/random'
import { seededRandom } from '../base/random'
import { linkStory } from '../story/link'
import { allRoads, isOfChoice, NO_BEAT, roadAddress, ROAD_KINDS, roadsAt } from '../story/roads'
import { openness } from './choices'
import { begin, decide, type Listener } from './step'
import type { PlayState } from './state'
import { seeds } from '../../../test/seeds'

test('whatever is played goes by a road that is listed, with a decision just where it takes one', () => {
  const played = new Set<string>()
  let homeward = 0
  for (const seed of seeds(100)) {
    const story = linkStory(randomStory(seed))
    if (story.start === -1) continue
    const random = seededRandom(seed)
    const roads = allRoads(story)
    const roadsBetween = (from: number, to: number, decides: boolean) =>
      roadsAt(roads, from).out.filter(
        (road) =>
          roads.decides[road] === Number(decides) &&
          (roads.to[road] === to || (ROAD_KINDS[roads.kind[road]!] === 'return' && roads.to[road] === NO_BEAT)),
      )
    for (let walk = 0; walk < 6; walk += 1) {
      let visited: number[] = []
      const listener: Listener = {
        beat: ({ index }) => void visited.push(index),
        // one that is sent elsewhere shows nothing, but was come to
        redirect: (_, { index }) => void visited.push(index),
      }
      let state: PlayState = begin(story, listener)
      let [from, isDecided] = [visited[0]!, false]
      visited.shift()
      for (let step = 0; step < 10; step += 1) {
        for (const to of visited.slice(0, 30)) {
          const found = roadsBetween(from, to, isDecided)
          expect({ seed, from, to, isDecided, roads: found.length > 0 }).toMatchObject({ roads: true })
          for (const road of found) {
            played.add(`${ROAD_KINDS[roads.kind[road]!]!} ${isDecided}`)
            if (ROAD_KINDS[roads.kind[road]!] === 'return' && roads.to[road] === to) homeward += 1
          }
          ;[from, isDecided] = [to, false]
        }
        const beat = story.beats[state.at]!
        if (state.status !== 'choice' && state.status !== 'word') break
        const open = beat.choices.filter((choice) => openness(story, state, choice).open)
        const decision =
          state.status === 'word' ? { at: beat.address, word: 'Quillon' } : { choice: random.pick(open).address }
        visited = []
        isDecided = true
        from = state.at
        const next = decide(story, state, decision, listener)
        if (!next.ok) throw new Error(next.error)
        state = next.value
      }
    }
  }
  expect([...played].sort()).toEqual([
    'choice true',
    'encounter true',
    'onward false',
    'onward true',
    'redirect false',
    'return false',
    'return true',
  ])
  expect(homeward).toBeGreaterThan(20)
})

test('a road has the address of the choice, rule, redirect or onward road that it is', () => {
  for (const seed of seeds(60)) {
    const story = linkStory(randomStory(seed))
    const roads = allRoads(story)
    const told = Array.from({ length: roads.count }, (_, road) => roadAddress(story, roads, road))
    const own = story.inOrder.flatMap(({ redirects, choices, onward }) => [
      ...redirects.map(({ address }) => address),
      ...choices.flatMap(({ address, to }) => (to.kind === 'road' ? [address] : to.rules.map((rule) => rule.address))),
      ...onward.map(({ address }) => address),
    ])
    expect(told).toEqual(own)
    told.forEach((address, road) => expect(isOfChoice(story, roads, road)).toBe(!/#(redirect|onward)/.test(address)))
    for (const { index } of story.inOrder) {
      const { out, into } = roadsAt(roads, index)
      expect(out.every((road) => roads.from[road] === index)).toBe(true)
      expect(into.every((road) => roads.to[road] === index && roads.from[road] !== index)).toBe(true)
    }
  }
})
