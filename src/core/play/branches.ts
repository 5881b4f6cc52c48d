import type { LinkedStory } from '../story/linked'
import type { RouteItem } from '../story/types'
import { ok, type Result } from '../base/result'
import { isSame } from '../base/same'
import { openness } from './choices'
import { beginRoute } from './replay'
import { beginFrom, type Beginning } from './save'
import { begin, decide } from './step'
import type { PlayState } from './state'

/** One decision of the runs that were tried, with what was tried after it. */
export interface Branch {
  /** Undefined for the beginning. */
  readonly decision: RouteItem | undefined
  /** Decisions from the beginning up to here. */
  readonly run: readonly RouteItem[]
  readonly next: readonly Branch[]
  /** Open choices here that no run took; a word can always be another. */
  readonly untried: number
  readonly status: PlayState['status']
  /** The beat where the story rests. */
  readonly at: string
}

interface Growing extends Branch {
  readonly next: Growing[]
  untried: number
  readonly state: PlayState
}

/** More decisions than this are not drawn. */
const BRANCHES_MAX = 600

/** The runs that were tried, as one tree. What can't be taken any more after an edit is left out. */
export function branchesTried(story: LinkedStory, tried: Iterable<readonly RouteItem[]>, from?: Beginning): Branch {
  const first = from === undefined ? begin(story) : beginFrom(story, from)
  const root = grown(story, undefined, [], first)
  let count = 0
  for (const run of tried) {
    let branch: Growing | undefined = root
    for (const [at, decision] of run.entries()) {
      let next: Growing | undefined = branch.next.find((one) => sameDecision(one.decision!, decision))
      if (next === undefined) {
        const begins = at === 0 && from === undefined && 'given' in decision
        const state = begins ? begunWith(story, run) : decide(story, branch.state, decision)
        if (!state.ok || count >= BRANCHES_MAX) break
        count += 1
        next = grown(story, decision, run.slice(0, at + 1), state.value)
        branch.next.push(next)
        if ('choice' in decision) branch.untried -= 1
      }
      branch = next
    }
  }
  return root
}

function begunWith(story: LinkedStory, run: readonly RouteItem[]): Result<PlayState> {
  const begun = beginRoute(story, run)
  return begun.ok ? ok(begun.value.state) : begun
}

export function sameDecision(a: RouteItem, b: RouteItem): boolean {
  if ('choice' in a) return 'choice' in b && a.choice === b.choice
  if ('given' in a) return 'given' in b && isSame(a.given, b.given)
  return 'word' in b && a.at === b.at && a.word === b.word
}

function grown(
  story: LinkedStory,
  decision: RouteItem | undefined,
  run: readonly RouteItem[],
  state: PlayState,
): Growing {
  const beat = story.beats[state.at]
  const untried =
    state.status === 'choice' ? beat!.choices.filter((choice) => openness(story, state, choice).open).length : 0
  return { decision, run, next: [], untried, status: state.status, at: beat?.address ?? '', state }
}
