import { ok, type Result } from '../base/result'
import type { LinkedCue, LinkedStory } from '../story/linked'
import { isDecision, type Manner, type RouteItem } from '../story/types'
import { beginRoute } from './replay'
import { beginFrom, type Beginning } from './save'
import { begin, decide, type Listener } from './step'
import { freshState, type PlayState } from './state'
import { formatText, nameOf } from './text'

/** One line as it was played. */
export interface PlayedLine {
  readonly address: string
  readonly speaker: string | undefined
  /** What the speaker is called at that moment. */
  readonly name: string | undefined
  readonly cues: readonly LinkedCue[]
  readonly manner: Manner
  readonly text: string
}

/** Stands for the address of who set what is given. */
export const GAME = 'game'

/** Something that was changed, and by what. */
export interface PlayedChange {
  readonly of: 'entry' | 'quest'
  readonly id: string
  readonly from: boolean | number | string
  readonly to: boolean | number | string
  /** Address of the effect's owner, or of the beat that asked for the word; GAME. */
  readonly owner: string
  readonly overrun: boolean
}

/** What one item of a route led to, up to where the story rested again; the first step has none, and shows nothing where the route begins with what is given. */
export interface PlayedStep {
  readonly decision: RouteItem | undefined
  readonly beats: readonly string[]
  /** Issued by the choice that was taken. */
  readonly cues: readonly LinkedCue[]
  readonly lines: readonly PlayedLine[]
  readonly changes: readonly PlayedChange[]
  readonly state: PlayState
}

export interface Transcript {
  readonly steps: readonly PlayedStep[]
  /** Why the decision after the last step could not be taken. */
  readonly refused: { readonly step: number; readonly decision: RouteItem; readonly why: string } | undefined
}

/** An endless run repeats itself; this many of its lines are kept. */
const LINES_MAX = 400

/** Plays decisions, from the start or from values set by hand, and keeps everything that was shown and changed. */
export function playThrough(story: LinkedStory, decisions: readonly RouteItem[], from?: Beginning): Transcript {
  const [opening] = decisions
  const begins = from === undefined && opening !== undefined && !isDecision(opening)
  const steps: PlayedStep[] = [
    record(story, undefined, (listener) =>
      begins ? freshState(story) : from === undefined ? begin(story, listener) : beginFrom(story, from, listener),
    ),
  ]
  for (const [index, decision] of decisions.entries()) {
    const before = steps.at(-1)!.state
    let why: string | undefined
    const step = record(story, decision, (listener) => {
      const next: Result<PlayState> =
        index === 0 && begins ? firstState(story, decisions, listener) : decide(story, before, decision, listener)
      if (next.ok) return next.value
      why = next.error
      return before
    })
    if (why !== undefined) return { steps, refused: { step: index + 1, decision, why } }
    steps.push(
      'word' in decision ? withWord(story, before, step) : 'given' in decision ? withGiven(story, before, step) : step,
    )
  }
  return { steps, refused: undefined }
}

function firstState(story: LinkedStory, decisions: readonly RouteItem[], listener: Listener): Result<PlayState> {
  const begun = beginRoute(story, decisions, listener)
  return begun.ok ? ok(begun.value.state) : begun
}

function record(
  story: LinkedStory,
  decision: RouteItem | undefined,
  play: (listener: Listener) => PlayState,
): PlayedStep {
  const beats: string[] = []
  const lines: PlayedLine[] = []
  const changes: PlayedChange[] = []
  const state = play({
    beat: (beat) => {
      if (beats.length < LINES_MAX) beats.push(beat.address)
    },
    line: (line, now) => {
      if (lines.length >= LINES_MAX) return
      lines.push({
        address: line.address,
        speaker: line.speaker,
        name: line.speaker === undefined ? undefined : nameOf(story, now, line.speaker),
        cues: line.cues,
        manner: line.manner,
        text: formatText(story, now, line.text),
      })
    },
    change: (owner, _effect, { of, index, from, to, overrun }) => {
      if (from === to || changes.length >= LINES_MAX) return
      changes.push({
        of,
        id: of === 'entry' ? story.entries[index]!.id : story.quests[index]!.id,
        from,
        to,
        owner,
        overrun,
      })
    },
  })
  const taken = decision !== undefined && 'choice' in decision ? story.choiceOf.get(decision.choice) : undefined
  return { decision, beats, cues: taken === undefined ? [] : story.choices[taken]!.cues, lines, changes, state }
}

/** So does what the game sets. */
function withGiven(story: LinkedStory, before: PlayState, step: PlayedStep): PlayedStep {
  if (!('given' in step.decision!)) return step
  const changes = Object.entries(step.decision.given).map(([id, to]): PlayedChange => {
    return { of: 'entry', id, from: before.entries[story.entryOf.get(id)!]!, to, owner: GAME, overrun: false }
  })
  return { ...step, changes: [...changes.filter(({ from, to }) => from !== to), ...step.changes] }
}

/** A typed word changes its entry as well, though no effect does. */
function withWord(story: LinkedStory, before: PlayState, step: PlayedStep): PlayedStep {
  const beat = story.beats[before.at]!
  const into = beat.ask?.into ?? -1
  if (into === -1 || !('word' in step.decision!)) return step
  const { id } = story.entries[into]!
  const word = step.decision.word.trim() || beat.ask!.default!
  const change: PlayedChange = {
    of: 'entry',
    id,
    from: before.entries[into]!,
    to: word,
    owner: beat.address,
    overrun: false,
  }
  return change.from === word ? step : { ...step, changes: [change, ...step.changes] }
}
