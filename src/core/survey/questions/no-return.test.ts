import { inOneGo } from '../../base/slices'
import { randomStory } from '../../../../bench/stories/random'
import { openness } from '../../play/choices'
import { replay } from '../../play/replay'
import { begin, decide } from '../../play/step'
import type { PlayState } from '../../play/state'
import { linkStory } from '../../story/link'
import type { LinkedStory } from '../../story/linked'
import type { Beat, Story } from '../../story/types'
import { findRoute } from './find-route'
import { pointsOfNoReturn } from './no-return'
import { Survey } from '../survey'
import { seeds } from '../../../../test/seeds'

interface Node {
  readonly state: PlayState
  readonly next: { readonly choice: string; readonly to: string }[]
}

/** Every resting state by playing alone, told apart by all that it holds; undefined when there are too many. */
function playAll(story: LinkedStory, max: number): Map<string, Node> | undefined {
  const name = (state: PlayState) =>
    JSON.stringify(state, (_, value: unknown) =>
      value instanceof Set ? [...value] : value instanceof Map ? [...value] : value,
    )
  const first = begin(story)
  const nodes = new Map<string, Node>([[name(first), { state: first, next: [] }]])
  for (const node of nodes.values()) {
    if (node.state.status !== 'choice') continue
    for (const choice of story.beats[node.state.at]!.choices) {
      if (!openness(story, node.state, choice).open) continue
      const taken = decide(story, node.state, { choice: choice.address })
      if (!taken.ok) throw new Error(taken.error)
      const to = name(taken.value)
      if (!nodes.has(to)) nodes.set(to, { state: taken.value, next: [] })
      node.next.push({ choice: choice.address, to })
      if (nodes.size > max) return undefined
    }
  }
  return nodes
}

/** Some beats of a generated story made into endings, so that there is something to close. */
function withEndings(story: Story): Story {
  let count = 0
  const scenes = story.scenes.map((scene) => ({
    ...scene,
    beats: scene.beats.map((beat): Beat => {
      count += 1
      return count % 3 === 0
        ? { id: beat.id, lines: beat.lines, ending: count % 2 === 0 ? 'sea' : 'home' }
        : { ...beat, ask: undefined, ...(beat.ask === undefined ? {} : { onward: [{ to: 's0.b2' }] }) }
    }),
  }))
  return {
    ...story,
    endings: [
      { id: 'sea', name: 'Sea' },
      { id: 'home', name: 'Home' },
    ],
    scenes,
  }
}

test('points of no return are what plain play over all states gives', () => {
  let compared = 0
  let points = 0
  for (const seed of seeds(500)) {
    const story = linkStory(withEndings(randomStory(seed, 'tiny')))
    if (story.inOrder.some(({ ask }) => ask !== undefined) || story.start === -1) continue
    // plain play here takes decisions alone
    if (story.entries.some(({ given }) => given !== undefined)) continue
    const nodes = playAll(story, 300)
    if (nodes === undefined) continue
    const can = new Map(
      [...nodes].map(([id, { state }]) => [
        id,
        new Set(state.status === 'ended' ? [story.endings[story.beats[state.at]!.ending]!.id] : []),
      ]),
    )
    for (let grown = true; grown;) {
      grown = false
      for (const [id, node] of nodes) {
        const own = can.get(id)!
        const before = own.size
        for (const { to } of node.next) for (const ending of can.get(to)!) own.add(ending)
        grown ||= own.size > before
      }
    }
    const closes = new Map<string, Set<string>>()
    const spares = new Map<string, Set<string>>()
    for (const [id, node] of nodes) {
      for (const { choice, to } of node.next) {
        for (const ending of can.get(id)!) {
          const kind = can.get(to)!.has(ending) ? spares : closes
          kind.set(choice, (kind.get(choice) ?? new Set()).add(ending))
        }
      }
    }
    const survey = new Survey(story)
    while (!survey.advance());
    const found = inOneGo(pointsOfNoReturn(survey))
    if (found === 'too many') throw new Error('the story is small')
    const expected = [...closes]
      .map(([address, endings]) => ({
        address,
        closed: [...endings].sort(),
        sometimes: [...endings].filter((ending) => spares.get(address)?.has(ending)).sort(),
      }))
      .sort((a, b) => (a.address < b.address ? -1 : 1))
    const got = found
      .map(({ address, always, sometimes }) => ({
        address,
        closed: [...always, ...sometimes].sort(),
        sometimes: [...sometimes].sort(),
      }))
      .sort((a, b) => (a.address < b.address ? -1 : 1))
    expect({ seed, got }).toEqual({ seed, got: expected })
    for (const { address, route } of found) {
      expect(replay(story, route).refused).toBeUndefined()
      expect(route.at(-1)).toEqual({ choice: address })
    }
    compared += 1
    points += found.length
  }
  expect(compared).toBeGreaterThan(55)
  expect(points).toBeGreaterThan(10)
})

test('a route to a condition plays to where it holds, also for what nothing else reads, and says when there is none', () => {
  const story = {
    paperCompass: 1 as const,
    title: 'Find',
    language: 'en',
    start: 'quay.here',
    ledger: [{ id: 'gold', kind: 'counter' as const, min: 0, max: 9 }],
    scenes: [
      {
        id: 'quay',
        title: 'Quay',
        beats: [
          {
            id: 'here',
            choices: [
              { id: 'dig', text: 'Dig', do: ['gold += 2'], to: 'quay.here' },
              { id: 'go', text: 'Go', to: 'quay.there' },
            ],
          },
          { id: 'there', choices: [{ id: 'back', text: 'Back', to: 'quay.here' }] },
        ],
      },
    ],
  }
  const never = () => false
  const found = inOneGo(findRoute(story, "at('quay.there') && gold >= 3", never))
  expect(found).toEqual({
    kind: 'route',
    route: [{ choice: 'quay.here.dig' }, { choice: 'quay.here.dig' }, { choice: 'quay.here.go' }],
  })
  // 9 is where it stops, 7 it steps over only from 8
  expect(inOneGo(findRoute(story, 'gold == 9', never))).toMatchObject({ kind: 'route', route: { length: 5 } })
  expect(inOneGo(findRoute(story, 'gold == 7', never))).toEqual({ kind: 'none' })
  expect(inOneGo(findRoute(story, "at('quay.nowhere')", never))).toMatchObject({ kind: 'unreadable' })
})
