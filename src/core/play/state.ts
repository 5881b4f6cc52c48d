import type { Env, Value } from '../expression/evaluate'
import type { Expr } from '../expression/ast'
import type { LinkedStory } from '../story/linked'
import { phaseAfter } from '../story/turns'

/** Where a playthrough rests: what the player is asked for, or how it stopped. */
export type Status =
  | 'choice'
  | 'word'
  | 'ended'
  | 'stuck'
  /** The story goes round by itself and never rests. */
  | 'endless'
  /** The story has no first beat. */
  | 'nowhere'

/** Everything that a story remembers. Treated as immutable once a step has returned it. */
export interface PlayState {
  status: Status
  /** Index of the beat gone to last; -1 before the first. */
  at: number
  /** By entry index; integers are plain numbers. */
  entries: (boolean | number | string)[]
  /** By quest index: the position in the quest's stages, 0 for unstarted. */
  stages: number[]
  /** By beat index. */
  visits: Uint8Array
  /** By choice index: 1 when taken. */
  taken: Uint8Array
  /** By index of the group in turn: how often it was come to. */
  turns: number[]
  /** Index of the current place; -1 while there is none. */
  place: number
}

/** A new playthrough: initial values, nothing visited or taken, no place. */
export function freshState(story: LinkedStory): PlayState {
  return {
    status: 'nowhere',
    at: -1,
    entries: story.entries.map((entry) => entry.initial),
    stages: story.quests.map(() => 0),
    visits: new Uint8Array(story.beats.length),
    taken: new Uint8Array(story.choices.length),
    turns: story.turnGroups.map(() => 0),
    place: -1,
  }
}

export function copyState(state: PlayState): PlayState {
  return {
    ...state,
    entries: state.entries.slice(),
    stages: state.stages.slice(),
    visits: state.visits.slice(),
    taken: state.taken.slice(),
    turns: state.turns.slice(),
  }
}

/** Whether two states are the same but for their status; of groups in turn, which turn comes next. */
export function sameState(story: LinkedStory, a: PlayState, b: PlayState): boolean {
  return (
    a.at === b.at &&
    a.place === b.place &&
    sameItems(a.entries, b.entries) &&
    sameItems(a.stages, b.stages) &&
    sameItems(a.visits, b.visits) &&
    sameItems(a.taken, b.taken) &&
    story.turnGroups.every((group, at) => phaseAfter(group, a.turns[at]!) === phaseAfter(group, b.turns[at]!))
  )
}

function sameItems<T>(a: ArrayLike<T>, b: ArrayLike<T>): boolean {
  for (let at = 0; at < a.length; at += 1) if (a[at] !== b[at]) return false
  return true
}

/** The names of a story's expressions, read from a state. */
export function stateEnv(story: LinkedStory, state: PlayState): Env {
  return {
    entry: (id): Value => state.entries[story.entryOf.get(id)!]!,
    quest: (id) => {
      const quest = story.questOf.get(id)!
      return story.quests[quest]!.stages[state.stages[quest]!]!
    },
    visits: (beat) => state.visits[story.beatOf.get(beat)!]!,
    taken: (choice) => state.taken[story.choiceOf.get(choice)!] === 1,
    at: (beat) => state.status !== 'nowhere' && state.at === story.beatOf.get(beat),
    ended: (ending) => state.status === 'ended' && story.beats[state.at]!.ending === story.endingOf.get(ending),
    order: (subject) => orderOf(story, subject),
  }
}

/** The declared order that `atLeast` and `before` compare by. */
export function orderOf(story: LinkedStory, subject: Expr): readonly string[] {
  if (subject.kind === 'quest') return story.quests[story.questOf.get(subject.id)!]!.stages
  if (subject.kind === 'entry') return story.entries[story.entryOf.get(subject.id)!]!.positions
  return []
}
