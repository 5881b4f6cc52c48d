import type { LinkedStory } from '../story/linked'
import type { RouteItem, Route } from '../story/types'
import { fail, ok, type Result } from '../base/result'
import { givenTrouble } from './given'
import { begin, decideInPlace, type Listener } from './step'
import type { PlayState } from './state'

/** How a list of decisions played. */
export interface Replay {
  readonly state: PlayState
  /** How many of the items of the route could be played. */
  readonly played: number
  /** Why the next one could not be taken; undefined when all were. */
  readonly refused: string | undefined
}

/** Begins a route: with what its first item gives, if that is one. `played`: how many of the items that were. */
export function beginRoute(
  story: LinkedStory,
  route: readonly RouteItem[],
  listener: Listener = {},
): Result<{ readonly state: PlayState; readonly played: number }> {
  const [first] = route
  const given = first !== undefined && 'given' in first ? first.given : undefined
  const trouble = given && givenTrouble(story, given, 'begin')
  if (trouble !== undefined) return fail(trouble)
  return ok({ state: begin(story, listener, given), played: given === undefined ? 0 : 1 })
}

/** Plays decisions from the start for as long as they can be taken. */
export function replay(story: LinkedStory, decisions: readonly RouteItem[], listener: Listener = {}): Replay {
  const first = beginRoute(story, decisions, listener)
  if (!first.ok) return { state: begin(story, listener), played: 0, refused: first.error }
  let { state } = first.value
  for (let played = first.value.played; played < decisions.length; played += 1) {
    const next = decideInPlace(story, state, decisions[played]!, listener)
    if (!next.ok) return { state, played, refused: next.error }
    state = next.value
  }
  return { state, played: decisions.length, refused: undefined }
}

/** What is wrong with a kept route, or undefined when it plays and its expectation holds. */
export function routeTrouble(
  story: LinkedStory,
  route: Route,
): { readonly message: string; readonly plays: readonly RouteItem[] } | undefined {
  const { state, played, refused } = replay(story, route.decisions)
  const plays = route.decisions.slice(0, played)
  if (refused !== undefined) return { message: `step ${played + 1}: ${refused}`, plays }
  const message = expectationTrouble(story, state, route)
  return message === undefined ? undefined : { message, plays }
}

function expectationTrouble(story: LinkedStory, state: PlayState, { expect }: Route): string | undefined {
  if (expect === undefined) return undefined
  if (expect.ending !== undefined) {
    const ended = state.status === 'ended' ? story.endings[story.beats[state.at]!.ending]!.id : undefined
    if (ended !== expect.ending)
      return `it should end with "${expect.ending}" and ${ended === undefined ? 'does not end' : `ends with "${ended}"`}`
  }
  for (const [id, wanted] of Object.entries(expect.stages ?? {})) {
    const quest = story.quests[story.questOf.get(id) ?? -1]
    const found = quest?.stages[state.stages[quest.index]!]
    if (found !== wanted)
      return `"${id}" should be at "${wanted}" and ${found === undefined ? 'does not exist' : `is at "${found}"`}`
  }
  for (const [id, wanted] of Object.entries(expect.ledger ?? {})) {
    const index = story.entryOf.get(id)
    const found = index === undefined ? undefined : state.entries[index]
    if (found !== wanted)
      return `"${id}" should be ${JSON.stringify(wanted)} and ${found === undefined ? 'does not exist' : `is ${JSON.stringify(found)}`}`
  }
  return undefined
}
