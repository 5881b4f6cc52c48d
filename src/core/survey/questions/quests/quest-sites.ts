import { walk, type Expr } from '../../../expression/ast'
import type { LinkedStory, Road } from '../../../story/linked'
import { ownersOf, choicesOf } from '../../../story/linked-parts'

/** An owner with an effect that sets a stage. */
export interface QuestSite {
  /** The choice, rule, arrival or line. */
  readonly owner: string
  readonly quest: number
  /** Position among the quest's stages; 0 for unstarted. */
  readonly stage: number
  readonly beat: number
}

/** A stage that a gate asks for before another quest is moved on. */
export interface QuestLink {
  readonly from: string
  /** Stages of `from` that the gate names. */
  readonly stages: readonly string[]
  readonly to: string
  /** The stage of `to` that is set where the gate holds. */
  readonly sets: string
  readonly owner: string
}

/** Two quests of which some effects end one and fail the other. */
export interface Rivals {
  readonly quests: readonly [string, string]
  readonly owners: readonly string[]
}

const sites = new WeakMap<LinkedStory, readonly QuestSite[]>()

/** Every effect that sets a stage, in document order. */
export function questSites(story: LinkedStory): readonly QuestSite[] {
  let list = sites.get(story)
  if (list === undefined) {
    list = story.inOrder.flatMap((beat) =>
      ownersOf(beat).flatMap(({ address, effects }) =>
        effects.flatMap(({ effect }): QuestSite[] => {
          if (effect.kind !== 'stage' || effect.value.kind !== 'string') return []
          const quest = story.questOf.get(effect.quest)!
          return [
            { owner: address, quest, stage: story.quests[quest]!.stages.indexOf(effect.value.value), beat: beat.index },
          ]
        }),
      ),
    )
    sites.set(story, list)
  }
  return list
}

/**
 * Which stage of one quest opens a move of another: read off the gates of the effects' owners, and of the choices that
 * lead to the beat in which they stand, encounters among them.
 */
export function questLinks(story: LinkedStory): QuestLink[] {
  const links: QuestLink[] = []
  const ways = gatedWays(story)
  for (const beat of story.inOrder) {
    const gates = new Map(ownersOf(beat).map(({ address, when }) => [address, when?.expr]))
    const link = (owner: string, quest: string, sets: string, expr: Expr) => {
      for (const [from, stages] of stagesNamed(expr))
        if (from !== quest) links.push({ from, stages, to: quest, sets, owner })
    }
    for (const { address, effects } of ownersOf(beat)) {
      // a road of a choice stands behind the choice's gate too, a line of a variant behind the variant's
      const asked = [gates.get(address), gates.get(address.replace(/(#\d+|\.line\d+)$/, ''))].filter(
        (expr, at, all) => expr !== undefined && all.indexOf(expr) === at,
      )
      for (const { effect } of effects) {
        if (effect.kind !== 'stage' || effect.value.kind !== 'string') continue
        for (const expr of asked) link(address, effect.quest, effect.value.value, expr!)
        for (const way of ways.get(beat.index) ?? [])
          if (way.owner !== address) link(way.owner, effect.quest, effect.value.value, way.expr)
      }
    }
  }
  // two effects behind one gate are one link
  return [...new Map(links.map((link) => [JSON.stringify(link), link])).values()]
}

/** By beat: the gates of choices, and of their roads, that lead to it. */
function gatedWays(
  story: LinkedStory,
): ReadonlyMap<number, readonly { readonly owner: string; readonly expr: Expr }[]> {
  const ways = new Map<number, { owner: string; expr: Expr }[]>()
  const note = (from: number, road: Road, owner: string, expr: Expr | undefined) => {
    // what leads back to where one is opens nothing
    if (expr === undefined || road.kind !== 'beat' || road.beat === from) return
    const known = ways.get(road.beat)
    if (known === undefined) ways.set(road.beat, [{ owner, expr }])
    else known.push({ owner, expr })
  }
  for (const { address, beat, when, to } of choicesOf(story)) {
    if (to.kind === 'road') note(beat, to.road, address, when?.expr)
    else
      for (const rule of to.rules) {
        note(beat, rule.to, address, when?.expr)
        note(beat, rule.to, rule.address, rule.when?.expr)
      }
  }
  return ways
}

function stagesNamed(expr: Expr): Map<string, string[]> {
  const found = new Map<string, string[]>()
  const note = (quest: string, stage: string | undefined) => {
    const list = found.get(quest) ?? []
    if (stage !== undefined && !list.includes(stage)) list.push(stage)
    found.set(quest, list)
  }
  walk(expr, (part) => {
    if (part.kind === 'quest') note(part.id, undefined)
    if (part.kind !== 'compare') return
    const [quest, text] = part.left.kind === 'quest' ? [part.left, part.right] : [part.right, part.left]
    if (quest.kind === 'quest' && text.kind === 'string') note(quest.id, text.value)
  })
  return found
}

/** Quests of which progress in one fails the other, by the same owner's effects. */
export function rivalsOf(story: LinkedStory): Rivals[] {
  const pairs = new Map<string, string[]>()
  const byOwner = new Map<string, QuestSite[]>()
  for (const site of questSites(story)) byOwner.set(site.owner, [...(byOwner.get(site.owner) ?? []), site])
  for (const [owner, list] of byOwner) {
    for (const gains of list) {
      if (gains.stage === 0 || story.quests[gains.quest]!.outcomes[gains.stage] === 'failure') continue
      for (const fails of list) {
        if (fails.quest === gains.quest || story.quests[fails.quest]!.outcomes[fails.stage] !== 'failure') continue
        const pair = [gains.quest, fails.quest]
          .sort((a, b) => a - b)
          .map((quest) => story.quests[quest]!.id)
          .join(' ')
        const owners = pairs.get(pair) ?? []
        if (!owners.includes(owner)) owners.push(owner)
        pairs.set(pair, owners)
      }
    }
  }
  return [...pairs].map(([pair, owners]) => ({ quests: pair.split(' ') as [string, string], owners }))
}
