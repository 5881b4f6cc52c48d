import { sceneOfAddress } from '../../base/address'
import type { Slices } from '../../base/slices'
import type { LinkedQuest, LinkedStory } from '../../story/linked'
import type { Search } from '../explicit/search'
import { ENDLESS } from '../interpreter/machine'
import { Conversion, type Becoming } from '../symbolic/diagrams/conversion'
import type { GuardedCommand } from '../symbolic/commands'
import type { Near } from '../symbolic/distances'
import { EMPTY, TooMuch, unlessTooMuch, type DiagramLimits } from '../symbolic/diagrams/node-table'
import { slotOrder } from '../symbolic/slot-order'
import type { Sets } from '../symbolic/state-sets'
import { SymbolicSearch } from '../symbolic/symbolic-search'
import type { Carried, CarriedKind } from './carried'
import { FoundSaves } from './found-saves'
import { NOWHERE, TakeOver, type Sides } from './take-over'

/** All saves of one location of the old story, and what they become. */
interface Load {
  readonly location: number
  readonly address: string
  readonly saves: number
  readonly conversion: Conversion
  /** What they are taken over as, before the new story goes on with it. */
  readonly taken: number
  readonly commands: readonly GuardedCommand[]
}

/** What becomes of saves, from sets of them: all saves of one location are taken over into the new story at once, and searched on from there. */
export class SetCarry {
  private readonly before: SymbolicSearch
  private readonly after: SymbolicSearch
  private readonly takeOver: TakeOver
  /** By slot of the new story: the slot of the old one that it takes its value from, or -1. */
  private readonly sources: readonly number[]
  private readonly found = new FoundSaves<{ readonly location: number; readonly near: Near }>()

  constructor(
    private readonly sides: Sides,
    private readonly from: Search,
    private readonly to: Search,
    private readonly stagesLost: ReadonlyMap<number, ReadonlySet<number>>,
    limits: DiagramLimits,
  ) {
    const { old, now } = sides
    this.takeOver = new TakeOver(sides, from, to)
    this.sources = to.slots.all.map((slot) => this.takeOver.sourceOf(slot))
    this.before = new SymbolicSearch(from, followedIn(old), limits)
    this.after = new SymbolicSearch(to, followedIn(now), limits, this.orderAlike(this.before.order))
  }

  /** How much has been done, in sets that were put together. */
  get work(): number {
    return this.before.work + this.after.work
  }

  /** Undefined where that takes too much. */
  run(): Slices<Carried | undefined> {
    return unlessTooMuch(this.steps())
  }

  private *steps(): Slices<Carried | undefined> {
    const { before, after } = this
    if (!(yield* before.runUnseen())) return undefined
    const loads: Load[] = []
    const starts: Sets = new Map()
    for (const [location, saves] of before.reached) {
      yield
      const load = yield* this.loadAt(location, saves)
      loads.push(load)
      for (const command of load.commands)
        if (command.action.to >= 0) {
          const come = after.after(command, load.taken)
          if (come !== EMPTY) after.add(starts, command.action.to, come)
        }
    }
    if (!(yield* after.runFrom(starts))) return undefined
    yield* this.judge(loads)
    const findings = this.found.told(({ location, near }) =>
      before.lazyRouteInto(before.distances, near, location).take(),
    )
    const { states: saves } = before
    return { complete: true, findings, figures: { saves, states: Math.min(saves + after.states, Number.MAX_VALUE) } }
  }

  /** Slots of the new story in such an order that those that come from the old one stand in the order of that. */
  private orderAlike(order: Int32Array): Int32Array {
    const { to, sources } = this
    const own = slotOrder(to.story, to.slots)
    const sorted = [...to.slots.all].sort((a, b) => own[a.index]! - own[b.index]!)
    // what is new stands behind what it would stand behind
    let last = -1
    const behind = sorted.map((slot) => {
      const source = sources[slot.index]!
      if (source !== -1) last = order[source]!
      return { slot: slot.index, place: source === -1 ? last : order[source]!, isNew: source === -1 }
    })
    const places = new Int32Array(to.slots.all.length)
    behind
      .sort((a, b) => a.place - b.place || Number(a.isNew) - Number(b.isNew))
      .forEach(({ slot }, place) => {
        places[slot] = place
      })
    return places
  }

  private *loadAt(location: number, saves: number): Slices<Load> {
    const { before, after, from, to, takeOver } = this
    const { old } = this.sides
    const beat = location % old.beats.length
    const { address } = old.beats[beat]!
    const scene = sceneOfAddress(address)
    const standing = Int32Array.from(from.slots.all, ({ index }) => before.locationSlots.knownAt(location, index))
    const known = Int32Array.from(to.slots.all, ({ index }) => takeOver.become(index, standing, scene))
    const targets = new Map<number, number>()
    this.sources.forEach((source, target) => {
      if (source !== -1 && before.isHeldAt(location, source)) targets.set(source, target)
    })
    const steps = before.slotsAt(location).map((slot): Becoming | undefined => {
      const target = targets.get(slot)
      if (target === undefined) return undefined
      const [was, is] = [from.slots.all[slot]!, to.slots.all[target]!]
      return {
        size: is.max - is.min + 1,
        becomes: Array.from({ length: was.max - was.min + 1 }, (_, at) => {
          standing[slot] = was.min + at
          return takeOver.become(target, standing, scene) - is.min
        }),
      }
    })
    const gateway = after.locationSlots.addGateway([...targets.values()], known)
    const commands = yield* after.commandsPlaying(gateway, (values, machine) => takeOver.goOn(beat, values, machine))
    if (commands === undefined) throw new TooMuch()
    const conversion = new Conversion(before.diagrams, after.diagrams, steps)
    return { location, address, saves, conversion, taken: conversion.image(saves), commands }
  }

  private *judge(loads: readonly Load[]): Slices<void> {
    const { before, after, sides } = this
    const { diagrams } = before
    const endsBefore = yield* before.comingTo(before.ended())
    const stuck = yield* this.stuckAfter()
    const lost = after.without(after.reached, yield* after.comingTo(after.ended()))
    const stranded = yield* this.strandedAfter()
    for (const load of loads) {
      yield
      const { location, address, saves } = load
      if (!sides.now.beatOf.has(address)) this.note('carried-moved', location, saves, address)
      const nowhere = this.leading(load, NOWHERE)
      this.noteLostStages(location, diagrams.minus(saves, nowhere))
      this.note('carried-endless', location, this.leading(load, ENDLESS), address)
      const wasStuck = () => (before.isEnding(location) ? EMPTY : before.stuckIn(location, saves))
      const isStuck = this.becoming(load, stuck)
      if (isStuck !== EMPTY) this.note('carried-dead-end', location, diagrams.minus(isStuck, wasStuck()), address)
      const isLost = diagrams.both(this.becoming(load, lost), endsBefore.get(location) ?? EMPTY)
      this.note('carried-no-way-out', location, isLost, address)
      for (const { quest, stage, sets, could } of stranded) {
        const isStranded = diagrams.both(this.becoming(load, sets), could.get(location) ?? EMPTY)
        this.note('carried-stranded', location, isStranded, quest, stage)
      }
    }
  }

  private noteLostStages(location: number, saves: number): void {
    const { before, from, sides } = this
    for (const [quest, stages] of this.stagesLost)
      for (const stage of stages) {
        const { id, stages: names } = sides.old.quests[quest]!
        const having = before.having(location, saves, from.slots.ofQuest[quest]!, stage)
        this.note('carried-stage-lost', location, having, id, names[stage]!)
      }
  }

  /** Where the new story can't go on. */
  private *stuckAfter(): Slices<Sets> {
    const stuck: Sets = new Map()
    for (const [location, set] of this.after.reached) {
      if (this.after.isEnding(location)) continue
      yield
      const those = this.after.stuckIn(location, set)
      if (those !== EMPTY) stuck.set(location, those)
    }
    return stuck
  }

  /** By quest and stage: where the new story can bring it to no outcome, and where the old one could. */
  private *strandedAfter(): Slices<{ quest: string; stage: string; sets: Sets; could: Sets }[]> {
    const { before, after, from, to, sides } = this
    const found: { quest: string; stage: string; sets: Sets; could: Sets }[] = []
    const canClose = (search: SymbolicSearch, slot: number, { outcomes }: LinkedQuest) =>
      search.comingTo(
        search.havingAny(
          slot,
          outcomes.flatMap((outcome, stage) => (outcome === undefined ? [] : [stage])),
        ),
      )
    for (const quest of sides.now.quests) {
      const other = sides.old.quests[sides.old.questOf.get(quest.id) ?? -1]
      if (other === undefined || quest.outcomes.every((outcome) => outcome === undefined)) continue
      const slot = to.slots.ofQuest[quest.index]!
      const left = after.without(after.reached, yield* canClose(after, slot, quest))
      for (const location of left.keys()) if (after.isEnding(location)) left.delete(location)
      if (left.size === 0) continue
      const could = yield* canClose(before, from.slots.ofQuest[other.index]!, other)
      for (const [stage, name] of quest.stages.entries()) {
        if (stage === 0 || quest.outcomes[stage] !== undefined) continue
        yield
        const sets: Sets = new Map()
        for (const [location, set] of left) {
          const under = after.having(location, set, slot, stage)
          if (under !== EMPTY) sets.set(location, under)
        }
        if (sets.size > 0) found.push({ quest: quest.id, stage: name, sets, could })
      }
    }
    return found
  }

  /** Saves with which the new story comes to rest in one of some states. */
  private becoming({ saves, conversion, taken, commands }: Load, states: Sets): number {
    const { after } = this
    let all = EMPTY
    for (const command of commands) {
      const those = states.get(command.action.to) ?? EMPTY
      if (those !== EMPTY) all = after.diagrams.union(all, after.comeFrom(command, those, taken))
    }
    return conversion.among(saves, all)
  }

  /** Saves with which the new story comes to rest nowhere, in one of the ways in which it does. */
  private leading({ saves, conversion, taken, commands }: Load, way: number): number {
    const { after } = this
    const all = commands
      .filter(({ action }) => action.to === way)
      .reduce((some, command) => after.diagrams.union(some, after.before(command, taken)), EMPTY)
    return conversion.among(saves, all)
  }

  /** Notes some saves of a location, the nearest of all such. */
  private note(kind: CarriedKind, location: number, saves: number, ...key: string[]): void {
    const near = this.before.distances.nearest(location, saves)
    if (near !== undefined) this.found.note(kind, key, near.step, { location, near })
  }
}

/** What the searches hear of: the turns of all lines that come in turn. */
function followedIn(story: LinkedStory) {
  return { overruns: new Set<number>(), turns: new Set(story.turnGroups.keys()) }
}
