import { plainId } from '../core/base/ids'
import { parseAddress, parseStage } from '../core/base/address'
import type { Names } from '../core/expression/words'
import type { Named } from '../core/story/rename/rename'
import { beatName, choiceAt } from '../core/story/beat-at'
import type { Story } from '../core/story/types'

export { beatName }

/** What an entry is called: by its name, or its id where it has none. */
export function entryName(story: Story, id: string): string {
  const entry =
    story.ledger?.find((one) => one.id === id) ??
    story.scenes.flatMap(({ ledger }) => ledger ?? []).find((one) => one.id === id)
  return entry?.name ?? plainId(id)
}

/** What things are called on the page. */
export function storyNames(story: Story): Names {
  return {
    entry: (id) => entryName(story, id),
    quest: (id) => story.quests?.find((quest) => quest.id === id)?.name ?? plainId(id),
    stage: (quest, stage) =>
      story.quests?.find((one) => one.id === quest)?.stages.find((one) => one.id === stage)?.name ??
      (stage === 'unstarted' ? 'not started' : plainId(stage)),
    beat: (address) => beatName(story, address),
    choice: (address) => {
      const found = choiceAt(story, address)
      return found === undefined ? plainId(parseAddress(address)?.choice ?? address) : `“${found.text}”`
    },
    ending: (id) => `“${story.endings?.find((one) => one.id === id)?.name ?? plainId(id)}”`,
  }
}

/** "quay.morning#onward2" as it is read: "quay · morning, onward 2". */
export function sayAddress(address: string, story?: Story): string {
  const parsed = parseAddress(address)
  // what the story declares has names of one part, or of two: a quest and a stage
  if (parsed === undefined) return address.split('.').map(plainId).join(' · ')
  const { scene, beat, choice, steps } = parsed
  const title = story?.scenes.find(({ id }) => id === scene)?.title
  const owner = [
    title === undefined || title.trim() === '' ? plainId(scene) : title,
    story === undefined ? plainId(beat) : beatName(story, `${scene}.${beat}`),
    ...(choice === undefined
      ? []
      : [story === undefined ? plainId(choice) : storyNames(story).choice(`${scene}.${beat}.${choice}`)]),
  ].join(' · ')
  return [owner, ...steps.map(({ of, number }) => `${of === 'rule' ? 'road' : of} ${number}`)].join(', ')
}

/** A value as it is read: yes and no for flags, "empty" for no word. */
export function sayValue(value: unknown): string {
  return value === true ? 'yes' : value === false ? 'no' : value === '' ? 'empty' : plainId(String(value))
}

/** What an ending or a stage (`quest.stage`) is called. */
export function itemName(story: Story, what: 'endings' | 'stages', id: string): string {
  if (what === 'endings') return story.endings?.find((ending) => ending.id === id)?.name ?? id
  const { quest: questId, stage: stageId } = parseStage(id) ?? { quest: id, stage: id }
  const quest = story.quests?.find((one) => one.id === questId)
  return `${quest?.name ?? questId}: ${quest?.stages.find((stage) => stage.id === stageId)?.name ?? stageId}`
}

/** What anything that has a name is called. */
export function thingName(story: Story, named: Named): string {
  switch (named.of) {
    case 'scene':
      return story.scenes.find(({ id }) => id === named.id)?.title ?? named.id
    case 'person':
      return story.cast?.find(({ id }) => id === named.id)?.name ?? named.id
    case 'quest':
      return story.quests?.find(({ id }) => id === named.id)?.name ?? named.id
    case 'cue':
      return story.cues?.find(({ id }) => id === named.id)?.name ?? named.id
    case 'ending':
      return itemName(story, 'endings', named.id)
    case 'stage':
      return itemName(story, 'stages', `${named.quest}.${named.id}`)
    case 'beat':
    case 'choice':
    case 'entry':
    case 'position':
      return plainId(named.id)
  }
}
