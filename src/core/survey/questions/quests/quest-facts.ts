import type { Slices } from '../../../base/slices'
import type { LinkedChoice, LinkedStory, Road } from '../../../story/linked'
import type { RouteItem } from '../../../story/types'
import type { Test } from '../../interpreter/condition-compiler'
import type { Share } from '../../findings/exploration'
import type { EventKind, Witness } from '../../interpreter/events'
import { prospects } from '../../explicit/prospects'
import { ownersOf } from '../../../story/linked-parts'
import type { Survey } from '../../survey'
import { unlessTooMuch } from '../../symbolic/diagrams/node-table'
import { finishInSets, movesInSets } from '../../symbolic/set-facts'
import type { SymbolicSearch } from '../../symbolic/symbolic-search'
import { questSites, type QuestSite } from './quest-sites'

/** A move that some route makes, and what makes it. */
export interface QuestMove {
  readonly from: string
  readonly to: string
  /** The choices, rules, arrivals and lines whose effects make it, each with a shortest route. */
  readonly by: readonly { readonly owner: string; readonly route: readonly RouteItem[] }[]
}

/** What a finished survey says of one quest. */
export interface QuestFacts {
  readonly moves: readonly QuestMove[]
  /** By started stage without an outcome: whether an outcome can still be come to, in every case, in some or in none. Left out where the story never rests at it. */
  readonly finish: Readonly<Record<string, Share>>
}

/** Playing more transitions than this again takes too long while somebody waits. */
const TRANSITIONS_MAX = 500_000
const OWNERS: ReadonlySet<EventKind> = new Set(['redirect', 'arrive', 'line', 'rule', 'onward'])

/** States that are played again between two stops. */
const STRIDE = 512

/** The moves that are really made, and whether quests can still be closed; by quest id. */
export function* questFacts(survey: Survey): Slices<Record<string, QuestFacts> | 'too many'> {
  const { story, search, inSets } = survey
  const byOwner = new Map<string, QuestSite[]>()
  for (const site of questSites(story)) {
    const list = byOwner.get(site.owner)
    if (list === undefined) byOwner.set(site.owner, [site])
    else list.push(site)
  }
  if (inSets !== undefined) return (yield* unlessTooMuch(factsInSets(inSets, byOwner))) ?? 'too many'
  return search.transitions > TRANSITIONS_MAX ? 'too many' : yield* factsInStates(survey, byOwner)
}

function* factsInSets(
  search: SymbolicSearch,
  byOwner: ReadonlyMap<string, readonly QuestSite[]>,
): Slices<Record<string, QuestFacts>> {
  const { quests } = search.story
  const made = quests.map(() => new Map<string, QuestMove & { readonly by: QuestMove['by'][number][] }>())
  for (const { quest, from, to, owner, route } of yield* movesInSets(search, byOwner)) {
    const { stages } = quests[quest]!
    const name = `${from} ${to}`
    const move = made[quest]!.get(name) ?? { from: stages[from]!, to: stages[to]!, by: [] }
    made[quest]!.set(name, move)
    move.by.push({ owner, route: route() })
    yield
  }
  const facts: Record<string, QuestFacts> = {}
  for (const { index, id, stages, outcomes } of quests) {
    const shares = yield* finishInSets(search, index)
    const finish: Record<string, Share> = {}
    for (const [stage, share] of shares) if (stage > 0 && outcomes[stage] === undefined) finish[stages[stage]!] = share
    facts[id] = { moves: [...made[index]!.values()], finish }
  }
  return facts
}

/** By replaying every transition. */
function* factsInStates(
  survey: Survey,
  byOwner: ReadonlyMap<string, readonly QuestSite[]>,
): Slices<Record<string, QuestFacts>> {
  const { story, search, routes } = survey
  const made = story.quests.map(() => new Map<string, Map<string, Witness>>())
  const { events, slots, values } = search
  const stages = new Int32Array(story.quests.length)
  const note = (owner: string, witness: Witness) => {
    for (const { quest, stage } of byOwner.get(owner) ?? []) {
      const from = stages[quest]!
      stages[quest] = stage
      if (from === stage) continue
      const name = `${from} ${stage}`
      let owners = made[quest]!.get(name)
      if (owners === undefined) made[quest]!.set(name, (owners = new Map()))
      if (!owners.has(owner)) owners.set(owner, witness)
    }
  }
  const follow = (shown: readonly number[], witness: Witness) => {
    for (const event of shown) {
      const { kind, key } = events.at(event)
      if (OWNERS.has(kind)) note(key[0]!, witness)
    }
  }
  events.recording((_, shown) =>
    search.eachBeginning(
      () => {
        events.forgetShown()
        stages.fill(0)
      },
      () => follow(shown, { state: -1, pick: -1, given: search.givens.chosen() }),
    ),
  )
  const touches = touching(story, byOwner, search.givens.canChange)
  const followFrom = (from: number, to: number) =>
    events.recording((shows) => {
      for (let state = from; state < to; state += 1) {
        // most beats have nothing to do with quests
        if (!touches.from(search.beatOf(state))) continue
        const decisions = search.decisionsIn(state)
        if (decisions.length === 0) continue
        search.load(state)
        const before = Int32Array.from(slots.ofQuest, (slot) => values[slot]!)
        decisions.forEach((decision, pick) => {
          if ('choice' in decision && !touches.by(story.choices[story.choiceOf.get(decision.choice)!]!)) return
          stages.set(before)
          if ('choice' in decision) note(decision.choice, { state, pick })
          follow(
            shows(() => search.replayPick(state, pick)),
            { state, pick },
          )
        })
      }
    })
  for (let from = 0; from < search.expanded; from += STRIDE) {
    followFrom(from, Math.min(from + STRIDE, search.expanded))
    yield
  }
  const finish = finishOf(survey)
  return Object.fromEntries(
    story.quests.map((quest): [string, QuestFacts] => [
      quest.id,
      {
        moves: [...made[quest.index]!].map(([name, owners]) => {
          const [from, to] = name.split(' ').map(Number)
          return {
            from: quest.stages[from!]!,
            to: quest.stages[to!]!,
            by: [...owners].map(([owner, witness]) => ({ owner, route: routes.of(witness) })),
          }
        }),
        finish: finish[quest.index]!,
      },
    ]),
  )
}

/** Which decisions can set a stage at all: their own effects, or those of what the story goes through by itself afterwards. */
function touching(
  story: LinkedStory,
  owners: ReadonlyMap<string, unknown>,
  /** Whether the story may go on as something given changes. */
  canChange: boolean,
): { by(choice: LinkedChoice): boolean; from(beat: number): boolean } {
  const { beats, inOrder } = story
  const own = Array.from(beats, (beat) =>
    ownersOf(beat).some(
      ({ address }) =>
        owners.has(address) &&
        !beat.choices.some((choice) => address === choice.address || address.startsWith(`${choice.address}#`)),
    ),
  )
  const places = inOrder.filter(({ place }) => place).map(({ index }) => index)
  const after = ({ to }: { readonly to: Road }): readonly number[] =>
    to.kind === 'beat' ? [to.beat] : to.kind === 'return' ? places : []
  for (let grown = true; grown;) {
    grown = false
    for (const { index, redirects, onward } of inOrder) {
      if (own[index] || ![...redirects, ...onward].some((rule) => after(rule).some((beat) => own[beat]))) continue
      own[index] = true
      grown = true
    }
  }
  const known = new Map<number, boolean>()
  const by = (choice: LinkedChoice): boolean => {
    let touches = known.get(choice.index)
    if (touches === undefined) {
      const roads = choice.to.kind === 'road' ? [{ address: '', to: choice.to.road }] : choice.to.rules
      touches =
        owners.has(choice.address) ||
        roads.some((rule) => owners.has(rule.address) || after(rule).some((beat) => own[beat]))
      known.set(choice.index, touches)
    }
    return touches
  }
  // a typed word, or a change of what is given, goes on by the beat's own roads
  const some = Array.from(
    beats,
    (beat) => beat.choices.some(by) || ((beat.ask !== undefined || canChange) && own[beat.index]!),
  )
  return { by, from: (beat) => some[beat]! }
}

const GROUP = 32

function finishOf({ story, search }: Survey): Record<string, Share>[] {
  const found: Record<string, Share>[] = []
  for (let from = 0; from < story.quests.length; from += GROUP) {
    const group = story.quests.slice(from, from + GROUP)
    const tests = group.map((quest): Test => {
      const slot = search.slots.ofQuest[quest.index]!
      return () => quest.outcomes[search.values[slot]!] !== undefined
    })
    const outlook = prospects(search, tests)
    const counts = group.map((quest) => quest.stages.map(() => ({ can: 0, all: 0 })))
    for (let state = 0; state < search.expanded; state += 1) {
      if (search.loadResting(state).ending !== -1) continue
      group.forEach((quest, at) => {
        const count = counts[at]![search.values[search.slots.ofQuest[quest.index]!]!]!
        count.all += 1
        if (outlook.must(state, at)) count.can += 1
      })
    }
    group.forEach((quest, at) => {
      const shares: Record<string, Share> = {}
      quest.stages.forEach((stage, index) => {
        const { can, all } = counts[at]![index]!
        if (index > 0 && quest.outcomes[index] === undefined && all > 0)
          shares[stage] = can === all ? 'all' : can > 0 ? 'some' : 'none'
      })
      found.push(shares)
    })
  }
  return found
}
