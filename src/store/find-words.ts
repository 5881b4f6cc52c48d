import { plainId } from '../core/base/ids'
import type { Hit } from '../core/contract/answers'
import type { Slices } from '../core/base/slices'
import { plainLinesIn, type Story } from '../core/story/types'

/** Texts of one item as they are searched, kept as long as the item is. */
const folded = new WeakMap<object, Map<string, string>>()

/** Beats that are searched before others get their turn. */
const BEATS_AT_ONCE = 500

/** Everything in a story that has all the words, each as the beginning of a word; in the story's order, at most `limit`. */
export function* findWords(story: Story, text: string, limit: number): Slices<Hit[]> {
  const words = fold(text).match(/[\p{L}\p{N}\p{M}]+/gu)
  if (words === null) return []
  const hits: Hit[] = []
  let looked = 0
  const look = (kind: Hit['kind'], address: string, item: object, said: string, who: string | null, more = '') => {
    if (hits.length >= limit) return
    const { notes } = item as { notes?: string }
    let texts = folded.get(item)
    if (texts === undefined) folded.set(item, (texts = new Map()))
    const all = `${said}\n${more}\n${notes ?? ''}`
    let searched = texts.get(all)
    if (searched === undefined) {
      texts.clear()
      texts.set(all, (searched = fold(all)))
    }
    if (words.every((word) => beginsWord(searched, word)))
      hits.push({ kind, address, text: said, notes: notes ?? null, who })
  }
  for (const person of story.cast ?? []) look('person', person.id, person, person.name, null)
  for (const entry of [...(story.ledger ?? []), ...story.scenes.flatMap(({ ledger }) => ledger ?? [])])
    look('entry', entry.id, entry, entry.name ?? plainId(entry.id), null, `${plainId(entry.id)}\n${entry.group ?? ''}`)
  for (const quest of story.quests ?? []) look('quest', quest.id, quest, quest.name, null)
  for (const quest of story.quests ?? [])
    for (const stage of quest.stages) look('stage', `${quest.id}.${stage.id}`, stage, stage.name, null, stage.journal)
  for (const ending of story.endings ?? []) look('ending', ending.id, ending, ending.name, null)
  for (const scene of story.scenes) {
    look('scene', scene.id, scene, scene.title, null)
    for (const beat of scene.beats) {
      if (hits.length >= limit) return hits
      if ((looked += 1) % BEATS_AT_ONCE === 0) yield
      const address = `${scene.id}.${beat.id}`
      look('beat', address, beat, beat.title ?? plainId(beat.id), null, plainId(beat.id))
      for (const [at, one] of (beat.lines ?? []).entries())
        for (const { line, suffix } of plainLinesIn(one))
          look('line', `${address}#line${at + 1}${suffix}`, line, line.text, line.speaker ?? null)
      for (const choice of beat.choices ?? [])
        look('choice', `${address}.${choice.id}`, choice, choice.text, choice.who ?? null)
      if (beat.ask) look('question', address, beat.ask, beat.ask.prompt, null)
    }
  }
  return hits
}

function fold(text: string): string {
  return text.normalize('NFC').toLowerCase()
}

const PART_OF_WORD = /[\p{L}\p{N}\p{M}]$/u

function beginsWord(text: string, word: string): boolean {
  for (let at = text.indexOf(word); at !== -1; at = text.indexOf(word, at + 1))
    if (at === 0 || !PART_OF_WORD.test(text.slice(Math.max(0, at - 2), at))) return true
  return false
}
