import type { Change } from '../changes/types'
import { parseText } from '../text'
import type { Beat, Story } from '../types'
import { patch, Rewriter } from './rewrite'
import { mapTextWords } from './text-names'

export interface TextQuery {
  readonly find: string
  readonly replacement: string
  readonly matchCase: boolean
  readonly wholeWord: boolean
  /** Only in this scene. */
  readonly scene?: string | undefined
}

/** A text in which something is found. */
export interface TextPlace {
  readonly key: string
  /** Where it is read: a beat's address, or nothing for a name. */
  readonly beat: string | undefined
  /** What it is the text of. */
  readonly of: string
  readonly before: string
  readonly after: string
  /** The replacement would spoil the text's forms. */
  readonly breaks: boolean
}

/** Every text of the story in which something is found, as it is and as it would be. */
export function findTexts(story: Story, query: TextQuery): TextPlace[] {
  const found: TextPlace[] = []
  change(story, query, (place) => {
    found.push(place)
    return false
  })
  return found
}

/** One change that replaces in the chosen texts; undefined where there is none. */
export function replaceTexts(story: Story, query: TextQuery, chosen: ReadonlySet<string>): Change | undefined {
  const changes = change(story, query, ({ key }) => chosen.has(key))
  return changes.length === 0 ? undefined : { op: 'batch', changes }
}

function change(story: Story, query: TextQuery, take: (place: TextPlace) => boolean): Change[] {
  const pattern = patternOf(query)
  if (pattern === undefined) return []
  const changes: Change[] = []
  const look = (key: string, of: string, beat: string | undefined, before: string, isText: boolean): string => {
    let found = false
    const replaced = (words: string) =>
      words.replace(pattern, () => {
        found = true
        return query.replacement
      })
    const after = isText ? mapTextWords(before, replaced) : replaced(before)
    if (!found) return before
    const breaks = isText && parseText(before).ok && !parseText(after).ok
    return take({ key, of, beat, before, after, breaks }) ? after : before
  }
  if (query.scene === undefined) {
    const named = (list: 'cast' | 'endings', of: string) =>
      story[list]?.forEach((item, at) => {
        const name = look(`${list} ${item.id}`, of, undefined, item.name, false)
        if (name !== item.name) changes.push({ op: 'replace', in: { list }, id: item.id, at, item: { ...item, name } })
      })
    named('cast', 'name in the cast')
    named('endings', 'name of an ending')
    story.quests?.forEach((quest, at) => {
      const next = {
        ...quest,
        name: look(`quests ${quest.id}`, 'name of a quest', undefined, quest.name, false),
        stages: quest.stages.map((stage) =>
          patch(stage, {
            name: look(`quests ${quest.id} ${stage.id}`, 'name of a stage', undefined, stage.name, false),
          }),
        ),
      }
      if (JSON.stringify(next) !== JSON.stringify(quest))
        changes.push({ op: 'replace', in: { list: 'quests' }, id: quest.id, at, item: next })
    })
  }
  for (const scene of story.scenes) {
    if (query.scene !== undefined && scene.id !== query.scene) continue
    const title = look(`scenes ${scene.id}`, 'title of a scene', undefined, scene.title, false)
    if (title !== scene.title) changes.push({ op: 'set-scene', scene: scene.id, values: { title } })
    scene.beats.forEach((beat, at) => {
      const item = inBeat(beat, (number, text) =>
        look(`${scene.id}.${beat.id} ${number}`, 'text', `${scene.id}.${beat.id}`, text, true),
      )
      if (item !== beat) changes.push({ op: 'replace', in: { list: 'beats', scene: scene.id }, id: beat.id, at, item })
    })
  }
  return changes
}

/** A beat's texts one after another, and its note. */
function inBeat(beat: Beat, map: (number: number, text: string) => string): Beat {
  let number = 0
  const next = new Rewriter({ text: (text) => map((number += 1), text) }).beat(beat)
  return next.notes === undefined ? next : patch(next, { notes: map((number += 1), next.notes) })
}

function patternOf({ find, matchCase, wholeWord }: TextQuery): RegExp | undefined {
  if (find === '') return undefined
  const literal = find.replace(/[\\^$.*+?()[\]{}|]/g, '\\$&')
  return new RegExp(wholeWord ? `(?<![\\p{L}\\p{N}_])${literal}(?![\\p{L}\\p{N}_])` : literal, matchCase ? 'gu' : 'giu')
}
