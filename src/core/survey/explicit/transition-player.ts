import type { EntryValue, Given, RouteItem } from '../../story/types'
import type { LinkedStory } from '../../story/linked'
import { beatsThatTouch } from '../analysis/beats-that-touch'
import { beatsThatRead } from '../analysis/given-reads'
import type { Chosen } from '../interpreter/givens'
import { ENDLESS } from '../interpreter/machine'
import type { BeatProgram } from '../interpreter/programs'
import { NO_STATE, type StateSetLimits } from '../states/state-set'
import { slotValue } from '../states/slot-value'
import { otherWord } from '../summaries/word-domains'
import { StateSpace, type StateSpaceOptions } from './state-space'

const NO_WORDS: ReadonlySet<string> = new Set()
export const NOTHING_GIVEN: readonly Chosen[] = []
/** The number of the first change of a state among its transitions, of which the following go downwards. */
export const FIRST_MOVE = -2
/** Stands for where a choice leads that can't be taken. */
const CLOSED = -3

/** A transition as it is told in a route. */
export interface Leg {
  /** What is decided; undefined where something given changes. */
  readonly item: RouteItem | undefined
  /** What the game gives for it. */
  readonly given: readonly Chosen[]
}

/** By its number among a state's transitions, or a change by its own, from −2 downwards. */
export function legNumbered(legs: readonly Leg[], pick: number): Leg {
  return legs[pick < 0 ? FIRST_MOVE - pick : pick]!
}

/** The transitions of a state played, for the first time or again, and told as steps of a route. */
export abstract class TransitionPlayer extends StateSpace {
  /** By beat: whether it reads something that the game may change, and whether a decision there may come to something that does. */
  private readonly readsGiven: Uint8Array
  protected readonly touchesGiven: Uint8Array
  /** Transitions of a state are mostly played again one after another. */
  private lastLegs: { readonly of: number; readonly legs: readonly Leg[] } | undefined

  protected constructor(
    story: LinkedStory,
    options: StateSpaceOptions,
    limits: StateSetLimits | undefined,
    before: StateSpace | undefined,
  ) {
    super(story, options, limits, before)
    const { slots, givens } = this
    const { roads } = this.prepared
    this.readsGiven = beatsThatRead(roads, slots, [...givens.plan.free, ...givens.plan.held])
    // where something held can change, every state has changes
    this.touchesGiven =
      givens.plan.held.length > 0 ? this.readsGiven.map(() => 1) : beatsThatTouch(roads, this.readsGiven)
  }

  /** Hears where the story goes, or how it rests on, as something given changes in a state; gives whether it can go on from there at all. */
  protected eachMove(
    packed: Uint32Array,
    location: number,
    hear: (to: number) => void,
    before: () => void = () => undefined,
  ): boolean {
    const { givens, machine, values, events } = this
    const { held } = givens.plan
    const { length } = this.story.beats
    const stuck = location >= length
    const beat = stuck ? location - length : location
    const program = this.programs.of(beat)
    if (program.ending !== -1) return true
    const reset = () => {
      this.unpack(packed, 0)
      before()
    }
    let moves = 0
    let goesOn = false
    let own: readonly number[] = []
    const move = (to: number) => {
      moves += 1
      hear(to)
    }
    const isChanged = () => held.some((slot, at) => values[slot] !== own[at])
    const choose = () => {
      own = held.map((slot) => values[slot]!)
      for (const slot of held) givens.choose(slot)
    }
    const isAtWord = !stuck && program.asks
    // where nothing asks for it the story rests on, and states need not hold what would be asked for on coming again
    if (isAtWord || !this.canMoveAt(beat)) {
      const hear = () => {
        // what it gives is no answer: false would end it
        if (isChanged()) move(location)
      }
      if (held.length > 0) givens.every(reset, choose, hear)
      if (isAtWord) return true
      reset()
      if (stuck) return false
      return program.choices.some((choice) => machine.isOpen(choice))
    }
    givens.every(
      reset,
      () => {
        choose()
        events.pick = FIRST_MOVE - moves
        return machine.comeAgain(beat, stuck)
      },
      (to) => {
        if (to !== location) goesOn = true
        else if (machine.isOffered) goesOn = true
        if (to !== location || isChanged()) move(to)
      },
    )
    return goesOn
  }

  /** The transitions of a state where something given can change: first what changes lead to, then decisions with all that may be given for them. */
  protected eachTransition(
    packed: Uint32Array,
    location: number,
    hear: (to: number, item: RouteItem | undefined) => boolean | void,
    before: () => void = () => undefined,
  ): void {
    const { givens, machine, events } = this
    const { beats } = this.story
    let transitions = 0
    let isOver = false
    const tell = (to: number, item?: RouteItem): boolean => {
      transitions += 1
      isOver = hear(to, item) === false
      return !isOver
    }
    const goesOn = this.eachMove(packed, location, (to) => !isOver && tell(to), before)
    const decided = transitions
    if (isOver) return
    const reset = () => {
      this.unpack(packed, 0)
      events.pick = -1
      before()
    }
    const program = location < beats.length ? this.programs.of(location) : undefined
    if (program?.asks === true) {
      if (program.prompt !== undefined) givens.every(reset, program.prompt, () => undefined)
      for (const word of program.typable) {
        const item = { at: beats[location]!.address, word: this.wordOf(program, word) }
        const say = () => {
          events.pick = transitions
          return machine.say(location, word)
        }
        if (!isOver) givens.every(reset, say, (to) => tell(to, item))
      }
      return
    }
    for (const choice of program?.choices ?? []) {
      if (isOver) return
      const take = () => {
        if (!machine.isOpen(choice)) return CLOSED
        if (events.occurred[choice.event] === 0) events.record(choice.event)
        choice.shown?.()
        events.pick = transitions
        return machine.take(location, choice)
      }
      givens.every(reset, take, (to) => to === CLOSED || tell(to, { choice: choice.address }))
      const { shown } = choice
      if (!choice.shownClosed || shown === undefined) continue
      // greyed where the story rests
      const rests = () => {
        const isHere = () => !this.canMoveAt(location) || machine.comeAgain(location, false) === location
        if (events.quietly(() => !machine.isOpen(choice) && isHere())) shown()
      }
      givens.every(reset, rests, () => undefined)
    }
    if (goesOn || decided < transitions || (program?.ending !== undefined && program.ending !== -1)) return
    reset()
    events.record(events.number('dead-end', beats[location % beats.length]!.address))
  }

  /** Whether a rest at a beat can be left, or its choices change, as something given does. */
  canMoveAt(beat: number): boolean {
    return this.readsGiven[beat] === 1
  }

  /** The transitions of a state in their order: what is decided, or undefined where it is a change, and what the game gives for it. */
  legsIn(state: number): Leg[] {
    if (!this.givens.canChange) return this.decisionsIn(state).map((item) => ({ item, given: NOTHING_GIVEN }))
    const legs: Leg[] = []
    this.events.quietly(() =>
      this.eachTransition(this.packedOf(state).slice(), this.locationOf(state), (_, item) => {
        legs.push({ item, given: this.givens.chosen() })
      }),
    )
    return legs
  }

  /** The decisions open in a state, in the order of its successors; a change of what is given as such. */
  decisionsIn(state: number): RouteItem[] {
    if (this.givens.canChange) return this.legsIn(state).map(({ item, given }) => item ?? this.givenItem(given))
    const { beat, stuckAfterWord } = this.load(state)
    const program = this.programs.of(beat)
    if (stuckAfterWord || program.ending !== -1) return []
    if (program.asks) {
      const address = this.story.beats[beat]!.address
      return program.typable.map((value) => ({ at: address, word: this.wordOf(program, value) }))
    }
    return program.choices.filter((choice) => this.machine.isOpen(choice)).map((choice) => ({ choice: choice.address }))
  }

  /** Plays an open decision of a state again; the working vector is then where it led. */
  replayPick(state: number, pick: number): void {
    if (this.givens.canChange) return this.replayLeg(state, this.legAt(state, pick))
    this.load(state)
    const beat = this.locationOf(state)
    const program = this.programs.of(beat)
    if (program.asks) {
      this.machine.say(beat, program.typable[pick]!)
      return
    }
    let open = -1
    for (const choice of program.choices) {
      if (!this.machine.isOpen(choice)) continue
      open += 1
      if (open === pick) {
        this.machine.take(beat, choice)
        return
      }
    }
  }

  /** Plays one transition of many that differ in what is given. */
  private replayLeg(state: number, { item, given }: Leg): void {
    const { givens, machine } = this
    const { beat, stuckAfterWord } = this.load(state)
    const program = this.programs.of(beat)
    givens.once(given, () => {
      if (item === undefined) {
        if ((stuckAfterWord || !program.asks) && this.canMoveAt(beat)) machine.comeAgain(beat, stuckAfterWord)
      } else if ('word' in item)
        machine.say(
          beat,
          program.typable.find((value) => this.wordOf(program, value) === item.word)!,
        )
      else if ('choice' in item)
        machine.take(
          beat,
          program.choices.find(({ address }) => address === item.choice)!,
        )
    })
  }

  private legAt(state: number, pick: number): Leg {
    if (this.lastLegs?.of !== state) this.lastLegs = { of: state, legs: this.legsIn(state) }
    return legNumbered(this.lastLegs.legs, pick)
  }

  /** Plays every transition again, of so many states at `most`, with nothing marked: for questions about what happens on the way. */
  replayAll(most = Infinity): void {
    const nothing = () => undefined
    this.events.quietly(() => {
      this.eachBeginning(nothing, nothing)
      for (let state = 0; state < Math.min(this.expanded, most); state += 1) {
        this.load(state)
        for (const choice of this.programs.of(this.beatOf(state)).choices) this.machine.isOpen(choice)
        this.replayFrom(state, nothing, nothing)
      }
    })
  }

  /** Plays the transitions of a state again; `before` hears before each, `after` after it. */
  replayFrom(state: number, before: () => void, after: (pick: number) => void): void {
    if (!this.givens.canChange) {
      for (let pick = 0; pick < this.degree(state); pick += 1) {
        before()
        this.replayPick(state, pick)
        after(pick)
      }
      return
    }
    let pick = -1
    // whatever it gives, all are played: false would end it
    const hear = () => {
      after((pick += 1))
    }
    this.eachTransition(this.packedOf(state).slice(), this.locationOf(state), hear, before)
  }

  /** The word that is typed at a beat for a value of what it goes into. */
  wordOf(program: BeatProgram, value: number): string {
    const slot = this.slots.all[program.into]
    return slot?.kind === 'entry' ? slot.words!.values[value]! : otherWord(NO_WORDS)
  }

  /** What is chosen as it stands in a route. */
  givenItem(given: readonly Chosen[]): Given {
    const pairs = given.map(([slot, value]): [string, EntryValue] => {
      const one = this.slots.all[slot]!
      return [this.story.entries[one.kind === 'entry' ? one.entry : -1]!.id, slotValue(this.story, one, value)]
    })
    return { given: Object.fromEntries(pairs) }
  }

  /** Begins again in every way; `before` hears before each, `hear` to which state it leads, or NO_STATE. */
  eachBeginning(before: () => void, hear: (state: number) => void): void {
    const { layout, table } = this
    if (this.story.start === -1) return
    this.everyBeginning(before, (location) => {
      if (location === ENDLESS) return hear(NO_STATE)
      layout.pack(location, this.values, this.one, 0)
      table.addAll(this.one, 1, this.found, 0)
      hear(table.orderOf(this.found[0]!))
    })
  }

  protected everyBeginning(before: () => void, hear: (location: number) => void): void {
    const { givens, machine, layout, story } = this
    const isHeld = new Set([...givens.plan.begin, ...givens.plan.held])
    const play = () => {
      const location = machine.begin(story.start)
      // what is held from the first rest on is chosen by then
      if (location !== ENDLESS)
        for (const { slot } of layout.fieldsOf(location)) if (isHeld.has(slot)) givens.choose(slot)
      return location
    }
    givens.every(before, play, hear, true)
    machine.putBack()
  }
}
