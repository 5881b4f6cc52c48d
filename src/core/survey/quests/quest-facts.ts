import type { Decision } from '../../story/types'
import type { Test } from '../compile'
import type { Share } from '../bearing'
import { NO_STATE } from '../explicit/table'
import type { MarkKind } from '../marks'
import { prospects } from '../prospects'
import type { Survey } from '../survey'
import { questSites, type QuestSite } from './quest-sites'

/** A move that some route makes, and what makes it. */
export interface QuestMove {
  readonly from: string
  readonly to: string
  /** The choices, rules, arrivals and lines whose effects make it, each with a shortest route. */
  readonly by: readonly { readonly owner: string; readonly route: readonly Decision[] }[]
}

/** What a finished survey says of one quest. */
export interface QuestFacts {
  readonly moves: readonly QuestMove[]
  /** By started stage without an outcome: whether an outcome can still be come to, in every case, in some or in none. Left out where the story never rests at it. */
  readonly finish: Readonly<Record<string, Share>>
}

/** Playing more transitions than this again takes too long while somebody waits. */
const TRANSITIONS_MAX = 500_000
const OWNERS: ReadonlySet<MarkKind> = new Set(['redirect', 'arrive', 'line', 'rule', 'onward'])

/** The moves that are really made, by replaying every transition; by quest id. */
export function questFacts(survey: Survey): Record<string, QuestFacts> | 'too many' {
  const { story, search, routes } = survey
  if (search.edges.length > TRANSITIONS_MAX) return 'too many'
  const byOwner = new Map<string, QuestSite[]>()
  for (const site of questSites(story)) {
    const list = byOwner.get(site.owner)
    if (list === undefined) byOwner.set(site.owner, [site])
    else list.push(site)
  }
  const made = story.quests.map(() => new Map<string, Map<string, { state: number; pick: number }>>())
  const { marks, slots, values } = search
  const stages = new Int32Array(story.quests.length)
  const note = (owner: string, state: number, pick: number) => {
    for (const { quest, stage } of byOwner.get(owner) ?? []) {
      const from = stages[quest]!
      stages[quest] = stage
      if (from === stage) continue
      const name = `${from} ${stage}`
      let owners = made[quest]!.get(name)
      if (owners === undefined) made[quest]!.set(name, (owners = new Map()))
      if (!owners.has(owner)) owners.set(owner, { state, pick })
    }
  }
  marks.recording((shows) => {
    const follow = (shown: readonly number[], state: number, pick: number) => {
      for (const mark of shown) {
        const { kind, key } = marks.list[mark]!
        if (OWNERS.has(kind)) note(key[0]!, state, pick)
      }
    }
    if (story.start !== -1) follow(shows(() => void search.machine.begin(story.start)), -1, -1)
    for (let state = 0; state < search.expanded; state += 1) {
      const decisions = search.decisionsIn(state)
      if (decisions.length === 0) continue
      search.loadWhole(state)
      const before = Int32Array.from(slots.ofQuest, (slot) => values[slot]!)
      decisions.forEach((decision, pick) => {
        stages.set(before)
        if ('choice' in decision) note(decision.choice, state, pick)
        follow(shows(() => search.replayPick(state, pick)), state, pick)
      })
    }
  })
  const finish = finishOf(survey)
  return Object.fromEntries(
    story.quests.map((quest): [string, QuestFacts] => [
      quest.id,
      {
        moves: [...made[quest.index]!].map(([name, owners]) => {
          const [from, to] = name.split(' ').map(Number)
          return { from: quest.stages[from!]!, to: quest.stages[to!]!, by: [...owners].map(([owner, witness]) => ({ owner, route: routes.of(witness) })) }
        }),
        finish: finish[quest.index]!,
      },
    ]),
  )
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
      if (search.settle(state).ending !== -1 || state === NO_STATE) continue
      group.forEach((quest, at) => {
        const count = counts[at]![search.values[search.slots.ofQuest[quest.index]!]!]!
        count.all += 1
        if (outlook.can(state, at)) count.can += 1
      })
    }
    group.forEach((quest, at) => {
      const shares: Record<string, Share> = {}
      quest.stages.forEach((stage, index) => {
        const { can, all } = counts[at]![index]!
        if (index > 0 && quest.outcomes[index] === undefined && all > 0) shares[stage] = can === all ? 'all' : can > 0 ? 'some' : 'none'
      })
      found.push(shares)
    })
  }
  return found
}
