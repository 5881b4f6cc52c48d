import type { Beat, Story } from '../types'
import { changed, compareBeats, type Note } from './compare-beats'

/** What is different about one thing of the story. */
export interface ThingNotes {
  readonly kind: string
  readonly id: string
  readonly notes: readonly Note[]
}

interface Item {
  readonly id: string
}

/** What two versions of a story have different, thing by thing, in plain words. */
export function compareStories(before: Story, after: Story): ThingNotes[] {
  const found: ThingNotes[] = []
  const add = (kind: string, id: string, notes: readonly Note[]) => {
    if (notes.length > 0) found.push({ kind, id, notes })
  }
  add('story', '', [
    ...changed('title', before.title, after.title),
    ...changed('language', before.language, after.language),
    ...changed('first beat', before.start, after.start),
    ...changed('note', before.notes, after.notes),
    ...changed('most signs of a text', before.textLimit?.toString(), after.textLimit?.toString()),
  ])
  lists(before.cast, after.cast, 'person', add, keyNotes)
  lists(before.ledger, after.ledger, 'entry', add, keyNotes)
  lists(before.quests, after.quests, 'quest', add, keyNotes)
  lists(before.endings, after.endings, 'ending', add, keyNotes)
  lists(before.scenes, after.scenes, 'scene', add, (was, is) => [
    ...changed('title', was.title, is.title),
    ...changed('note', was.notes, is.notes),
    ...(was.ledger === is.ledger ? [] : changed('own entries', JSON.stringify(was.ledger), JSON.stringify(is.ledger))),
  ])
  const beats = (story: Story) =>
    story.scenes.flatMap((scene) => scene.beats.map((beat) => ({ id: `${scene.id}.${beat.id}`, beat })))
  lists(beats(before), beats(after), 'beat', add, ({ beat: was }: { beat: Beat }, { beat: is }: { beat: Beat }) =>
    was === is ? [] : compareBeats(was, is),
  )
  lists(before.promises, after.promises, 'promise', add, keyNotes)
  lists(before.routes, after.routes, 'route', add, keyNotes)
  lists(before.setAside, after.setAside, 'finding set aside', add, keyNotes)
  lists(before.terms, after.terms, 'term', add, keyNotes)
  lists(before.recordings, after.recordings, 'recording', add, keyNotes)
  return found
}

function lists<T extends Item>(
  before: readonly T[] | undefined,
  after: readonly T[] | undefined,
  kind: string,
  add: (kind: string, id: string, notes: readonly Note[]) => void,
  compare: (before: T, after: T) => readonly Note[],
): void {
  const was = new Map((before ?? []).map((item) => [item.id, item]))
  const is = new Map((after ?? []).map((item) => [item.id, item]))
  for (const id of was.keys()) if (!is.has(id)) add(kind, id, [{ text: 'deleted' }])
  for (const [id, item] of is) {
    const old = was.get(id)
    if (old === undefined) add(kind, id, [{ text: 'added' }])
    else if (old !== item) add(kind, id, compare(old, item))
  }
}

/** Key by key, for what has few of them. */
function keyNotes(before: Item, after: Item): Note[] {
  const was = before as unknown as Record<string, unknown>
  const is = after as unknown as Record<string, unknown>
  const say = (value: unknown) =>
    value === undefined ? undefined : typeof value === 'string' ? value : JSON.stringify(value)
  return [...new Set([...Object.keys(was), ...Object.keys(is)])].flatMap((key) =>
    changed(key, say(was[key]), say(is[key])),
  )
}
