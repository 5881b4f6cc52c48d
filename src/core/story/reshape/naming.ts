import { freshId, plainId } from '../../base/ids'
import { idFrom } from '../../base/id-from'
import { applyChange } from '../changes/apply'
import type { Change, ListPath } from '../changes/types'
import { mentionsOf, rename, type Named } from '../rename/rename'
import type { Beat, Cue, Ending, Entry, Person, Quest, Scene, Stage, Story } from '../types'

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
  if (title === '' || title === plainId(item.id)) delete item.title
  else item.title = title
  const replaced: Change = { op: 'replace', in: { list: 'beats', scene }, id: item.id, at, item }
  return {
    id: item.id,
    change: renamed?.ok === true ? { op: 'batch', changes: [renamed.value.change, replaced] } : replaced,
  }
}

/** Gives a scene a title; its id follows as long as only what lies in it, and where the story begins, names it. */
export function titleScene(
  story: Story,
  scene: Scene,
  title: string,
): { readonly change: Change; readonly id: string } {
  const named: Named = { of: 'scene', id: scene.id }
  const others = story.scenes.filter(({ id }) => id !== scene.id)
  const outside = { ...story, scenes: others, start: '' }
  const id =
    title.trim() === ''
      ? scene.id
      : followingId(outside, named, title, (one) => others.some((other) => other.id === one))
  const renamed = id === scene.id ? undefined : rename(story, named, id)
  const isRenamed = renamed?.ok === true
  const titled: Change = { op: 'set-scene', scene: isRenamed ? id : scene.id, values: { title } }
  return isRenamed
    ? { id, change: { op: 'batch', changes: [renamed.value.change, titled] } }
    : { id: scene.id, change: titled }
}

/** Gives a stage of a quest another name; its id follows where it may. */
export function nameStage(
  story: Story,
  quest: Quest,
  stage: Stage,
  text: string,
): { readonly change: Change; readonly id: string } {
  const name = text.trim()
  const named: Named = { of: 'stage', quest: quest.id, id: stage.id }
  const id = followingId(story, named, name, (one) => quest.stages.some((other) => other.id === one))
  const renamed = id === stage.id ? undefined : rename(story, named, id)
  const applied = renamed?.ok === true ? applyChange(story, renamed.value.change) : undefined
  const isRenamed = renamed?.ok === true && applied?.ok === true
  const quests = (isRenamed ? applied.value.story : story).quests ?? []
  const at = quests.findIndex((one) => one.id === quest.id)
  const now = isRenamed ? id : stage.id
  const stages = (quests[at] ?? quest).stages.map((one) => (one.id === now ? { ...one, name } : one))
  const replaced: Change = {
    op: 'replace',
    in: { list: 'quests' },
    id: quest.id,
    at,
    item: { ...(quests[at] ?? quest), stages },
  }
  return {
    id: now,
    change: isRenamed ? { op: 'batch', changes: [renamed.value.change, replaced] } : replaced,
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
  if (of === 'entry' && name === plainId(id)) delete (next as Partial<Entry>).name
  return { op: 'replace', in: path, id: item.id, at, item: next }
}
