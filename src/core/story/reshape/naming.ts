import { freshId, idFrom } from '../../base/ids'
import type { Change, ListPath } from '../changes/types'
import { mentionsOf, rename, type Named } from '../rename/rename'
import type { Beat, Cue, Ending, Entry, Person, Quest, Story } from '../types'

/**
 * One name for one thing: people read the name, and the id follows it for as long as nothing outside of the thing names
 * it. Afterwards the id is changed on asking alone.
 */
function followingId(story: Story, named: Named, name: string, isTaken: (id: string) => boolean): string {
  if (mentionsOf(story, named) > 0) return named.id
  const wanted = idFrom(name, named.of)
  return wanted === named.id ? wanted : freshId(wanted, (id) => id !== named.id && isTaken(id))
}

/** Gives a beat a title; its id follows where it may. */
export function titleBeat(
  story: Story,
  scene: string,
  beat: Beat,
  text: string,
): { readonly change: Change; readonly id: string } {
  const beats = story.scenes.find(({ id }) => id === scene)?.beats ?? []
  const title = text.trim()
  const isStart = story.start === `${scene}.${beat.id}`
  const named: Named = { of: 'beat', scene, id: beat.id }
  const id =
    title === '' || (isStart && mentionsOf(story, named) > 1)
      ? beat.id
      : followingId(story, named, title, (one) => beats.some((other) => other.id === one))
  const at = beats.findIndex((one) => one.id === beat.id)
  const renamed = id === beat.id ? undefined : rename(story, named, id)
  const item: Beat = { ...beat, id: renamed?.ok === true ? id : beat.id }
  if (title === '' || title === plain(item.id)) delete item.title
  else item.title = title
  const replaced: Change = { op: 'replace', in: { list: 'beats', scene }, id: item.id, at, item }
  return {
    id: item.id,
    change: renamed?.ok === true ? { op: 'batch', changes: [renamed.value.change, replaced] } : replaced,
  }
}

type NamedItem = Entry | Person | Ending | Quest | Cue

/** An item of one of the story's lists with another name; its id follows where it may. */
export function nameItem(
  story: Story,
  path: ListPath,
  of: 'entry' | 'person' | 'ending' | 'quest' | 'cue',
  item: NamedItem,
  at: number,
  text: string,
  isTaken: (id: string) => boolean,
): Change {
  const name = text.trim()
  const id = followingId(story, { of, id: item.id }, of === 'person' ? name.split(/\s+/)[0]! : name, isTaken)
  const next = { ...item, id, name }
  // an entry needs a name only where its id does not say it
  if (of === 'entry' && name === plain(id)) delete (next as Partial<Entry>).name
  return { op: 'replace', in: path, id: item.id, at, item: next }
}

function plain(id: string): string {
  return id.replaceAll('_', ' ')
}
