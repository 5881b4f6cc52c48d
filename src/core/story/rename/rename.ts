import { never } from '../../base/assert'
import { idTrouble } from '../../base/ids'
import { fail, ok, type Result } from '../../base/result'
import type { Expr } from '../../expression/ast'
import type { Change, Item, ListPath } from '../changes/types'
import type { Entry, Quest, Story } from '../types'
import { mapped, patch, Rewriter, type Mapping } from './rewrite'
import { mapTextNames } from './text-names'

/** What can be renamed: everything that something else names. */
export type Named =
  | { readonly of: 'beat'; readonly scene: string; readonly id: string }
  | { readonly of: 'choice'; readonly scene: string; readonly beat: string; readonly id: string }
  | { readonly of: 'scene' | 'entry' | 'quest' | 'ending' | 'person' | 'cue'; readonly id: string }
  | { readonly of: 'stage'; readonly quest: string; readonly id: string }
  | { readonly of: 'position'; readonly entry: string; readonly id: string }

export interface Renaming {
  readonly change: Change
  /** Gates, effects, texts, roads and routes that name it. */
  readonly mentions: number
}

/** One change that gives a thing another id and rewrites everything that names it. */
export function rename(story: Story, named: Named, to: string): Result<Renaming> {
  // positions are values, not names: they may be any words
  const trouble = named.of === 'position' ? (to.trim() === '' ? 'a position needs a name' : undefined) : idTrouble(to)
  if (trouble !== undefined) return fail(trouble)
  if (to !== named.id && isTaken(story, named, to)) return fail(`the name "${to}" is taken by another ${named.of}`)
  const rewriter = new Rewriter(mappingOf(named, to))
  const changes = rewriter.changes(story, (scene, beat) => {
    if (named.of === 'beat' && named.scene === scene && named.id === beat.id) return { ...beat, id: to }
    if (named.of !== 'choice' || named.scene !== scene || named.beat !== beat.id) return beat
    return patch(beat, {
      choices:
        beat.choices && mapped(beat.choices, (choice) => (choice.id === named.id ? { ...choice, id: to } : choice)),
    })
  })
  return ok({
    mentions: rewriter.count,
    change: { op: 'batch', changes: [...changes, ...ownChanges(story, named, to, rewriter)] },
  })
}

/** How many gates, effects, texts, roads and routes name a thing. */
export function mentionsOf(story: Story, named: Named): number {
  const rewriter = new Rewriter(mappingOf(named, `${named.id}_`))
  rewriter.changes(story)
  return rewriter.count
}

function isTaken(story: Story, named: Named, id: string): boolean {
  const has = (list: readonly { readonly id: string }[] | undefined) => list?.some((one) => one.id === id) ?? false
  switch (named.of) {
    case 'beat':
      return has(story.scenes.find((scene) => scene.id === named.scene)?.beats)
    case 'choice':
      return has(
        story.scenes.find((scene) => scene.id === named.scene)?.beats.find((beat) => beat.id === named.beat)?.choices,
      )
    case 'scene':
      return has(story.scenes)
    case 'entry':
      return has(story.ledger) || story.scenes.some((scene) => has(scene.ledger))
    case 'quest':
      return has(story.quests)
    case 'ending':
      return has(story.endings)
    case 'person':
      return has(story.cast)
    case 'cue':
      return has(story.cues)
    case 'stage':
      return has(story.quests?.find((quest) => quest.id === named.quest)?.stages)
    case 'position': {
      const entry = story.ledger?.find(({ id: other }) => other === named.entry)
      return entry?.kind === 'switch' && entry.positions.includes(id)
    }
    default:
      return never(named)
  }
}

function mappingOf(named: Named, to: string): Mapping {
  switch (named.of) {
    case 'beat':
      return { address: prefixed(`${named.scene}.${named.id}`, `${named.scene}.${to}`) }
    case 'choice':
      return { address: prefixed(`${named.scene}.${named.beat}.${named.id}`, `${named.scene}.${named.beat}.${to}`) }
    case 'scene':
      return {
        address: (address) => (address.startsWith(`${named.id}.`) ? to + address.slice(named.id.length) : address),
      }
    case 'person': {
      const person = exactly(named.id, to)
      return {
        person,
        text: (source) => mapTextNames(source, exactly(`person_${named.id}`, `person_${to}`), (_, key) => key),
      }
    }
    case 'cue':
      return { cue: exactly(named.id, to) }
    case 'ending':
      return { ending: exactly(named.id, to) }
    case 'entry':
      return entryMapping(named.id, to)
    case 'quest': {
      const quest = exactly(named.id, to)
      return {
        quest,
        expr: (part) => (part.kind === 'quest' ? patch(part, { id: quest(part.id) }) : part),
        effect: (effect) => (effect.kind === 'stage' ? patch(effect, { quest: quest(effect.quest) }) : effect),
        text: (source) => mapTextNames(source, exactly(`quest_${named.id}`, `quest_${to}`), (_, key) => key),
      }
    }
    case 'stage':
      return valueMapping('quest', named.quest, named.id, to)
    case 'position':
      return valueMapping('entry', named.entry, named.id, to)
    default:
      return never(named)
  }
}

/** All that names one entry names another. */
export function entryMapping(from: string, to: string): Mapping {
  const entry = exactly(from, to)
  return {
    entry,
    expr: (part) => (part.kind === 'entry' ? patch(part, { id: entry(part.id) }) : part),
    effect: (effect) => (effect.kind === 'stage' ? effect : patch(effect, { entry: entry(effect.entry) })),
    text: (source) => mapTextNames(source, entry, (_, key) => key),
  }
}

/** Where a stage or position stands as a value of its quest or switch. */
function valueMapping(of: 'entry' | 'quest', owner: string, from: string, to: string): Mapping {
  const value = exactly(from, to)
  const isOwner = (expr: Expr) => expr.kind === of && expr.id === owner
  const literal = (expr: Expr) => (expr.kind === 'string' ? patch(expr, { value: value(expr.value) }) : expr)
  const argument = of === 'quest' ? `quest_${owner}` : owner
  return {
    expr: (part) => {
      if (part.kind === 'compare' && isOwner(part.left)) return patch(part, { right: literal(part.right) })
      if (part.kind === 'compare' && isOwner(part.right)) return patch(part, { left: literal(part.left) })
      if (part.kind === 'in' && isOwner(part.left)) return patch(part, { items: mapped(part.items, literal) })
      if (part.kind === 'order' && isOwner(part.subject)) return patch(part, { position: value(part.position) })
      return part
    },
    effect: (effect) => {
      const target = effect.kind === 'stage' ? ['quest', effect.quest] : ['entry', effect.entry]
      return target[0] === of && target[1] === owner ? patch(effect, { value: literal(effect.value) }) : effect
    },
    text: (source) =>
      mapTextNames(
        source,
        (name) => name,
        (name, key) => (name === argument ? value(key) : key),
      ),
    held: (kind, id, held) => (kind === of && id === owner && typeof held === 'string' ? value(held) : held),
  }
}

/** `own` rewrites what a quest or a person names, under its new name. */
function ownChanges(story: Story, named: Named, to: string, own: Rewriter): Change[] {
  const journaled = (quest: Quest) => own.quest(quest)
  const replaced = <T extends Item>(
    path: ListPath,
    items: readonly T[] | undefined,
    id: string,
    change: (item: T) => T,
  ): Change[] => {
    const at = items?.findIndex((item) => item.id === id) ?? -1
    return at === -1 ? [] : [{ op: 'replace', in: path, id, at, item: change(items![at]!) }]
  }
  const withId = <T extends Item>(item: T): T => ({ ...item, id: to })
  switch (named.of) {
    case 'beat':
    case 'choice':
      return []
    case 'scene':
      return [{ op: 'set-scene', scene: named.id, values: { id: to } }]
    case 'person':
      return replaced({ list: 'cast' }, story.cast, named.id, (person) => withId(own.person(person)))
    case 'cue':
      return replaced({ list: 'cues' }, story.cues, named.id, withId)
    case 'ending':
      return replaced({ list: 'endings' }, story.endings, named.id, withId)
    case 'entry':
      return entryChanges(story, named.id, withId)
    case 'quest':
      return replaced({ list: 'quests' }, story.quests, named.id, (quest) => withId(journaled(quest)))
    case 'stage':
      return replaced({ list: 'quests' }, story.quests, named.quest, (quest) => ({
        ...quest,
        stages: journaled(quest).stages.map((stage) => (stage.id === named.id ? { ...stage, id: to } : stage)),
        ...(quest.moves === undefined
          ? {}
          : {
              moves: quest.moves.map(
                ([from, next]) => [exactly(named.id, to)(from), exactly(named.id, to)(next)] as [string, string],
              ),
            }),
      }))
    case 'position':
      return entryChanges(story, named.entry, (entry) => {
        if (entry.kind !== 'switch') return entry
        const position = exactly(named.id, to)
        const meanings =
          entry.meanings &&
          Object.fromEntries(Object.entries(entry.meanings).map(([key, meaning]) => [position(key), meaning]))
        return {
          ...entry,
          positions: entry.positions.map(position),
          ...(entry.initial === undefined ? {} : { initial: position(entry.initial) }),
          ...(meanings === undefined ? {} : { meanings }),
        }
      })
    default:
      return never(named)
  }
}

/** An entry stands in the story's ledger or in a scene's own. */
export function entryChanges(story: Story, id: string, change: (entry: Entry) => Entry): Change[] {
  const lists: [ListPath, readonly Entry[] | undefined][] = [[{ list: 'ledger' }, story.ledger]]
  for (const scene of story.scenes) lists.push([{ list: 'sceneLedger', scene: scene.id }, scene.ledger])
  for (const [path, entries] of lists) {
    const at = entries?.findIndex((entry) => entry.id === id) ?? -1
    if (at !== -1) return [{ op: 'replace', in: path, id, at, item: change(entries![at]!) }]
  }
  return []
}

function exactly(from: string, to: string): (name: string) => string {
  return (name) => (name === from ? to : name)
}

function prefixed(from: string, to: string): (address: string) => string {
  return (address) =>
    address === from ? to : address.startsWith(`${from}.`) ? to + address.slice(from.length) : address
}
