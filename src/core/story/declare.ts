import { beatAddress, choiceAddress } from '../base/ids'
import type { LinkedEntry, LinkedQuest, Problem } from './linked'
import type { Declared } from './scope'
import {
  isGroup,
  isInTurn,
  type Beat,
  type Choice,
  type Entry,
  type Person,
  type Scene,
  type Story,
  type Term,
} from './types'

/** All that a story names, double ids left out; nothing in a beat has been looked at yet. */
export interface DeclaredStory extends Declared {
  readonly scenes: readonly Scene[]
  readonly people: ReadonlyMap<string, Person>
  readonly cues: ReadonlyMap<string, string>
  readonly endings: readonly { readonly id: string; readonly name: string }[]
  readonly terms: readonly Term[]
  /** By scene, the beats that count, each with the choices that count. */
  readonly sceneBeats: readonly (readonly { readonly beat: Beat; readonly choices: readonly Choice[] }[])[]
}

interface Keyed {
  readonly id: string
}

/** Finds what a story declares: cheap, and enough to check an expression by. */
export function declareStory(doc: Story, problems: Problem[] = []): DeclaredStory {
  const unique = uniqueIn(problems)
  const people = new Map(unique(doc.cast, (person) => person.id).map((person) => [person.id, person]))
  const cues = new Map(unique(doc.cues, (cue) => cue.id).map((cue) => [cue.id, cue.name]))
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
  const terms = unique(doc.terms, (term) => term.id)

  const sceneBeats = scenes.map((scene) => {
    const declared = declareScene(scene)
    for (const problem of declared.problems) problems.push(problem)
    return declared.beats
  })
  let known: Places | undefined
  const places = () => (known ??= placesOf(scenes, sceneBeats))

  return {
    people,
    cues,
    scenes,
    entries,
    quests,
    endings,
    terms,
    sceneBeats,
    entryOf,
    questOf,
    endingOf,
    get beatOf() {
      return places().beatOf
    },
    get choiceOf() {
      return places().choiceOf
    },
    get turnsOf() {
      return places().turnsOf
    },
  }
}

interface DeclaredScene {
  readonly beats: DeclaredStory['sceneBeats'][number]
  readonly problems: readonly Problem[]
}

/** An edit leaves most scenes as they were. */
const declaredScenes = new WeakMap<Scene, DeclaredScene>()

function declareScene(scene: Scene): DeclaredScene {
  const known = declaredScenes.get(scene)
  if (known !== undefined) return known
  const problems: Problem[] = []
  const unique = uniqueIn(problems)
  const beats = unique(scene.beats, (beat) => beatAddress(scene.id, beat.id)).map((beat) => ({
    beat,
    choices: unique(beat.choices, (choice) => choiceAddress(scene.id, beat.id, choice.id)),
  }))
  const declared = { beats, problems }
  declaredScenes.set(scene, declared)
  return declared
}

type Places = Pick<Declared, 'beatOf' | 'choiceOf' | 'turnsOf'>

/** Where beats, choices and groups in turn stand in the order of the document. In a long story that takes a moment, and the page asks for it seldom. */
function placesOf(scenes: DeclaredStory['scenes'], sceneBeats: DeclaredStory['sceneBeats']): Places {
  const beatOf = new Map<string, number>()
  const choiceOf = new Map<string, number>()
  const turnsOf = new Map<string, number>()
  scenes.forEach(({ id }, scene) => {
    for (const { beat, choices } of sceneBeats[scene]!) {
      const address = beatAddress(id, beat.id)
      beatOf.set(address, beatOf.size)
      for (const choice of choices) choiceOf.set(`${address}.${choice.id}`, choiceOf.size)
      eachTurnGroup(beat, (suffix) => turnsOf.set(`${address}${suffix}`, turnsOf.size))
    }
  })
  return { beatOf, choiceOf, turnsOf }
}

/** The groups in turn of a beat, by what follows the beat in their addresses. */
export function eachTurnGroup(beat: Beat, hear: (suffix: string) => void): void {
  const { lines } = beat
  if (lines === undefined) return
  for (let at = 0; at < lines.length; at += 1) {
    const line = lines[at]!
    if (isInTurn(line)) hear(`#line${at + 1}`)
    else if (isGroup(line))
      line.firstOf.forEach(({ inTurn }, index) => inTurn && hear(`#line${at + 1}.variant${index + 1}`))
  }
}

function indexById(items: readonly Keyed[]): Map<string, number> {
  return new Map(items.map((item, index) => [item.id, index]))
}

/** An item's list without those whose ids stand twice; these become problems. */
export type Unique = <T extends Keyed>(
  items: readonly T[] | undefined,
  address: (item: T) => string,
  seen?: Set<string>,
) => T[]

export function uniqueIn(problems: Problem[]): Unique {
  return (items, address, seen = new Set<string>()) =>
    (items ?? []).filter((item) => {
      if (!seen.has(item.id)) {
        seen.add(item.id)
        return true
      }
      problems.push({
        address: address(item),
        part: 'id',
        message: `there is another "${item.id}" before this one; only the first counts`,
      })
      return false
    })
}

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
  const base = {
    index,
    id: entry.id,
    kind: entry.kind,
    entry,
    scene,
    positions: [],
    min: 0,
    max: 0,
    given: scene === -1 ? entry.given : undefined,
  }
  switch (entry.kind) {
    case 'flag':
      return { ...base, initial: entry.initial ?? false }
    case 'text':
      return { ...base, initial: entry.initial ?? '' }
    case 'switch': {
      const positions = [...new Set(entry.positions)]
      if (positions.length === 0) report('positions', `the switch "${entry.id}" has no positions`)
      else if (positions.length < entry.positions.length)
        report('positions', `a position of "${entry.id}" stands twice`)
      const first = positions[0] ?? ''
      const sound = entry.initial === undefined || positions.includes(entry.initial)
      if (!sound) report('initial', `"${entry.initial}" is no position of "${entry.id}"; it starts as "${first}"`)
      return { ...base, positions, initial: sound ? (entry.initial ?? first) : first }
    }
    case 'counter':
    case 'item': {
      const min = entry.kind === 'counter' ? entry.min : 0
      const max = Math.max(min, entry.max)
      if (entry.max < min)
        report('max', `the largest value of "${entry.id}", ${entry.max}, is below its smallest, ${min}`)
      const start = entry.initial ?? min
      const sound = start >= min && start <= max
      if (!sound)
        report('initial', `${start} is outside the range of "${entry.id}" (${min} to ${max}); it starts at ${min}`)
      return { ...base, min, max, initial: sound ? start : min }
    }
  }
}
