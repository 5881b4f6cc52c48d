import { beatAddress } from '../base/ids'
import { checkCondition, type Scope } from '../expression/check'
import type { Entry, Scene, Story } from './types'
import type { LinkedEntry, LinkedPromise, LinkedQuest, LinkedStory, Problem, Use } from './linked'
import { linkBeat, type BeatContext } from './link-beat'
import { cachedExpression, noteUses } from './link-parts'
import { scopeOf, type Declared } from './scope'

interface Keyed {
  readonly id: string
}

/** Resolves a story's names. Never fails: what can't be understood becomes a problem. */
export function linkStory(doc: Story): LinkedStory {
  const problems: Problem[] = []
  const uses: Use[] = []
  const unique = <T extends Keyed>(items: readonly T[] | undefined, address: (item: T) => string, seen = new Set<string>()): T[] =>
    (items ?? []).filter((item) => {
      if (!seen.has(item.id)) {
        seen.add(item.id)
        return true
      }
      problems.push({ address: address(item), part: 'id', message: `there is another "${item.id}" before this one; only the first counts` })
      return false
    })

  const people = new Map(unique(doc.cast, (person) => person.id).map((person) => [person.id, person.name]))
  const scenes = unique(doc.scenes, (scene) => scene.id)
  const entries = linkEntries(doc, scenes, unique, problems)
  const entryOf = indexById(entries)
  const quests = unique(doc.quests, (quest) => quest.id).map((quest, index): LinkedQuest => {
    const stages = unique(quest.stages, (stage) => `${quest.id}.${stage.id}`)
    const ids = ['unstarted', ...stages.map((stage) => stage.id)]
    quest.moves?.forEach(([from, to], at) => {
      const missing = [from, to].find((stage) => !ids.includes(stage))
      if (missing === undefined) return
      problems.push({ address: quest.id, part: `moves${at + 1}`, message: `"${missing}" is no stage of "${quest.id}"` })
    })
    return {
      index,
      id: quest.id,
      name: quest.name,
      stages: ids,
      names: ['unstarted', ...stages.map((stage) => stage.name)],
      outcomes: [undefined, ...stages.map((stage) => stage.outcome)],
      moves: quest.moves && new Set(quest.moves.map(([from, to]) => `${from}>${to}`)),
    }
  })
  const questOf = indexById(quests)
  const endings = unique(doc.endings, (ending) => ending.id)
  const endingOf = indexById(endings)

  const sceneBeats = scenes.map((scene) => unique(scene.beats, (beat) => `${scene.id}.${beat.id}`))
  const beatOf = new Map<string, number>()
  const choiceOf = new Map<string, number>()
  const choices = scenes.map((scene, s) =>
    sceneBeats[s]!.map((beat) => {
      const address = beatAddress(scene.id, beat.id)
      beatOf.set(address, beatOf.size)
      return unique(beat.choices, (choice) => `${address}.${choice.id}`).map((choice) => {
        choiceOf.set(`${address}.${choice.id}`, choiceOf.size)
        return choice
      })
    }),
  )

  const declared: Declared = { entries, quests, scenes, entryOf, questOf, endingOf, beatOf, choiceOf }
  const beats = scenes.flatMap((scene, s) => {
    const context: BeatContext = { scene: s, scope: scopeOf(declared, s), people, entryOf, endingOf, beatOf, choiceOf, problems, uses }
    return sceneBeats[s]!.map((beat, b) => linkBeat(scene.id, beat, choices[s]![b]!, context))
  })

  const start = beatOf.get(doc.start) ?? -1
  if (start === -1) {
    const message = doc.start === '' ? 'the story has no first beat yet' : `the first beat, "${doc.start}", does not exist`
    problems.push({ address: 'story', part: 'start', message })
  }
  const promises = linkPromises(unique(doc.promises, (promise) => promise.id), scopeOf(declared, -1, true), problems, uses)
  const routes = unique(doc.routes, (route) => route.id)
  return {
    doc, entries, quests, scenes, endings, beats, choices: beats.flatMap((beat) => beat.choices), promises, routes, people,
    entryOf, questOf, endingOf, beatOf, choiceOf, start, problems, uses,
  }
}

function indexById(items: readonly Keyed[]): Map<string, number> {
  return new Map(items.map((item, index) => [item.id, index]))
}

type Unique = <T extends Keyed>(items: readonly T[] | undefined, address: (item: T) => string, seen?: Set<string>) => T[]

/** Entry ids are unique in the whole story, so the scenes' own share one set with the story's. */
function linkEntries(doc: Story, scenes: readonly Scene[], unique: Unique, problems: Problem[]): LinkedEntry[] {
  const seen = new Set<string>()
  const owned: [Entry, number][] = unique(doc.ledger, (entry) => entry.id, seen).map((entry) => [entry, -1])
  scenes.forEach((scene, s) => {
    for (const entry of unique(scene.ledger, (item) => item.id, seen)) owned.push([entry, s])
  })
  return owned.map(([entry, scene], index) => linkEntry(entry, scene, index, problems))
}

function linkEntry(entry: Entry, scene: number, index: number, problems: Problem[]): LinkedEntry {
  const report = (part: string, message: string) => problems.push({ address: entry.id, part, message })
  const base = { index, id: entry.id, kind: entry.kind, entry, scene, positions: [], min: 0, max: 0 }
  switch (entry.kind) {
    case 'flag':
      return { ...base, initial: entry.initial ?? false }
    case 'text':
      return { ...base, initial: entry.initial ?? '' }
    case 'switch': {
      const positions = [...new Set(entry.positions)]
      if (positions.length === 0) report('positions', `the switch "${entry.id}" has no positions`)
      else if (positions.length < entry.positions.length) report('positions', `a position of "${entry.id}" stands twice`)
      const first = positions[0] ?? ''
      const sound = entry.initial === undefined || positions.includes(entry.initial)
      if (!sound) report('initial', `"${entry.initial}" is no position of "${entry.id}"; it starts as "${first}"`)
      return { ...base, positions, initial: sound ? (entry.initial ?? first) : first }
    }
    case 'counter':
    case 'item': {
      const min = entry.kind === 'counter' ? entry.min : 0
      const max = Math.max(min, entry.max)
      if (entry.max < min) report('max', `the largest value of "${entry.id}", ${entry.max}, is below its smallest, ${min}`)
      const start = entry.initial ?? min
      const sound = start >= min && start <= max
      if (!sound) report('initial', `${start} is outside the range of "${entry.id}" (${min} to ${max}); it starts at ${min}`)
      return { ...base, min, max, initial: sound ? start : min }
    }
  }
}

function linkPromises(promises: NonNullable<Story['promises']>, scope: Scope, problems: Problem[], uses: Use[]): LinkedPromise[] {
  const linked: LinkedPromise[] = []
  for (const promise of promises) {
    const parts = { ...promise } as unknown as Record<string, unknown>
    const exprs: Record<string, LinkedPromise['holds']> = {}
    let sound = true
    for (const part of ['holds', 'while', 'first', 'then']) {
      const source = parts[part]
      const written = promise.kind === 'inOrder' ? part === 'first' || part === 'then' : part === 'holds' || (part === 'while' && promise.kind === 'stillPossible')
      if (!written || typeof source !== 'string') continue
      const parsed = cachedExpression(source)
      const errors = parsed.ok ? checkCondition(parsed.value, scope) : [parsed.error]
      if (errors.length > 0 || !parsed.ok) {
        const { message, start, end } = errors[0]!
        problems.push({ address: promise.id, part, message, span: { start, end } })
        sound = false
        continue
      }
      exprs[part] = parsed.value
      noteUses(parsed.value, promise.id, part, uses)
    }
    if (sound) linked.push({ id: promise.id, promise, holds: exprs.holds, while: exprs.while, first: exprs.first, then: exprs.then })
  }
  return linked
}
