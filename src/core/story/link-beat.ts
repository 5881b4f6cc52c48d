import { beatAddress, choiceAddress } from '../base/ids'
import type {
  LinkedBeat,
  LinkedChoice,
  LinkedCue,
  LinkedGroup,
  LinkedLine,
  LinkedRule,
  LinkedTurns,
  Road,
} from './linked'
import { givenTrouble } from '../expression/check'
import { freshMemo } from './linked-parts'
import { linkCondition, linkEffects, linkText, type PartContext } from './link-parts'
import {
  isGroup,
  isInTurn,
  type Beat,
  type Choice,
  type CueUse,
  type Line,
  type Order,
  type PlainLine,
  type Rule,
  type Turn,
} from './types'

export interface BeatContext extends PartContext {
  readonly scene: number
  readonly people: ReadonlyMap<string, unknown>
  readonly cues: ReadonlyMap<string, string>
  readonly entryOf: ReadonlyMap<string, number>
  readonly endingOf: ReadonlyMap<string, number>
  readonly beatOf: ReadonlyMap<string, number>
  readonly choiceOf: ReadonlyMap<string, number>
  readonly turnsOf: ReadonlyMap<string, number>
}

/** Links one beat; `choices` are its choices without those whose ids stand twice. */
export function linkBeat(scene: string, beat: Beat, choices: readonly Choice[], context: BeatContext): LinkedBeat {
  const address = beatAddress(scene, beat.id)
  const index = context.beatOf.get(address)!
  const lineIds = new Set<string>()
  return {
    index,
    address,
    scene: context.scene,
    place: beat.place ?? false,
    redirects: linkRules(beat.redirects, `${address}#redirect`, context),
    arrive:
      beat.arrive?.map((rule, at) => {
        const own = `${address}#arrive${at + 1}`
        return {
          address: own,
          when: linkCondition(rule.when, own, context),
          effects: linkEffects(rule.do, own, context),
        }
      }) ?? NONE,
    lines: beat.lines?.map((line, at) => linkLine(line, `${address}#line${at + 1}`, context, lineIds)) ?? NONE,
    choices: choices.map((choice) => linkChoice(scene, beat.id, choice, index, context)),
    ask: beat.ask && {
      into: linkInto(beat.ask.into, address, context),
      prompt: linkText(beat.ask.prompt, address, 'prompt', context),
      suggest: beat.ask.suggest ?? [],
      default: beat.ask.default?.trim() || undefined,
    },
    ending: beat.ending === undefined ? -1 : linkEnding(beat.ending, address, context),
    onward: linkRules(beat.onward, `${address}#onward`, context),
    memo: freshMemo(),
  }
}

const NONE: readonly never[] = []

function linkRules(rules: readonly Rule[] | undefined, prefix: string, context: BeatContext): readonly LinkedRule[] {
  if (rules === undefined) return NONE
  return rules.map((rule, at) => {
    const address = `${prefix}${at + 1}`
    return {
      address,
      when: linkCondition(rule.when, address, context),
      effects: linkEffects(rule.do, address, context),
      to: linkRoad(rule.to, address, context),
    }
  })
}

function linkRoad(to: string, address: string, context: BeatContext): Road {
  if (to === 'return') return { kind: 'return' }
  const beat = context.beatOf.get(to)
  if (beat !== undefined) return { kind: 'beat', beat }
  const message = to === '' ? 'this road is not written yet: it leads nowhere' : `there is no beat "${to}"`
  context.problems.push({ address, part: 'to', message })
  return { kind: 'nowhere' }
}

function linkLine(
  line: Line,
  address: string,
  context: BeatContext,
  ids: Set<string>,
): LinkedLine | LinkedGroup | LinkedTurns {
  if (isInTurn(line)) {
    const when = linkCondition(line.when, address, context)
    return { ...linkTurns(line.inTurn, line.order, address, context, ids), when }
  }
  if (!isGroup(line)) return linkPlainLine(line, address, context, ids)
  const variants = line.firstOf.map((variant, at) => {
    const own = `${address}.variant${at + 1}`
    return {
      address: own,
      when: linkCondition(variant.when, own, context),
      lines: variant.inTurn === undefined ? linkPlainLines(variant.lines ?? NONE, own, context, ids) : NONE,
      turns: variant.inTurn && linkTurns(variant.inTurn, variant.order, own, context, ids),
    }
  })
  return { kind: 'group', address, variants }
}

function linkTurns(
  turns: readonly Turn[],
  order: Order | undefined,
  address: string,
  context: BeatContext,
  ids: Set<string>,
): LinkedTurns {
  const any = order === 'any'
  return {
    kind: 'turns',
    index: context.turnsOf.get(address)!,
    address,
    when: undefined,
    order: order ?? 'again',
    turns: turns.map(({ lines }, at) => {
      const own = `${address}.turn${at + 1}`
      return { address: own, lines: linkPlainLines(lines, own, context, ids, any) }
    }),
  }
}

function linkPlainLines(
  lines: readonly PlainLine[],
  address: string,
  context: BeatContext,
  ids: Set<string>,
  any = false,
): LinkedLine[] {
  return lines.map((line, at) => linkPlainLine(line, `${address}.line${at + 1}`, context, ids, any))
}

/** `any`: which turn it stands in is not up to the story, so it can have no effects. */
function linkPlainLine(
  line: PlainLine,
  address: string,
  context: BeatContext,
  ids: Set<string>,
  any = false,
): LinkedLine {
  const isDouble = line.id !== undefined && ids.has(line.id)
  if (isDouble)
    context.problems.push({
      address,
      part: 'id',
      message: `there is another line "${line.id}" before this one in the beat; this one counts as without a name`,
    })
  else if (line.id !== undefined) ids.add(line.id)
  knowPerson(line.speaker, address, 'speaker', context)
  return {
    kind: 'line',
    id: isDouble ? undefined : line.id,
    address,
    when: linkCondition(line.when, address, context),
    effects: any ? refuseEffects(line.do, address, context) : linkEffects(line.do, address, context),
    text: linkText(line.text, address, 'text', context),
    cues: linkCues(line.cues, address, context),
    speaker: line.speaker,
    manner: line.manner ?? (line.speaker === undefined ? 'narration' : 'speech'),
  }
}

function refuseEffects(
  effects: readonly string[] | undefined,
  address: string,
  context: BeatContext,
): readonly never[] {
  effects?.forEach((_, at) =>
    context.problems.push({
      address,
      part: `do${at + 1}`,
      message: 'the game picks any of these turns, so a line of one changes nothing; put the effect elsewhere',
    }),
  )
  return NONE
}

function linkCues(cues: readonly CueUse[] | undefined, address: string, context: BeatContext): readonly LinkedCue[] {
  if (cues === undefined) return NONE
  return cues.flatMap(({ cue, with: passed }, at) => {
    if (context.cues.has(cue)) return [{ cue, with: passed }]
    const message = cue === '' ? 'it is not said yet which cue' : `there is no cue "${cue}"`
    context.problems.push({ address, part: `cue${at + 1}`, message })
    return []
  })
}

function linkChoice(scene: string, beatId: string, choice: Choice, beat: number, context: BeatContext): LinkedChoice {
  const address = choiceAddress(scene, beatId, choice.id)
  knowPerson(choice.who, address, 'who', context)
  return {
    index: context.choiceOf.get(address)!,
    address,
    beat,
    text: linkText(choice.text, address, 'text', context),
    who: choice.who,
    when: linkCondition(choice.when, address, context),
    once: choice.once ?? false,
    shownClosed: choice.closed === 'show',
    effects: linkEffects(choice.do, address, context),
    cues: linkCues(choice.cues, address, context),
    to:
      typeof choice.to === 'string'
        ? { kind: 'road', road: linkRoad(choice.to, address, context) }
        : { kind: 'rules', rules: linkRules(choice.to, `${address}#`, context) },
  }
}

function knowPerson(id: string | undefined, address: string, part: string, context: BeatContext): void {
  if (id === undefined || context.people.has(id)) return
  context.problems.push({ address, part, message: `"${id}" is not in the cast` })
}

function linkInto(into: string, address: string, context: BeatContext): number {
  const entry = context.scope.entry(into)
  const trouble =
    'trouble' in entry
      ? entry.trouble
      : entry.isGiven === true
        ? givenTrouble(into)
        : entry.kind === 'text'
          ? undefined
          : `the word needs a text entry, and "${into}" is a ${entry.kind}`
  if (trouble !== undefined) {
    context.problems.push({
      address,
      part: 'into',
      message: into === '' ? 'it is not said yet where the word is kept' : trouble,
    })
    return -1
  }
  return context.entryOf.get(into)!
}

function linkEnding(id: string, address: string, context: BeatContext): number {
  const ending = context.endingOf.get(id)
  if (ending !== undefined) return ending
  context.problems.push({ address, part: 'ending', message: `there is no ending "${id}"` })
  return -1
}
