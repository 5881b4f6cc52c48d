import { VISITS_MAX } from '../base/limits'
import { fail, ok, type Result } from '../base/result'
import type {
  LinkedBeat,
  LinkedChoice,
  LinkedEffect,
  LinkedLine,
  WholeLine,
  LinkedRule,
  LinkedStory,
  LinkedTurn,
  LinkedTurns,
  LinkedVariant,
} from '../story/linked'
import { phaseAfter, turnIn } from '../story/turns'
import type { RouteItem } from '../story/types'
import { conditionHolds, firstRule, openness } from './choices'
import { applyEffects, type Change } from './effects'
import { givenTrouble, setGiven, type GivenValues } from './given'
import { copyState, freshState, sameState, type PlayState } from './state'

/** Every field of a line is played here. */
type KnownLine = WholeLine<
  Exclude<keyof LinkedLine, 'kind' | 'id' | 'address' | 'when' | 'effects' | 'text' | 'cues' | 'speaker' | 'manner'>
>

/** Hears what happens while the story goes on by itself; the state is the one at that moment. */
export interface Listener {
  beat?(beat: LinkedBeat, state: PlayState): void
  redirect?(rule: LinkedRule, beat: LinkedBeat): void
  onward?(rule: LinkedRule, beat: LinkedBeat): void
  choiceRule?(rule: LinkedRule, choice: LinkedChoice): void
  variant?(variant: LinkedVariant): void
  turn?(turn: LinkedTurn): void
  line?(line: KnownLine, state: PlayState): void
  change?(owner: string, effect: LinkedEffect, change: Change): void
  /** The turn that a group of the order "any" shows when it was come to so often before; without this the first. */
  pick?(group: LinkedTurns, times: number): number
}

/** A new playthrough with values that the game sets before, up to where it first rests. */
export function begin(story: LinkedStory, listener: Listener = {}, given: GivenValues = {}): PlayState {
  const state = freshState(story)
  setGiven(story, state.entries, given)
  if (story.start === -1) return state
  return travel(story, state, story.start, listener)
}

/** Values set by hand from which a story is played: made up, so nothing says that they can occur. */
export interface Setup {
  /** The beat gone to first. */
  readonly beat: string
  /** Where "return" leads, while nothing else has become the place. */
  readonly place?: string
  /** Values of entries as the beat is come to; what is left out has its initial value. */
  readonly ledger: Readonly<Record<string, boolean | number | string>>
  /** Stages of quests; `unstarted` where left out. */
  readonly stages: Readonly<Record<string, string>>
}

/** Comes to a beat with values set by hand, and goes on to where the story rests. What the story does not have is passed over. */
export function beginWith(story: LinkedStory, setup: Setup, listener: Listener = {}): PlayState {
  const state = freshState(story)
  const beat = story.beats[story.beatOf.get(setup.beat) ?? -1]
  if (beat === undefined) return state
  for (const [id, value] of Object.entries(setup.ledger)) {
    const index = story.entryOf.get(id)
    if (index !== undefined && typeof value === typeof state.entries[index]) state.entries[index] = value
  }
  for (const [id, stage] of Object.entries(setup.stages)) {
    const quest = story.quests[story.questOf.get(id) ?? -1]
    if (quest !== undefined) state.stages[quest.index] = Math.max(0, quest.stages.indexOf(stage))
  }
  state.place = story.beatOf.get(setup.place ?? '') ?? -1
  // as if one were in the scene already: its own entries were set by hand too
  state.at = beat.index
  return travel(story, state, beat.index, listener)
}

/** Takes a decision in a resting state, or changes what is given; gives the next resting state, or why that can't be. */
export function decide(
  story: LinkedStory,
  state: PlayState,
  decision: RouteItem,
  listener: Listener = {},
): Result<PlayState> {
  return decideInPlace(story, copyState(state), decision, listener)
}

/** The same for whoever holds the state alone: it becomes the next, where the decision can be taken. */
export function decideInPlace(
  story: LinkedStory,
  state: PlayState,
  decision: RouteItem,
  listener: Listener = {},
): Result<PlayState> {
  if ('given' in decision) return change(story, state, decision.given, listener)
  return 'choice' in decision ? take(story, state, decision.choice, listener) : say(story, state, decision, listener)
}

/**
 * The game sets values while the story rests. At a choice, or stuck, the choices are come to again, and the story may
 * go on by itself; at a word it stays, and after the end nothing changes.
 */
function change(story: LinkedStory, state: PlayState, given: GivenValues, listener: Listener): Result<PlayState> {
  const trouble = givenTrouble(story, given, 'rest')
  if (trouble !== undefined) return fail(trouble)
  if (state.status === 'nowhere' || state.status === 'endless') return fail('the story does not rest')
  if (state.status === 'ended') return ok(state)
  setGiven(story, state.entries, given)
  if (state.status === 'word') return ok(state)
  const next = comeToChoices(story, state, story.beats[state.at]!, listener)
  return ok(next === undefined ? state : travel(story, state, next, listener))
}

/** Takes up a playthrough where it rested: what the beat asks or offers is come to again, nothing is shown or counted. */
export function resumeAt(story: LinkedStory, state: PlayState, beat: LinkedBeat, listener: Listener = {}): PlayState {
  state.at = beat.index
  const next = comeToRest(story, state, beat, listener)
  return next === undefined ? state : travel(story, state, next, listener)
}

/**
 * The same where the beat is gone: one goes to the place, or to the start, having been in a scene (by its index; −1 for
 * none that there is). Where there is neither, one is stuck.
 */
export function resumeFrom(story: LinkedStory, state: PlayState, scene: number, listener: Listener = {}): PlayState {
  const target = state.place === -1 ? story.start : state.place
  if (target === -1) {
    state.status = 'stuck'
    return state
  }
  // as if one were in that scene: its own entries are not set anew
  state.at = story.inOrder.find((beat) => beat.scene === scene)?.index ?? -1
  return travel(story, state, target, listener)
}

/** A typed word as it is stored: blanks at both ends taken off; undefined when nothing is left. */
export function cleanWord(typed: string): string | undefined {
  const word = typed.trim()
  return word === '' ? undefined : word
}

function take(story: LinkedStory, state: PlayState, address: string, listener: Listener): Result<PlayState> {
  const choice = story.choices[story.choiceOf.get(address) ?? -1]
  if (choice === undefined) return fail(`there is no choice "${address}"`)
  if (state.status !== 'choice' || state.at !== choice.beat)
    return fail(`"${address}" is not offered: ${whereabouts(story, state)}`)
  const found = openness(story, state, choice)
  if (!found.open) return fail(`"${address}" is closed here`)
  state.taken[choice.index] = 1
  applyEffects(story, state, choice.effects, (effect, change) => listener.change?.(choice.address, effect, change))
  let road = choice.to.kind === 'road' ? choice.to.road : undefined
  if (found.rule !== undefined) {
    const { rule } = found
    listener.choiceRule?.(rule, choice)
    applyEffects(story, state, rule.effects, (effect, change) => listener.change?.(rule.address, effect, change))
    road = rule.to
  }
  return ok(travel(story, state, road!.kind === 'beat' ? road!.beat : state.place, listener))
}

function say(
  story: LinkedStory,
  state: PlayState,
  { at, word }: { at: string; word: string },
  listener: Listener,
): Result<PlayState> {
  const beat = story.beats[story.beatOf.get(at) ?? -1]
  if (beat === undefined) return fail(`there is no beat "${at}"`)
  if (state.status !== 'word' || state.at !== beat.index)
    return fail(`no word is asked at "${at}": ${whereabouts(story, state)}`)
  const clean = cleanWord(word) ?? beat.ask!.default
  if (clean === undefined) return fail('a word can not be empty')
  const into = beat.ask!.into
  if (into !== -1) state.entries[into] = clean
  return ok(goOn(story, state, beat, listener))
}

function whereabouts(story: LinkedStory, state: PlayState): string {
  if (state.at === -1) return 'the story has not begun'
  const beat = story.beats[state.at]!.address
  return state.status === 'ended' ? `the story has ended at ${beat}` : `the story is at ${beat}`
}

/** Follows the story from a target to where it rests. */
function travel(story: LinkedStory, state: PlayState, target: number, listener: Listener): PlayState {
  let next = target
  // Brent's cycle detection (An improved Monte Carlo factorization algorithm, 1980): a run
  // that comes back to an earlier state is found with one kept state, however long it is.
  let kept: PlayState | undefined
  let keptTarget = -1
  let steps = 0
  // most runs rest before there is anything to keep
  let power = 8
  for (;;) {
    if (kept !== undefined && next === keptTarget && sameState(story, kept, state)) {
      state.status = 'endless'
      return state
    }
    steps += 1
    if (steps === power) {
      kept = copyState(state)
      keptTarget = next
      power *= 2
    }
    const went = visit(story, state, story.beats[next]!, listener)
    if (went === undefined) return state
    next = went
  }
}

function goOn(story: LinkedStory, state: PlayState, beat: LinkedBeat, listener: Listener): PlayState {
  const next = followOnward(story, state, beat, listener)
  return next === undefined ? state : travel(story, state, next, listener)
}

/** One beat: gives the next one's index, or undefined when the story rests here. */
function visit(story: LinkedStory, state: PlayState, beat: LinkedBeat, listener: Listener): number | undefined {
  const before = state.at === -1 ? -1 : story.beats[state.at]!.scene
  if (before !== beat.scene) {
    for (const entry of story.entries) if (entry.scene === beat.scene) state.entries[entry.index] = entry.initial
  }
  state.at = beat.index
  const redirect = firstRule(story, state, beat.redirects)
  if (redirect !== undefined) {
    listener.redirect?.(redirect, beat)
    return follow(story, state, redirect, listener)
  }
  if (beat.place) state.place = beat.index
  state.visits[beat.index] = Math.min(VISITS_MAX, state.visits[beat.index]! + 1)
  listener.beat?.(beat, state)
  for (const rule of beat.arrive) {
    if (!conditionHolds(story, state, rule.when)) continue
    applyEffects(story, state, rule.effects, (effect, change) => listener.change?.(rule.address, effect, change))
  }
  for (const line of beat.lines) {
    if (line.kind === 'line') {
      showLine(story, state, line, listener)
      continue
    }
    if (line.kind === 'turns') {
      if (conditionHolds(story, state, line.when)) showTurn(story, state, line, listener)
      continue
    }
    const variant = line.variants.find((candidate) => conditionHolds(story, state, candidate.when))
    if (variant === undefined) continue
    listener.variant?.(variant)
    for (const inner of variant.lines) showLine(story, state, inner, listener)
    if (variant.turns !== undefined) showTurn(story, state, variant.turns, listener)
  }
  return comeToRest(story, state, beat, listener)
}

/** What comes after a beat's lines: the next beat, or undefined when the story rests here. */
function comeToRest(story: LinkedStory, state: PlayState, beat: LinkedBeat, listener: Listener): number | undefined {
  if (beat.ending !== -1) return rest(state, 'ended')
  if (beat.ask !== undefined) return rest(state, 'word')
  return comeToChoices(story, state, beat, listener)
}

/** From where a beat offers its choices: the next beat, or undefined when the story rests here. */
function comeToChoices(story: LinkedStory, state: PlayState, beat: LinkedBeat, listener: Listener): number | undefined {
  if (beat.ask === undefined && beat.choices.some((choice) => openness(story, state, choice).open))
    return rest(state, 'choice')
  return followOnward(story, state, beat, listener)
}

/** A group in turn is come to: it shows its next turn. */
function showTurn(story: LinkedStory, state: PlayState, group: LinkedTurns, listener: Listener): void {
  const times = state.turns[group.index]!
  const picked = group.order === 'any' ? listener.pick?.(group, times) : undefined
  const turn = group.turns[picked ?? turnIn(group, phaseAfter(group, times))]
  state.turns[group.index]! += 1
  if (turn === undefined) return
  listener.turn?.(turn)
  for (const line of turn.lines) showLine(story, state, line, listener)
}

function showLine(story: LinkedStory, state: PlayState, line: KnownLine, listener: Listener): void {
  if (!conditionHolds(story, state, line.when)) return
  listener.line?.(line, state)
  applyEffects(story, state, line.effects, (effect, change) => listener.change?.(line.address, effect, change))
}

function rest(state: PlayState, status: PlayState['status']): undefined {
  state.status = status
  return undefined
}

function followOnward(story: LinkedStory, state: PlayState, beat: LinkedBeat, listener: Listener): number | undefined {
  const rule = firstRule(story, state, beat.onward)
  if (rule === undefined) return rest(state, 'stuck')
  listener.onward?.(rule, beat)
  return follow(story, state, rule, listener)
}

function follow(story: LinkedStory, state: PlayState, rule: LinkedRule, listener: Listener): number {
  applyEffects(story, state, rule.effects, (effect, change) => listener.change?.(rule.address, effect, change))
  return rule.to.kind === 'beat' ? rule.to.beat : state.place
}
