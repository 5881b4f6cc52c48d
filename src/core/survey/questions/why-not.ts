import { ownerOf, parseStage } from '../../base/address'
import { operandsOf, type Expr } from '../../expression/ast'
import { printExpression } from '../../expression/print'
import type { Condition, LinkedBeat, LinkedRule, LinkedStory } from '../../story/linked'
import { variablesOf, variablesRead } from '../summaries/variables'
import { ownersOf, turnsIn } from '../../story/linked-parts'
import { GateObservations } from '../interpreter/gate-observations'
import type { Survey } from '../survey'
import { gateInSets } from '../symbolic/set-gates'
import { slotValue } from '../states/slot-value'

/** A part of a gate (the gate is all its parts joined by "and"), and what was seen when it was asked. */
export interface GatePart {
  /** The part as an expression. */
  readonly source: string
  readonly everHolds: boolean
  readonly saw: readonly {
    readonly of: 'entry' | 'quest' | 'visits' | 'taken'
    readonly id: string
    readonly values: readonly (boolean | number | string)[]
  }[]
  /** The number that a counter is tested for and steps over. */
  readonly stepsOver?: number
  /** Where an effect would make it hold, and whether any route comes there. */
  readonly setAt: readonly { readonly address: string; readonly reached: boolean }[]
}

/** One reason why nothing comes to an item. */
export type Cause =
  | { readonly kind: 'no-road' }
  /** No beat is this ending; no effect sets this stage. */
  | { readonly kind: 'nothing-does' }
  /** A road or effect that would do it lies in a beat (or a choice) that is itself on no route. */
  | { readonly kind: 'from-unreached'; readonly address: string; readonly unreached: string }
  /**
   * `remove`: the fewest parts without which it would hold somewhere. `behind`: it is asked only where nothing before it matched.
   * `isPartial`: there are too many states for all that is asked, and what is told was seen in some of them; nothing follows from
   * what was not.
   */
  | {
      readonly kind: 'gate'
      readonly address: string
      readonly parts: readonly GatePart[]
      readonly remove: readonly number[]
      readonly behind: boolean
      readonly isPartial?: true
    }
  | { readonly kind: 'broken-gate'; readonly address: string; readonly source: string }
  /** Something before it always matches, or the beat never gets so far. */
  | { readonly kind: 'hidden'; readonly address: string; readonly by: string | undefined }
  | { readonly kind: 'leads-nowhere'; readonly address: string }

export interface WhyNot {
  readonly address: string
  readonly causes: readonly Cause[]
}

const VALUES_MAX = 40
/** Where there are too many states to look at, so many of them are. */
const STATES_OF_MANY = 20_000
/** So many reasons are enough to begin with. */
const CAUSES_MAX = 12

/** Says why no route comes to an item that a finished survey found unreached. */
export function whyNot(survey: Survey, address: string): WhyNot {
  const explainer = new Explainer(survey)
  const causes = explainer.explain(address)
  // Where all that leads here is itself on no route, the reason lies further back.
  const asked = new Set([address])
  for (const cause of causes) {
    if (causes.some(({ kind }) => kind !== 'from-unreached')) break
    if (cause.kind !== 'from-unreached' || asked.has(cause.unreached) || causes.length > CAUSES_MAX) continue
    asked.add(cause.unreached)
    causes.push(...explainer.explain(cause.unreached))
  }
  return { address, causes }
}

interface Item {
  readonly address: string
  readonly beat: LinkedBeat
  readonly when: Condition | undefined
  /** What stands before it and is asked first; the first that matches wins. */
  readonly before: readonly { readonly address: string; readonly when: Condition | undefined }[]
  /** What has to be come to before it is asked at all. */
  readonly within: string
}

class Explainer {
  private readonly story: LinkedStory

  constructor(private readonly survey: Survey) {
    this.story = survey.story
  }

  explain(address: string): Cause[] {
    const { story } = this
    const beat = story.beatOf.get(address)
    if (beat !== undefined) return this.explainBeat(beat)
    const ending = story.endingOf.get(address)
    if (ending !== undefined) {
      const carriers = story.inOrder.filter((one) => one.ending === ending)
      if (carriers.length === 0) return [{ kind: 'nothing-does' }]
      return carriers.flatMap((one) =>
        carriers.length === 1
          ? this.explainBeat(one.index)
          : [{ kind: 'from-unreached' as const, address: one.address, unreached: one.address }],
      )
    }
    const item = this.itemAt(address)
    if (item !== undefined) return [this.explainItem(item)]
    return this.explainStage(address)
  }

  /** Every road to the beat, and what is wrong with each. */
  private explainBeat(index: number): Cause[] {
    const causes: Cause[] = []
    for (const beat of this.story.inOrder) {
      for (const address of roadsTo(beat, index)) {
        const item = this.itemAt(address)
        if (item !== undefined && beat.index !== index) causes.push(this.explainItem(item))
      }
    }
    if (causes.length === 0) return [{ kind: 'no-road' }]
    // what lies in unreached parts says less than a gate that could be opened
    const useful = causes.filter(({ kind }) => kind !== 'from-unreached')
    return useful.length > 0 ? useful : causes
  }

  private explainStage(address: string): Cause[] {
    const { quest, stage } = parseStage(address) ?? {}
    const owners = this.story.inOrder.flatMap((beat) =>
      ownersOf(beat)
        .filter(({ effects }) =>
          effects.some(
            ({ effect }) =>
              effect.kind === 'stage' &&
              effect.quest === quest &&
              effect.value.kind === 'string' &&
              effect.value.value === stage,
          ),
        )
        .map((owner) => owner.address),
    )
    if (owners.length === 0) return [{ kind: 'nothing-does' }]
    return owners.flatMap((owner) => {
      const item = this.itemAt(owner)
      return item === undefined ? [] : [this.explainItem(item)]
    })
  }

  private explainItem(item: Item): Cause {
    const { address, when, before, within } = item
    if (!this.isReached(within)) return { kind: 'from-unreached', address, unreached: within }
    if (when !== undefined && when.expr === undefined) return { kind: 'broken-gate', address, source: when.source }
    const asked = when === undefined ? 0 : this.seen(address)
    if (when?.expr !== undefined && asked !== 0 && (asked & 2) === 0)
      return this.explainGate(address, when.expr, before.length > 0)
    if (asked !== 0 && this.isUsable(address)) return { kind: 'leads-nowhere', address }
    const blocker = before.findLast((one) => one.when === undefined || this.seen(one.address) === 2)
    if (blocker === undefined && when === undefined && !this.isUsable(address))
      return { kind: 'leads-nowhere', address }
    return { kind: 'hidden', address, by: blocker?.address }
  }

  /** A road whose own target is missing is asked, and leads nowhere. */
  private isUsable(address: string): boolean {
    return !this.story.problems.some((problem) => problem.address === address && problem.part === 'to')
  }

  /** 1: was false, 2: was true, both added; 0: never asked. */
  private seen(address: string): number {
    return this.survey.evidence.events.outcomesOf(address)
  }

  private explainGate(address: string, gate: Expr, behind: boolean): Cause {
    const parts = operandsOf(gate, 'and')
    const { search, inSets } = this.survey
    const reads = parts.map((part) => [
      ...new Set(
        variablesRead(this.story, variablesOf(this.story), part).map((variable) => search.slots.ofVariable[variable]!),
      ),
    ])
    const ofAll = inSets && gateInSets(inSets, address, parts, reads)
    const isPartial = inSets !== undefined && ofAll === undefined
    const { held, saw, fewest } = ofAll ?? this.askAgain(address, parts, reads, isPartial ? STATES_OF_MANY : undefined)
    return {
      kind: 'gate',
      address,
      remove: isPartial ? [] : (fewest ?? []),
      behind,
      ...(isPartial ? { isPartial } : {}),
      parts: parts.map((part, at): GatePart => {
        const values = reads[at]!.map((slot, number) => this.valuesOf(slot, saw[at]![number]!))
        const steps = steppedOver(part, values[0]?.values)
        return {
          source: printExpression(part),
          everHolds: held[at]!,
          saw: values,
          ...(steps === undefined || held[at] || isPartial ? {} : { stepsOver: steps }),
          setAt: held[at] ? [] : this.settersOf(part),
        }
      }),
    }
  }

  /** Asks the gate again wherever it is asked on any route, or in so many states at `most`, part by part. */
  private askAgain(
    address: string,
    parts: readonly Expr[],
    reads: readonly (readonly number[])[],
    most?: number,
  ): GateObservations {
    const { search } = this.survey
    const seen = new GateObservations(reads)
    const tests = parts.map((part) => search.compiler.test(part))
    const look = () => seen.look(tests, search.values)
    search.programs.watching(search.events.part(address), look, () => search.replayAll(most))
    return seen
  }

  private valuesOf(slot: number, seen: ReadonlySet<number>): GatePart['saw'][number] {
    const one = this.survey.search.slots.all[slot]!
    const values = [...seen]
      .sort((a, b) => a - b)
      .slice(0, VALUES_MAX)
      .map((value) => slotValue(this.story, one, value))
    switch (one.kind) {
      case 'entry':
        return { of: 'entry', id: this.story.entries[one.entry]!.id, values }
      case 'quest':
        return { of: 'quest', id: this.story.quests[one.quest]!.id, values }
      case 'visits':
        return { of: 'visits', id: this.story.beats[one.beat]!.address, values }
      case 'place':
      case 'turns':
      case 'spare':
      case 'taken':
        return { of: 'taken', id: one.kind === 'taken' ? this.story.choices[one.choice]!.address : 'place', values }
    }
  }

  /** Effects that give an entry or quest just the value that a part asks for. */
  private settersOf(part: Expr): GatePart['setAt'] {
    const wanted = wantedValue(part)
    if (wanted === undefined) return []
    return this.story.inOrder.flatMap((beat) =>
      ownersOf(beat).flatMap(({ address, effects }) => {
        const does = effects.some(({ effect }) => {
          const { value } = effect
          const literal =
            value.kind === 'string' || value.kind === 'bool' || value.kind === 'int' ? value.value : undefined
          const target =
            effect.kind === 'stage' ? `quest.${effect.quest}` : effect.kind === 'set' ? effect.entry : undefined
          return target === wanted.name && literal === wanted.value
        })
        return does ? [{ address, reached: this.isReached(address) }] : []
      }),
    )
  }

  private isReached(address: string): boolean {
    return this.survey.evidence.events.witnessOfPart(address) !== undefined
  }

  /** A turn, or a line in one. */
  private turnAt(beat: LinkedBeat, address: string): Item | undefined {
    for (const group of turnsIn(beat)) {
      for (const turn of group.turns) {
        if (turn.address === address) return { address, beat, when: group.when, before: [], within: beat.address }
        const line = turn.lines.find((one) => one.address === address)
        if (line !== undefined) return { address, beat, when: line.when, before: [], within: turn.address }
      }
    }
    return undefined
  }

  /** The rule, line, variant, choice … at an address. */
  private itemAt(address: string): Item | undefined {
    const place = ownerOf(address)
    const choice = this.story.choices[this.story.choiceOf.get(place) ?? -1]
    if (choice !== undefined) {
      const beat = this.story.beats[choice.beat]!
      if (place === address) return { address, beat, when: choice.when, before: [], within: beat.address }
      return choice.to.kind === 'rules' ? among(choice.to.rules, address, beat, choice.address) : undefined
    }
    const beat = this.story.beats[this.story.beatOf.get(place) ?? -1]
    if (beat === undefined) return undefined
    const found = among(beat.redirects, address, beat, beat.address) ?? among(beat.onward, address, beat, beat.address)
    if (found !== undefined) return found
    const alone = [...beat.arrive, ...beat.lines].find((one) => one.address === address)
    const inTurn = this.turnAt(beat, address)
    if (inTurn !== undefined) return inTurn
    if (alone !== undefined && 'when' in alone)
      return { address, beat, when: alone.when, before: [], within: beat.address }
    for (const line of beat.lines) {
      if (line.kind !== 'group') continue
      const variant = among(line.variants, address, beat, beat.address)
      if (variant !== undefined) return variant
      for (const one of line.variants) {
        const inner = one.lines.find((each) => each.address === address)
        if (inner !== undefined) return { address, beat, when: inner.when, before: [], within: one.address }
      }
    }
    return undefined
  }
}

/** An item of a list of which the first that matches wins. */
function among(
  items: readonly { address: string; when: Condition | undefined }[],
  address: string,
  beat: LinkedBeat,
  within: string,
): Item | undefined {
  const at = items.findIndex((one) => one.address === address)
  return at === -1 ? undefined : { address, beat, when: items[at]!.when, before: items.slice(0, at), within }
}

/** Addresses of what leads from one beat to another. */
function roadsTo(beat: LinkedBeat, target: number): string[] {
  const leads = (rule: LinkedRule) => rule.to.kind === 'beat' && rule.to.beat === target
  return [
    ...beat.redirects.filter(leads).map(({ address }) => address),
    ...beat.choices.flatMap((choice): string[] => {
      if (choice.to.kind === 'rules') return choice.to.rules.filter(leads).map(({ address }) => address)
      return choice.to.road.kind === 'beat' && choice.to.road.beat === target ? [choice.address] : []
    }),
    ...beat.onward.filter(leads).map(({ address }) => address),
  ]
}

/** For `entry == number`: the number, when values on both sides of it occur and it does not. */
function steppedOver(part: Expr, values: readonly (boolean | number | string)[] | undefined): number | undefined {
  if (
    part.kind !== 'compare' ||
    part.op !== '==' ||
    part.left.kind !== 'entry' ||
    part.right.kind !== 'int' ||
    values === undefined
  )
    return undefined
  const { value } = part.right
  const numbers = values.filter((one) => typeof one === 'number')
  return numbers.some((one) => one > value) && numbers.length > 1 ? value : undefined
}

/** What an entry or quest would have to be for a simple part to hold. */
function wantedValue(part: Expr): { readonly name: string; readonly value: boolean | number | string } | undefined {
  const name = (expr: Expr) =>
    expr.kind === 'entry' ? expr.id : expr.kind === 'quest' ? `quest.${expr.id}` : undefined
  if (part.kind === 'entry') return { name: part.id, value: true }
  if (part.kind === 'not' && part.operand.kind === 'entry') return { name: part.operand.id, value: false }
  if (part.kind !== 'compare' || part.op !== '==') return undefined
  const subject = name(part.left)
  const { right } = part
  return subject !== undefined && (right.kind === 'string' || right.kind === 'int' || right.kind === 'bool')
    ? { name: subject, value: right.value }
    : undefined
}
