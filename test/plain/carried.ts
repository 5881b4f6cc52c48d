import type { LinkedStory } from '../../src/core/story/linked'
import type { CarriedFinding } from '../../src/core/survey/carry/carried'
import { decisionsIn } from '../../src/core/story/types'
import { PlainChecker, type State } from './checker'
import { plainDocument } from './document'

/**
 * What becomes of saves, as plain as can be: every concrete state of the old story is written down as a save, loaded
 * into the new one rule by rule, and everything that can come of that is gone through.
 */
export function plainCarried(old: LinkedStory, now: LinkedStory, limit: number): ReadonlySet<string> | undefined {
  const words = [old, now].flatMap(({ doc }) => [...plainDocument(doc).words])
  const [before, after] = [new PlainChecker(old, limit, words), new PlainChecker(now, limit * 4, words)]
  if (!before.explore(before.starts().values())) return undefined
  const loaded = new Map<string, State | 'endless' | 'nowhere'>()
  for (const [name, { state }] of before.nodes) loaded.set(name, load(old, after, state))
  const starts = [...loaded.values()].filter((one) => typeof one !== 'string')
  if (!after.explore(starts)) return undefined
  const ends = ({ mode }: State) => mode === 'ended'
  const [endsBefore, endsAfter] = [before.canReach(ends), after.canReach(ends)]
  const settled = (story: LinkedStory, id: string) => (state: State) => {
    const quest = story.quests.find((one) => one.id === id)
    return quest !== undefined && quest.outcomes[quest.stages.indexOf(state.stages[id]!)] !== undefined
  }
  const shortest = new Map<string, number>()
  for (const [name, { state, depth, isDead }] of before.nodes) {
    const note = (finding: string) => shortest.set(finding, Math.min(depth, shortest.get(finding) ?? Infinity))
    const { address } = old.beats[state.at]!
    if (!now.beatOf.has(address)) note(`carried-moved note ${address}`)
    const result = loaded.get(name)!
    if (result === 'nowhere') continue
    for (const [quest, stage] of Object.entries(state.stages)) {
      const kept = now.quests.find(({ id }) => id === quest)?.stages.includes(stage) === true
      if (stage !== 'unstarted' && !kept) note(`carried-stage-lost warning ${quest} | ${stage}`)
    }
    if (result === 'endless') {
      note(`carried-endless error ${address}`)
      continue
    }
    const key = JSON.stringify(result)
    if (after.nodes.get(key)!.isDead && !isDead) note(`carried-dead-end error ${address}`)
    if (endsBefore.has(name) && !endsAfter.has(key)) note(`carried-no-way-out error ${address}`)
    if (result.mode === 'ended') continue
    for (const quest of now.quests) {
      const stage = result.stages[quest.id]!
      if (stage === 'unstarted' || quest.outcomes.every((one) => one === undefined)) continue
      if (settled(now, quest.id)(result)) continue
      if (after.canReach(settled(now, quest.id)).has(key)) continue
      if (before.canReach(settled(old, quest.id)).has(name)) note(`carried-stranded warning ${quest.id} | ${stage}`)
    }
  }
  return new Set([...shortest].map(([finding, depth]) => `${finding} in ${depth}`))
}

/** The same lines of what the program says. */
export function carriedItems(findings: readonly CarriedFinding[]): Set<string> {
  return new Set(
    findings.map(({ kind, level, key, route }) => `${kind} ${level} ${key.join(' | ')} in ${decisionsIn(route)}`),
  )
}

function load(old: LinkedStory, after: PlainChecker, save: State): State | 'endless' | 'nowhere' {
  const { story } = after
  const { address } = old.beats[save.at]!
  const [scene] = address.split('.')
  const state: State = { at: -1, mode: 'stuck', ledger: {}, stages: {}, visits: {}, taken: {}, turns: {}, place: -1 }
  for (const entry of story.entries) {
    const { id, kind } = entry
    const was = old.entries.find((one) => one.id === id)
    const own = (of: LinkedStory, index: number) => (index === -1 ? scene : of.scenes[index]!.id)
    let value = was === undefined || own(old, was.scene) !== scene ? undefined : save.ledger[id]
    if (own(story, entry.scene) !== scene) value = undefined
    const fits =
      kind === 'flag'
        ? typeof value === 'boolean'
        : kind === 'switch'
          ? entry.positions.includes(value as string)
          : kind === 'text'
            ? typeof value === 'string' && (entry.given === undefined || value === value.trim())
            : Number.isInteger(value)
    if (!fits) value = entry.initial
    if (typeof value === 'number') value = Math.max(entry.min, Math.min(entry.max, value))
    state.ledger[id] = value!
  }
  for (const { id, stages } of story.quests)
    state.stages[id] = stages.includes(save.stages[id] ?? '') ? save.stages[id]! : 'unstarted'
  for (const beat of story.inOrder) state.visits[beat.address] = save.visits[beat.address] ?? 0
  for (const choice of story.inOrder.flatMap(({ choices }) => choices))
    if (save.taken[choice.address]) state.taken[choice.address] = true
  for (const group of story.turnGroups) state.turns[group.address] = save.turns[group.address] ?? 0
  const place = story.inOrder.find((beat) => beat.place && beat.address === old.beats[save.place]?.address)
  if (place !== undefined) state.place = place.index
  const beat = story.inOrder.find((one) => one.address === address)
  if (beat === undefined) {
    const target = place?.index ?? story.start
    if (target === -1) return 'nowhere'
    state.at = story.inOrder.find((one) => story.scenes[one.scene]!.id === scene)?.index ?? -1
    return after.goTo(state, target)
  }
  state.at = beat.index
  if (beat.ending !== -1) return { ...state, mode: 'ended' }
  if (beat.ask !== undefined) return { ...state, mode: 'word' }
  if (beat.choices.some((choice) => after.isOpen(state, choice))) return { ...state, mode: 'choice' }
  const next = after.onward(state, beat)
  return next === undefined ? state : after.goTo(state, next)
}
