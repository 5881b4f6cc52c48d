import type { Slices } from '../../base/slices'
import type { LinkedStory } from '../../story/linked'
import { allotSlots } from '../analysis/slots'
import { endingProspects, prospects, type OneProspect, type Prospects } from '../explicit/prospects'
import { Routes } from '../explicit/routes'
import { BYTES_BESIDE_SETS, Search } from '../explicit/search'
import { NO_STATE } from '../states/state-set'
import type { Carried, CarriedFinding, CarriedKind } from './carried'
import { FoundSaves } from './found-saves'
import { SetCarry } from './in-sets'
import { demandsOnNew, demandsOnOld, keptSlots, TakeOver, wordsOf, type Sides } from './take-over'

/** States between two looks whether time is left. */
const STRIDE = 512
/** Where there are more states than this they are looked at in sets too. */
const EXPLICIT = 100_000
/** Backward reachability answers this many quests at once. */
const GROUP = 32

/**
 * What becomes, in another version of a story, of every save that a player of this one can have. Exact: the search over
 * the old story holds all that either story reads, so that all saves of one state become the same; what can come of
 * them is a search over the new story that begins in each. Where that comes to more states than `explicit`, they are looked
 * at in sets. What was not looked at when `stop` says so is left out.
 */
export function* carryOver(
  old: LinkedStory,
  now: LinkedStory,
  stop: () => boolean = () => false,
  explicit = EXPLICIT,
): Slices<Carried> {
  const sides: Sides = { old, now, words: wordsOf(old, now) }
  const lost = stagesLost(old, now)
  const demands = demandsOnOld(sides)
  const everyTurn = (story: LinkedStory) => new Set(story.turnGroups.keys())
  const nothing = { overruns: new Set<number>(), unsetTexts: false, quests: false, promises: false }
  const outcomes = now.quests.filter((quest) => quest.outcomes.some((outcome) => outcome !== undefined))
  const ofNew = demandsOnNew(sides)
  const slotsOfNew = allotSlots(now, ofNew)
  const to = new Search(now, {
    observed: {
      ...nothing,
      turns: everyTurn(now),
      keep: outcomes.map(({ index }) => slotsOfNew.ofQuest[index]!),
      demands: ofNew,
      anywhere: true,
    },
  })
  const from = new Search(old, {
    observed: {
      ...nothing,
      turns: everyTurn(old),
      ...keptSlots(sides, allotSlots(old, demands), to.slots, to.liveness.afterLinesOfAll(), new Set(lost.keys())),
      demands,
    },
  })
  const sets = new SetsInTurn(explicit, from, to, () => new SetCarry(sides, from, to, lost, { isOver: stop }))
  while (!from.isExhausted && !stop()) {
    const carried = yield* sets.carried()
    if (carried !== undefined) return carried
    from.advance(STRIDE)
    yield
  }
  const takeOver = new TakeOver(sides, from, to)
  // what each state of the old story becomes
  const becomes = new Uint32Array(from.states)
  for (let state = 0; state < from.states; state += 1) {
    if (state % STRIDE === 0) {
      if (stop()) return tell(false, [], from, to)
      yield
    }
    const { beat } = from.load(state)
    becomes[state] = to.beginAt(takeOver.come(beat))
  }
  becomes.forEach((called, state) => (becomes[state] = to.begun(called)))
  while (!to.isExhausted && !stop()) {
    const carried = yield* sets.carried()
    if (carried !== undefined) return carried
    to.advance(STRIDE)
    yield
  }
  yield
  return tell(from.done && to.done, look(sides, from, to, becomes, lost), from, to)
}

/** Sets of saves, looked at by turns with single ones where those are many, until one way comes to its end. */
class SetsInTurn {
  private carry: SetCarry | undefined
  private steps: Slices<Carried | undefined> | undefined
  private hasFailed = false
  /** Transitions that had been gone through when they were begun. */
  private before = 0

  constructor(
    private readonly explicit: number,
    private readonly from: Search,
    private readonly to: Search,
    private readonly begin: () => SetCarry,
  ) {}

  /** Takes its turn, if it is its turn; gives the answer once there is one. */
  *carried(): Slices<Carried | undefined> {
    const { from, to } = this
    if (this.hasFailed || from.states + to.states < this.explicit) return undefined
    const transitions = from.transitions + to.transitions
    if (this.carry === undefined || this.steps === undefined) {
      this.carry = this.begin()
      this.steps = this.carry.run()
      this.before = transitions
    }
    const isTheirs = () =>
      this.explicit === 0 || from.bytes + to.bytes > BYTES_BESIDE_SETS || this.carry!.work <= transitions - this.before
    while (isTheirs()) {
      const step = this.steps.next()
      if (step.done === true) {
        this.hasFailed = step.value === undefined
        return step.value
      }
      yield
    }
    return undefined
  }
}

function tell(complete: boolean, findings: readonly CarriedFinding[], from: Search, to: Search): Carried {
  return { complete, findings, figures: { saves: from.states, states: from.states + to.states } }
}

/** Stages of the old story that the new one does not have, by quest. */
function stagesLost(old: LinkedStory, now: LinkedStory): ReadonlyMap<number, ReadonlySet<number>> {
  const lost = new Map<number, Set<number>>()
  for (const { id, index, stages } of old.quests) {
    const other = now.quests[now.questOf.get(id) ?? -1]
    const own = stages.flatMap((stage, at) => (at > 0 && other?.stages.includes(stage) !== true ? [at] : []))
    if (own.length > 0) lost.set(index, new Set(own))
  }
  return lost
}

/** Whether quests can still come to an outcome from states of a search. */
class Outcomes {
  private readonly groups: Prospects[] = []
  private readonly at = new Map<string, number>()

  constructor(search: Search, ids: readonly string[]) {
    const { story, slots, values } = search
    const quests = ids.flatMap((id) => story.quests[story.questOf.get(id) ?? -1] ?? [])
    quests.forEach(({ id }, at) => this.at.set(id, at))
    for (let at = 0; at < quests.length; at += GROUP) {
      const tests = quests.slice(at, at + GROUP).map(({ index, outcomes }) => {
        const slot = slots.ofQuest[index]!
        return () => outcomes[values[slot]!] !== undefined
      })
      this.groups.push(prospects(search, tests))
    }
  }

  must(quest: string, state: number): boolean {
    const at = this.at.get(quest)
    return at !== undefined && this.groups[Math.floor(at / GROUP)]!.must(state, at % GROUP)
  }

  may(quest: string, state: number): boolean {
    const at = this.at.get(quest)
    return at !== undefined && this.groups[Math.floor(at / GROUP)]!.may(state, at % GROUP)
  }
}

function look(
  { old, now }: Sides,
  from: Search,
  to: Search,
  becomes: Uint32Array,
  lost: ReadonlyMap<number, ReadonlySet<number>>,
): CarriedFinding[] {
  const routes = new Routes(from)
  const found = new FoundSaves<number>()
  const note = (kind: CarriedKind, state: number, ...key: string[]) => found.note(kind, key, state, state)
  const [endsBefore, endsNow]: OneProspect[] = [endingProspects(from), endingProspects(to)]
  const ids = now.quests.filter(({ outcomes }) => outcomes.some((one) => one !== undefined)).map(({ id }) => id)
  const [before, after] = [new Outcomes(from, ids), new Outcomes(to, ids)]
  for (let state = 0; state < from.states; state += 1) {
    const beat = from.beatOf(state)
    const { address } = old.beats[beat]!
    const isMoved = !now.beatOf.has(address)
    if (isMoved) note('carried-moved', state, address)
    from.load(state)
    const isNowhere = isMoved && becomes[state] === NO_STATE && now.start === -1 && !hasPlace(from, to)
    if (isNowhere) continue
    for (const [quest, stages] of lost) {
      const stage = from.values[from.slots.ofQuest[quest]!]!
      if (stages.has(stage)) note('carried-stage-lost', state, old.quests[quest]!.id, old.quests[quest]!.stages[stage]!)
    }
    const loaded = becomes[state]!
    if (loaded === NO_STATE) {
      note('carried-endless', state, address)
      continue
    }
    const wasDead = state < from.expanded && from.isDeadEnd(state)
    if (loaded < to.expanded && to.isDeadEnd(loaded) && !wasDead && (state < from.expanded || from.done))
      note('carried-dead-end', state, address)
    if (endsBefore!.must(state) && !endsNow!.may(loaded)) note('carried-no-way-out', state, address)
    const { ending } = to.loadResting(loaded)
    if (ending !== -1) continue
    const open = ids.filter((id) => {
      const { index, outcomes } = now.quests[now.questOf.get(id)!]!
      const stage = to.values[to.slots.ofQuest[index]!]!
      return stage !== 0 && outcomes[stage] === undefined
    })
    for (const id of open) {
      if (after.may(id, loaded) || !before.must(id, state)) continue
      const { index, stages } = now.quests[now.questOf.get(id)!]!
      note('carried-stranded', state, id, stages[to.values[to.slots.ofQuest[index]!]!]!)
    }
  }
  return found.told((state) => routes.toState(state))
}

/** Whether the place of the loaded state is one in the new version too. */
function hasPlace(from: Search, to: Search): boolean {
  const place = from.values[from.slots.place]!
  if (place === 0) return false
  const { address } = from.story.beats[from.slots.places[place - 1]!]!
  const beat = to.story.beatOf.get(address)
  return beat !== undefined && to.slots.placeOf[beat] !== 0
}
